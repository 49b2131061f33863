import type { LoadResult } from '@wide-lattice/core/load';
import type { ShownTarget } from '../worker/slices/ingressSlices';

interface DrawingProps {
  readonly result: LoadResult;
  readonly seconds: number;
  readonly via: (ShownTarget & { readonly ok: true })['via'];
}

const WIDTH = 600;
const HEIGHT = 150;
const BAND = 84;
const NODE = 10;

/** The requests from clients through what they pass to the workloads, as wide as they are many; what is not answered is hatched. */
export function FlowDrawing({ result: { total, members }, seconds, via }: DrawingProps) {
  const byGroup = new Map<string, number>();
  for (const { group, answered } of members) byGroup.set(group, (byGroup.get(group) ?? 0) + answered);
  const ends = [
    ...[...byGroup].map(([name, count]) => ({ name, count, isBad: false })),
    { name: 'not answered', count: total.limited + total.refused + total.timedOut + total.failed, isBad: true },
  ].filter(({ count }) => count > 0);
  const all = ends.reduce((sum, { count }) => sum + count, 0);
  const stops = ['clients', ...via.map(({ name }) => name)];
  const step = (WIDTH - 190) / stops.length;
  const perSecond = (count: number) =>
    `${(count / seconds).toLocaleString('en-US', { maximumFractionDigits: 1 })} per second`;
  const top = (HEIGHT - BAND) / 2;
  const gap = ends.length < 2 ? 0 : (HEIGHT - 10 - BAND) / (ends.length - 1);
  const fork = 10 + (stops.length - 1) * step + NODE;
  let leaves = top;
  let arrives = ends.length < 2 ? top : 5;
  const bands = ends.map((end) => {
    const height = all === 0 ? 0 : (BAND * end.count) / all;
    const band = { ...end, height, from: leaves, to: arrives };
    leaves += height;
    arrives += height + gap;
    return band;
  });
  const words = `${stops.join(', ')}: ${bands.map(({ name, count }) => `${name} ${perSecond(count)}`).join(', ')}`;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={words} className="w-full" fontSize={12}>
      <defs>
        <pattern id="not-answered" width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width={6} height={6} fill="var(--color-base-200)" />
          <rect width={2} height={6} fill="var(--color-error)" />
        </pattern>
      </defs>
      {stops.map((name, i) => (
        <Stop key={name} name={name} at={i} step={step} top={top} isLast={i > 0 && i === stops.length - 1} />
      ))}
      <text x={10} y={top + BAND + 16} fill="currentColor" opacity={0.75}>
        {perSecond(total.offered)}
      </text>
      {bands.map((band) => (
        <Band key={band.name} band={band} fork={fork} caption={perSecond(band.count)} />
      ))}
    </svg>
  );
}

interface StopProps {
  readonly name: string;
  /** Its place, from 0. */
  readonly at: number;
  readonly step: number;
  readonly top: number;
  readonly isLast: boolean;
}

function Stop({ name, at, step, top, isLast }: StopProps) {
  return (
    <g>
      {at > 0 && (
        <rect
          x={10 + (at - 1) * step + NODE}
          y={top}
          width={step - NODE}
          height={BAND}
          fill="var(--color-primary)"
          opacity={0.22}
        />
      )}
      <rect x={10 + at * step} y={top} width={NODE} height={BAND} fill="var(--color-primary)" />
      <text
        x={10 + at * step + (isLast ? NODE : 0)}
        // The last one stands below, where no band leaves upwards.
        y={isLast ? top + BAND + 16 : top - 6}
        fill="currentColor"
        textAnchor={isLast ? 'end' : 'start'}
      >
        {name}
      </text>
    </g>
  );
}

interface BandProps {
  readonly band: {
    readonly name: string;
    readonly isBad: boolean;
    readonly height: number;
    readonly from: number;
    readonly to: number;
  };
  /** Where the bands part. */
  readonly fork: number;
  /** How many, in words. */
  readonly caption: string;
}

function Band({ band: { name, isBad, height, from, to }, fork, caption }: BandProps) {
  const end = WIDTH - 170;
  const middle = (fork + end) / 2;
  const shape = `M${fork},${from} C${middle},${from} ${middle},${to} ${end},${to} V${to + height} C${middle},${to + height} ${middle},${from + height} ${fork},${from + height} Z`;
  const at = Math.min(HEIGHT - 14, Math.max(12, to + height / 2));
  return (
    <g>
      <path d={shape} fill={isBad ? 'url(#not-answered)' : 'var(--color-primary)'} opacity={isBad ? 1 : 0.22} />
      <rect
        x={end}
        y={to}
        width={NODE}
        height={Math.max(1, height)}
        fill={isBad ? 'var(--color-error)' : 'var(--color-primary)'}
      />
      <text x={end + NODE + 6} y={at} fill="currentColor">
        {name}
      </text>
      <text x={end + NODE + 6} y={at + 13} fill="currentColor" opacity={0.75}>
        {caption}
      </text>
    </g>
  );
}
