import {
  byId,
  contains,
  formatAddress,
  formatPrefix,
  halves,
  lastAddress,
  parent,
  parsePrefix,
  prefixAround,
} from '@wide-lattice/core';
import type { Prefix } from '@wide-lattice/core';
import { ZoomIn, ZoomOut } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { KeyboardEvent } from 'react';
import { useNavigate } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import type { RibbonBlock } from '../worker/slices/ribbon';

interface RibbonProps {
  /** The widest the ribbon shows. */
  readonly root: string;
  readonly view: string;
  readonly onView: (view: string) => void;
}

const asPrefix = (text: string): Prefix | undefined => {
  const parsed = parsePrefix(text);
  return parsed.ok ? parsed.value : undefined;
};

/** Address space to scale: pools above, ranges of others, ranges of clusters, free space hatched. Zoom by wheel, click and keys. */
export function Ribbon({ root, view, onView }: RibbonProps) {
  const drawn = useSlice(['ribbon', view], (core) => core.ribbon(view));
  const { session, plan } = usePlan();
  const navigate = useNavigate();
  const [told, setTold] = useState<RibbonBlock>();
  const frame = useRef<HTMLDivElement>(null);
  const zoomOut = () => {
    const wider = parent(asPrefix(view) as Prefix);
    const whole = asPrefix(root);
    if (wider !== undefined && whole !== undefined && contains(whole, wider)) onView(formatPrefix(wider));
  };
  const zoomAt = (share: number) => {
    const pair = halves(asPrefix(view) as Prefix);
    if (pair !== undefined) onView(formatPrefix(share < 0.5 ? pair[0] : pair[1]));
  };
  const zoom = useRef({ zoomAt, zoomOut });
  useEffect(() => {
    zoom.current = { zoomAt, zoomOut };
  });
  useEffect(() => {
    const element = frame.current;
    if (element === null) return;
    let last = 0;
    // React listens to wheel passively, and the page must not scroll while the ribbon zooms.
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
  }, []);
  const open = (block: RibbonBlock) => {
    if (block.clusterId !== undefined && block.width > 0.2)
      void navigate(`/plans/${session.planId}/clusters/${block.clusterId}`);
    else if (block.what === 'several' || block.width < 0.5) onView(zoomTo(view, block));
    else if (block.clusterId !== undefined) void navigate(`/plans/${session.planId}/clusters/${block.clusterId}`);
  };
  const onKey = (event: KeyboardEvent<HTMLDivElement>) => {
    const buttons = [...(frame.current?.querySelectorAll<HTMLButtonElement>('button[data-block]') ?? [])];
    const at = buttons.indexOf(document.activeElement as HTMLButtonElement);
    if (event.key === 'ArrowRight') buttons[Math.min(buttons.length - 1, at + 1)]?.focus();
    else if (event.key === 'ArrowLeft') buttons[Math.max(0, at - 1)]?.focus();
    else if (event.key === '-' || event.key === 'Backspace') zoomOut();
    else if (event.key === '+' && at >= 0) onView(zoomTo(view, blockOf(buttons[at])));
    else if (event.key === '1') zoomAt(0);
    else if (event.key === '2') zoomAt(1);
    else return;
    event.preventDefault();
  };
  const blockOf = (button: HTMLButtonElement | undefined) => ({
    prefix: button?.dataset['prefix'] ?? view,
    what: 'free' as const,
  });
  const [first, last] = ends(view);
  const lanes: { name: string; blocks: readonly RibbonBlock[] }[] = [
    { name: 'Pools', blocks: drawn?.pools ?? [] },
    { name: 'In use', blocks: drawn?.elsewhere ?? [] },
    { name: 'Clusters', blocks: [...(drawn?.free ?? []), ...(drawn?.clusters ?? [])] },
  ];
  const clusterName = told?.clusterId === undefined ? undefined : byId(plan.clusters, told.clusterId)?.name;
  return (
    <section aria-label="Ribbon" className="rule-b px-4 py-2">
      <div className="mb-1 flex items-center gap-2">
        <span className="heading">Ribbon</span>
        <span className="font-mono">{view}</span>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          onClick={zoomOut}
          disabled={view === root}
          aria-label="Zoom out"
          title="Zoom out (wheel, or - key)"
        >
          <ZoomOut size={14} aria-hidden />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          onClick={() => zoomAt(0)}
          aria-label="Zoom in to the lower half"
          title="Zoom in to the lower half (wheel, or 1 and 2 keys)"
        >
          <ZoomIn size={14} aria-hidden />
        </button>
        <span className="quiet truncate" aria-live="polite">
          {told === undefined
            ? 'Point at a block to read it; click to zoom in or open it.'
            : [told.prefix, clusterName ?? told.label, told.detail, told.verdict === 'clear' ? '' : told.verdict]
                .filter((part) => part !== '')
                .join(', ')}
        </span>
      </div>
      <div ref={frame} role="group" aria-label={`Address space ${view}`} onKeyDown={onKey}>
        {lanes.map(({ name, blocks }) => (
          <div key={name} className="flex items-stretch">
            <span className="quiet w-16 shrink-0 self-center text-xs">{name}</span>
            <div className={`border-base-300 relative mb-1 flex-1 border ${name === 'Clusters' ? 'h-9' : 'h-6'}`}>
              {blocks.map((block) => (
                <Block key={block.key} block={block} onOpen={() => open(block)} onTell={setTold} />
              ))}
            </div>
          </div>
        ))}
        <div className="quiet ml-16 flex justify-between font-mono text-xs">
          <span>{first}</span>
          <span>{last}</span>
        </div>
      </div>
    </section>
  );
}

