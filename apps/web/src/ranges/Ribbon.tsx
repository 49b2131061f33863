import {
  addressBits,
  contains,
  formatAddress,
  formatPrefix,
  halves,
  lastAddress,
  parent,
  parsePrefix,
  prefixAround,
} from '@wide-lattice/core/address';
import { byId, setOperation } from '@wide-lattice/core/plan';
import type { Prefix } from '@wide-lattice/core/address';
import type { Operation } from '@wide-lattice/core/plan';
import { Search, ZoomIn, ZoomOut } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { KeyboardEvent, PointerEvent } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { core } from '../worker/coreClient';
import type { RibbonBlock } from '../worker/slices/ribbon';
import { ResizeDraft } from './ResizeDraft';
import { resized, resizeOfDrag } from './resize';
import type { Resize } from './resize';
import { BlockWords, blockShape, RibbonLane } from './RibbonLane';
import { IconButton } from '../shared/IconButton';

interface RibbonProps {
  readonly view: string;
  readonly onView: (view: string) => void;
}

const asPrefix = (text: string): Prefix | undefined => {
  const parsed = parsePrefix(text);
  return parsed.ok ? parsed.value : undefined;
};

const DRAG_PIXELS = 14;

/**
 * Address space to scale, from what holds to what is held; free space hatched, room to grow lighter. Zoom by wheel, click,
 * keys and search. The edge of a range is dragged to grow or shrink it by one bit; Shift with the arrows does the same.
 */
export function Ribbon({ view, onView }: RibbonProps) {
  const { session, plan } = usePlan();
  const navigate = useNavigate();
  const [told, setTold] = useState<RibbonBlock>();
  const [draft, setDraft] = useState<{ id: string; prefix: string }>();
  const operations = useMemo(
    (): readonly Operation[] =>
      draft === undefined ? [] : [setOperation('allocations', draft.id, { prefix: draft.prefix })],
    [draft],
  );
  const drawn = useSlice('ribbon', view, operations);
  const frame = useRef<HTMLDivElement>(null);
  const zoomOut = () => {
    const wider = parent(asPrefix(view) as Prefix);
    if (wider !== undefined) onView(formatPrefix(wider));
  };
  const zoomAt = (share: number) => {
    const pair = halves(asPrefix(view) as Prefix);
    if (pair !== undefined) onView(formatPrefix(share < 0.5 ? pair[0] : pair[1]));
  };
  useWheelZoom(frame, zoomAt, zoomOut);
  const open = (block: RibbonBlock) => {
    if (block.clusterId !== undefined && block.width > 0.2)
      void navigate(`/plans/${session.planId}/clusters/${block.clusterId}`);
    else if (block.what === 'several' || block.width < 0.5) onView(zoomTo(view, block.prefix));
    else if (block.clusterId !== undefined) void navigate(`/plans/${session.planId}/clusters/${block.clusterId}`);
  };
  const resize = (id: string, how: Resize) => {
    const now = draft?.id === id ? draft.prefix : byId(plan.allocations, id)?.prefix;
    const next = now === undefined ? undefined : resized(now, how);
    if (next === undefined) return;
    setDraft(next === byId(plan.allocations, id)?.prefix ? undefined : { id, prefix: next });
  };
  const onKey = (event: KeyboardEvent<HTMLDivElement>) => {
    const buttons = [...(frame.current?.querySelectorAll<HTMLButtonElement>('button[data-block]') ?? [])];
    const focused = document.activeElement as HTMLButtonElement;
    const at = buttons.indexOf(focused);
    const range = focused.dataset['range'];
    if (event.shiftKey && range !== undefined && event.key === 'ArrowRight') resize(range, 'grow');
    else if (event.shiftKey && range !== undefined && event.key === 'ArrowLeft') resize(range, 'keepLower');
    else if (event.key === 'Escape' && draft !== undefined) setDraft(undefined);
    else if (event.key === 'ArrowRight') buttons[Math.min(buttons.length - 1, at + 1)]?.focus();
    else if (event.key === 'ArrowLeft') buttons[Math.max(0, at - 1)]?.focus();
    else if (event.key === '-' || event.key === 'Backspace') zoomOut();
    else if (event.key === '+' && at >= 0) onView(zoomTo(view, focused.dataset['prefix'] ?? view));
    else if (event.key === '1') zoomAt(0);
    else if (event.key === '2') zoomAt(1);
    else return;
    event.preventDefault();
  };
  const [first, last] = ends(view);
  const clusterName = told?.clusterId === undefined ? undefined : byId(plan.clusters, told.clusterId)?.name;
  return (
    <section aria-label="Ribbon" className="rule-b px-4 py-2">
      <div className="mb-1 flex items-center gap-2">
        <span className="heading">Ribbon</span>
        <span className="font-mono">{view}</span>
        <IconButton label="Zoom out" title="Zoom out (wheel, or - key)" onClick={zoomOut}>
          <ZoomOut size={14} aria-hidden />
        </IconButton>
        <IconButton
          label="Zoom in to the lower half"
          title="Zoom in to the lower half (wheel, or 1 and 2 keys)"
          onClick={() => zoomAt(0)}
        >
          <ZoomIn size={14} aria-hidden />
        </IconButton>
        <GoTo view={view} onView={onView} />
        <span className="quiet min-w-0 flex-1 truncate" aria-live="polite">
          {told === undefined
            ? 'Point at a block to read it; click to zoom in or open it; drag an edge, or Shift and arrows, to resize.'
            : [told.prefix, clusterName ?? told.label, told.detail, told.verdict === 'clear' ? '' : told.verdict]
                .filter((part) => part !== '')
                .join(', ')}
        </span>
      </div>
      <div ref={frame} role="group" aria-label={`Address space ${view}`} onKeyDown={onKey}>
        {drawn?.lanes.map((lane) => (
          <RibbonLane key={lane.name} lane={lane}>
            {lane.blocks.map((block) => (
              <Block
                key={block.key}
                block={block}
                isDraft={draft?.id === block.key}
                onOpen={() => open(block)}
                onTell={setTold}
                onResize={(how) => resize(block.key, how)}
              />
            ))}
          </RibbonLane>
        ))}
        <div className="quiet ml-16 flex justify-between font-mono text-xs">
          <span>{first}</span>
          <span>{last}</span>
        </div>
      </div>
      {draft !== undefined && (
        <ResizeDraft key={draft.prefix} draft={draft} operations={operations} onDone={() => setDraft(undefined)} />
      )}
    </section>
  );
}

