import { follow, holdTogether, nodesServed, perNodePrefix, podSizeBounds } from '@wide-lattice/core/sizing';
import type { PodSizes, PodSizesContext } from '@wide-lattice/core/sizing';
import { formatNumber } from '@wide-lattice/core/working';
import { Pin, PinOff } from 'lucide-react';
import { useId, useState } from 'react';
import { Part } from '../shared/Halves';
import { toggled } from '../shared/toggled';

type Field = keyof PodSizes;
const fields: readonly { readonly field: Field; readonly label: string; readonly isLength: boolean }[] = [
  { field: 'nodes', label: 'Nodes', isLength: false },
  { field: 'podsPerNode', label: 'Pods per node', isLength: false },
  { field: 'perNodeLength', label: 'Per-node prefix', isLength: true },
  { field: 'podRangeLength', label: 'Pod range', isLength: true },
];

interface TwoWayProps {
  /** The sizes as they are decided or follow now. */
  readonly start: PodSizes;
  readonly context: PodSizesContext;
  /** Takes nodes, pods per node and per-node prefix as decisions of the cluster. */
  readonly onTake: (sizes: PodSizes) => void;
}

/** Four linked figures: move one, the others follow, and what is pinned stays. */
export function TwoWay({ start, context, onTake }: TwoWayProps) {
  const [sizes, setSizes] = useState(start);
  const [pinned, setPinned] = useState<ReadonlySet<Field>>(new Set());
  const [refused, setRefused] = useState<{ field: Field; words: string }>();
  const [typed, setTyped] = useState<{ field: Field; text: string }>();
  const move = (field: Field, text: string) => {
    const value = Number(text.replaceAll(/[/,\s]/g, ''));
    const followed = follow({ ...sizes, [field]: text.trim() === '' ? Number.NaN : value }, field, pinned, context);
    if (followed.ok) {
      setSizes(followed.sizes);
      setRefused(undefined);
      setTyped(undefined);
      return;
    }
    setTyped({ field, text });
    setRefused({ field, words: `Cannot be computed because ${followed.reason}. ${followed.fix}` });
  };
  const back = () => {
    setSizes(start);
    setRefused(undefined);
    setTyped(undefined);
  };
  const isHolding = holdTogether(sizes, context);
  const isMoved = fields.some(({ field }) => sizes[field] !== start[field]);
  return (
    <Part
      title="Linked sizes"
      aside={
        <TwoWayActs
          canGoBack={isMoved || refused !== undefined}
          canTake={isMoved && refused === undefined}
          onBack={back}
          onTake={() => onTake(sizes)}
        />
      }
    >
      <div className="grid grid-cols-4 gap-3">
        {fields.map(({ field, label, isLength }) => (
          <SizeField
            key={field}
            label={label}
            isLength={isLength}
            bounds={podSizeBounds[field]}
            value={sizes[field]}
            text={typed?.field === field ? typed.text : `${isLength ? '/' : ''}${sizes[field]}`}
            isPinned={pinned.has(field)}
            isMoved={sizes[field] !== start[field]}
            isWrong={refused?.field === field}
            onMove={(text) => move(field, text)}
            onPin={() => setPinned(toggled(pinned, field))}
          />
        ))}
      </div>
      <p className={`mt-1 ${refused === undefined && isHolding ? 'quiet' : 'text-error'}`} aria-live="polite">
        {refused?.words ?? formatServed(sizes, isHolding)}
      </p>
    </Part>
  );
}

function formatServed({ podRangeLength, podsPerNode, perNodeLength }: PodSizes, isHolding: boolean): string {
  const served = nodesServed(podRangeLength, perNodePrefix(4, podsPerNode, perNodeLength)).value;
  return [
    ...(isHolding ? [] : ['These sizes do not fit together; move one, and the others follow.']),
    `The range holds ${formatNumber(served)} node prefixes of ${formatNumber(2 ** (32 - perNodeLength))} addresses; surge and control nodes take theirs.`,
  ].join(' ');
}

interface TwoWayActsProps {
  readonly canGoBack: boolean;
  readonly canTake: boolean;
  readonly onBack: () => void;
  readonly onTake: () => void;
}

function TwoWayActs({ canGoBack, canTake, onBack, onTake }: TwoWayActsProps) {
  return (
    <span className="flex gap-2">
      <button type="button" className="btn btn-sm btn-ghost" disabled={!canGoBack} onClick={onBack}>
        Back
      </button>
      <button type="button" className="btn btn-sm btn-outline" disabled={!canTake} onClick={onTake}>
        Take as decisions
      </button>
    </span>
  );
}

interface SizeFieldProps {
  readonly label: string;
  readonly isLength: boolean;
  readonly bounds: readonly [number, number];
  readonly value: number;
  readonly text: string;
  readonly isPinned: boolean;
  readonly isMoved: boolean;
  readonly isWrong: boolean;
  readonly onMove: (text: string) => void;
  readonly onPin: () => void;
}

function SizeField(props: SizeFieldProps) {
  const { label, isLength, bounds, value, text, isPinned, isMoved, isWrong, onMove, onPin } = props;
  const id = useId();
  const Icon = isPinned ? Pin : PinOff;
  // Counts spread over orders of magnitude; lengths are few.
  const scale = isLength
    ? { to: (v: number) => v, from: (v: number) => v }
    : { to: Math.log2, from: (v: number) => Math.round(2 ** v) };
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block truncate">
        {label}
        {isMoved && <span className="text-accent font-semibold"> moved</span>}
      </label>
      <span className="flex items-center gap-1">
        <input
          id={id}
          className={`input input-sm w-full font-mono ${isWrong ? 'input-error' : ''}`}
          inputMode="numeric"
          aria-invalid={isWrong}
          value={text}
          onChange={(event) => onMove(event.target.value)}
        />
        <button
          type="button"
          className={`btn btn-sm btn-square ${isPinned ? 'btn-primary' : 'btn-ghost'}`}
          aria-pressed={isPinned}
          aria-label={`Pin ${label.toLowerCase()}`}
          title={isPinned ? 'Pinned: it does not follow' : 'Pin it: it will not follow'}
          onClick={onPin}
        >
          <Icon size={13} aria-hidden />
        </button>
      </span>
      <input
        type="range"
        className="range range-xs mt-1 w-full"
        aria-label={`Move ${label.toLowerCase()}`}
        min={scale.to(bounds[0])}
        max={scale.to(bounds[1])}
        step={isLength ? 1 : 0.01}
        value={scale.to(value)}
        onChange={(event) => onMove(String(scale.from(Number(event.target.value))))}
      />
    </div>
  );
}