interface BlockProps {
  readonly block: RibbonBlock;
  readonly onOpen: () => void;
  readonly onTell: (block: RibbonBlock | undefined) => void;
}

const letters: Readonly<Record<RibbonBlock['what'], string>> = {
  node: 'N',
  pod: 'P',
  service: 'S',
  elsewhere: 'E',
  pool: '',
  free: '',
  several: '',
};

function Block({ block, onOpen, onTell }: BlockProps) {
  const { what, verdict } = block;
  const isPurpose = what === 'node' || what === 'pod' || what === 'service' || what === 'elsewhere';
  const look =
    what === 'free'
      ? 'free-hatch'
      : what === 'pool'
        ? 'bg-base-200 text-base-content'
        : what === 'several'
          ? 'bg-base-300 text-base-content'
          : '';
  return (
    <button
      type="button"
      data-block
      data-prefix={block.prefix}
      tabIndex={what === 'free' ? -1 : 0}
      className={`border-base-100 absolute inset-y-0 overflow-hidden border-x px-0.5 text-left text-xs leading-none whitespace-nowrap ${look}`}
      style={{
        left: `${block.start * 100}%`,
        width: `${block.width * 100}%`,
        ...(isPurpose ? { background: `var(--purpose-${what})`, color: 'var(--purpose-text)' } : {}),
      }}
      aria-label={`${block.prefix} ${block.label} ${block.detail} ${verdict === 'clear' ? '' : verdict}`.trim()}
      onClick={onOpen}
      onMouseEnter={() => onTell(block)}
      onFocus={() => onTell(block)}
    >
      {block.width > 0.02 && (
        <span className="pointer-events-none block truncate">
          {letters[what] !== '' && <b>{letters[what]} </b>}
          {what === 'free' ? '' : block.label}
        </span>
      )}
      {verdict !== 'clear' && (
        <span className="conflict-hatch pointer-events-none absolute inset-x-0 bottom-0 h-2.5" aria-hidden />
      )}
    </button>
  );
}

function ends(view: string): [string, string] {
  const value = asPrefix(view);
  if (value === undefined) return ['', ''];
  return [formatAddress({ family: value.family, value: value.base }), formatAddress(lastAddress(value))];
}

/** The view a click on a block leads to: the block's own surroundings, never closer than the block itself. */
function zoomTo(view: string, block: Pick<RibbonBlock, 'prefix' | 'what'>): string {
  const target = asPrefix(block.prefix);
  const now = asPrefix(view);
  if (target === undefined || now === undefined) return view;
  // Two bits wider than the block, so that its neighbours stay in sight; at least one bit closer than now.
  const length = Math.max(now.length + 1, target.length - 2);
  return formatPrefix(prefixAround(target.family, target.base, Math.min(length, target.length)));
}