/** React listens to wheel passively, and the page must not scroll while the ribbon zooms. */
function useWheelZoom(
  frame: React.RefObject<HTMLDivElement | null>,
  zoomAt: (share: number) => void,
  zoomOut: () => void,
): void {
  const zoom = useRef({ zoomAt, zoomOut });
  useEffect(() => {
    zoom.current = { zoomAt, zoomOut };
  });
  useEffect(() => {
    const element = frame.current;
    if (element === null) return;
    let last = 0;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      if (event.timeStamp - last < 120) return;
      last = event.timeStamp;
      const box = element.getBoundingClientRect();
      if (event.deltaY < 0) zoom.current.zoomAt((event.clientX - box.left) / box.width);
      else zoom.current.zoomOut();
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [frame]);
}

/** Goes to an address, a prefix or whatever carries a name. */
function GoTo({ view, onView }: RibbonProps) {
  const [text, setText] = useState('');
  const go = async () => {
    const place = await core.ask('placeOf', text);
    const target = place === undefined ? undefined : asPrefix(place);
    if (target === undefined) {
      toast.error(`Nothing with addresses is called "${text}".`);
      return;
    }
    const now = asPrefix(view);
    const isAddress = target.length === addressBits(target.family);
    const length = isAddress ? Math.max(0, target.length - 8) : Math.max(0, target.length - 2);
    const around = prefixAround(target, length);
    if (now === undefined || formatPrefix(now) !== formatPrefix(around)) onView(formatPrefix(around));
    setText('');
  };
  return (
    <form
      role="search"
      aria-label="Search the ribbon"
      className="flex items-center"
      onSubmit={(event) => {
        event.preventDefault();
        void go();
      }}
    >
      <label className="input input-xs w-44">
        <Search size={12} aria-hidden />
        <input
          aria-label="Go to an address, prefix or name"
          placeholder="go to address or name"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
    </form>
  );
}

interface BlockProps {
  readonly block: RibbonBlock;
  readonly isDraft: boolean;
  readonly onOpen: () => void;
  readonly onTell: (block: RibbonBlock | undefined) => void;
  readonly onResize: (how: Resize) => void;
}

function Block({ block, isDraft, onOpen, onTell, onResize }: BlockProps) {
  const { className, style, ...words } = blockShape(block);
  const isPassive = block.what === 'free' || block.what === 'room';
  return (
    <>
      <button
        type="button"
        data-block
        data-prefix={block.prefix}
        data-range={block.canResize ? block.key : undefined}
        tabIndex={isPassive ? -1 : 0}
        className={`${className} ${isDraft ? 'outline-accent z-10 outline-2 -outline-offset-2 outline-dashed' : ''}`}
        style={style}
        {...words}
        onClick={onOpen}
        onMouseEnter={() => onTell(block)}
        onFocus={() => onTell(block)}
      >
        <BlockWords block={block} />
      </button>
      {block.canResize && block.width > 0.01 && (
        <>
          <Edge side="left" at={block.start} block={block} onResize={onResize} />
          <Edge side="right" at={block.start + block.width} block={block} onResize={onResize} />
        </>
      )}
    </>
  );
}

interface EdgeProps {
  readonly side: 'left' | 'right';
  readonly at: number;
  readonly block: RibbonBlock;
  readonly onResize: (how: Resize) => void;
}

/** A grip on the edge of a range: each drag past a few pixels is one bit. */
function Edge({ side, at, block, onResize }: EdgeProps) {
  const from = useRef<number>(undefined);
  const move = (event: PointerEvent) => {
    if (from.current === undefined) return;
    const how = resizeOfDrag(side, event.clientX - from.current, DRAG_PIXELS);
    if (how === undefined) return;
    from.current = undefined;
    onResize(how);
  };
  return (
    <span
      aria-hidden
      data-edge={`${side} ${block.prefix}`}
      className="hover:bg-base-content/60 absolute inset-y-0 z-20 w-1.5 cursor-ew-resize touch-none"
      style={{ left: `calc(${at * 100}% - ${side === 'left' ? '0px' : '6px'})` }}
      onPointerDown={(event) => {
        from.current = event.clientX;
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={move}
      onPointerUp={() => {
        from.current = undefined;
      }}
    />
  );
}

function ends(view: string): [string, string] {
  const value = asPrefix(view);
  if (value === undefined) return ['', ''];
  return [formatAddress(value), formatAddress(lastAddress(value))];
}

/** The view a click on a block leads to: the block's own surroundings, never closer than the block itself. */
function zoomTo(view: string, prefix: string): string {
  const target = asPrefix(prefix);
  const now = asPrefix(view);
  if (target === undefined || now === undefined || !contains(now, target)) return view;
  // Two bits wider than the block, so that its neighbours stay in sight; at least one bit closer than now.
  const length = Math.max(now.length + 1, target.length - 2);
  return formatPrefix(prefixAround(target, Math.min(length, target.length)));
}
