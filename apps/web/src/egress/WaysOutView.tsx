import type { WaysOut, WayOut, WayTaken } from '@wide-lattice/core/forwarding';
import { useState } from 'react';
import { useSlice } from '../plan/useSlice';
import { Computing, Empty } from '../shared/Halves';
import { shortened } from '../shared/shortened';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import { TraceMark } from '../question/TraceMark';

const WIDTH = 640;
const TOP = 26;
/** The columns: where boxes begin, and how wide they are. */
const NETWORKS = { x: 0, width: 132 };
const WAYS = { x: 252, width: 150 };
const TARGETS = { x: 508 };
const GAP = 12;
const LEAST = 30;
const NAME_LENGTH = 21;

/** Ways out by network: what a node of each reaches, and by what. A band asks its question. */
export function WaysOutView() {
  const ways = useSlice('waysOut');
  const [, set] = useSearchState();
  const [marked, setMarked] = useState<WayTaken>();
  const ask = ({ from, to }: WayTaken) => set({ from, to, side: 'question' });
  if (ways === undefined) return <Computing />;
  if (ways.taken.length === 0)
    return (
      <Empty>
        No cluster has a node range yet: by what each network reaches the internet and what its clusters need is drawn
        here.
      </Empty>
    );
  return (
    <div className="min-h-0 flex-1 overflow-auto px-4 py-3">
      <h2 className="heading">Ways out, by network</h2>
      <p className="quiet mb-2">
        {marked === undefined
          ? 'A node of each network is followed to what its clusters need; a band opens its question.'
          : formatTaken(ways, marked)}
      </p>
      <Drawing ways={ways} onMark={setMarked} onAsk={ask} />
      <details className="mt-2">
        <summary className="cursor-pointer">The same as a table</summary>
        <table className="w-full" aria-label="Ways out">
          <TableHead labels={['Network', 'What is reached', 'By what', 'Verdict']} />
          <tbody>
            {ways.taken.map((each) => (
              <tr key={`${each.networkId} ${each.target}`} className="rule-b">
                <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                  {nameOf(ways, each.networkId)}
                </th>
                <td>{each.target}</td>
                <td>{formatWay(each.way)}</td>
                <td>
                  <button type="button" className="link" onClick={() => ask(each)}>
                    <TraceMark verdict={each.verdict} />
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
      {ways.moreNetworks + ways.moreTargets > 0 && (
        <p className="quiet">
          {ways.moreNetworks > 0 && `${ways.moreNetworks} more networks with fewer clusters. `}
          {ways.moreTargets > 0 && `${ways.moreTargets} more needs that fewer clusters have.`} All are in the matrix.
        </p>
      )}
    </div>
  );
}

interface Box {
  readonly key: string;
  readonly y: number;
  readonly height: number;
  /** Where the next band begins, on either side. */
  left: number;
  right: number;
}

/** Boxes below one another, each as high as what passes it, and never too low for its name. */
function stacked(sizes: readonly (readonly [key: string, size: number])[], unit: number): Map<string, Box> {
  let y = TOP;
  return new Map(
    sizes.map(([key, size]) => {
      const height = Math.max(LEAST, size * unit);
      const box = { key, y, height, left: y + (height - size * unit) / 2, right: y + (height - size * unit) / 2 };
      y += height + GAP;
      return [key, box];
    }),
  );
}

const keyOf = ({ kind, name }: WayOut) => `${kind} ${name}`;

function formatWay({ kind, name }: WayOut): string {
  switch (kind) {
    case 'NAT':
      return 'address translation';
    case 'firewall':
    case 'link':
      return name;
    case 'endpoint':
      return 'private endpoints';
    case 'direct':
      return 'direct';
    case 'inside':
      return 'inside its network';
    case 'none':
      return 'no way out';
  }
}

const nameOf = ({ networks }: WaysOut, networkId: string) => networks.find(({ id }) => id === networkId)?.name ?? '';

function formatTaken(ways: WaysOut, { networkId, target, way, verdict, clusters }: WayTaken): string {
  const how = { pass: 'is reached', refused: 'is refused', broken: 'is not reached', unknown: 'is not known' }[verdict];
  return `${nameOf(ways, networkId)} (${clusters} ${clusters === 1 ? 'cluster' : 'clusters'}): ${target} ${how}, ${way.kind === 'none' ? 'no way out' : `by ${formatWay(way)}`}.`;
}

/** A cluster weighs by the root of their number, so that one of forty still shows beside them. */
const weightOf = ({ clusters }: WayTaken) => Math.sqrt(clusters);

function Drawing({
  ways,
  onMark,
  onAsk,
}: {
  readonly ways: WaysOut;
  readonly onMark: (taken: WayTaken | undefined) => void;
  readonly onAsk: (taken: WayTaken) => void;
}) {
  const { networks, targets, taken } = ways;
  const sumBy = (keyFor: (each: WayTaken) => string) => {
    const sums = new Map<string, number>();
    for (const each of taken) sums.set(keyFor(each), (sums.get(keyFor(each)) ?? 0) + weightOf(each));
    return sums;
  };
  const [byNetwork, byWay, byTarget] = [
    sumBy(({ networkId }) => networkId),
    sumBy(({ way }) => keyOf(way)),
    sumBy(({ target }) => target),
  ];
  const total = taken.reduce((sum, each) => sum + weightOf(each), 0);
  const unit = Math.min(6, 330 / total);
  const waysShown = [...new Map(taken.map(({ way }) => [keyOf(way), way])).values()].sort(
    (a, b) => (byWay.get(keyOf(b)) ?? 0) - (byWay.get(keyOf(a)) ?? 0),
  );
  const shown = targets.filter((target) => byTarget.has(target));
  const left = stacked(
    networks.filter(({ id }) => byNetwork.has(id)).map(({ id }) => [id, byNetwork.get(id) ?? 0]),
    unit,
  );
  const middle = stacked(
    waysShown.map((way) => [keyOf(way), byWay.get(keyOf(way)) ?? 0]),
    unit,
  );
  const right = stacked(
    shown.map((target) => [target, byTarget.get(target) ?? 0]),
    unit,
  );
  const height =
    Math.max(...[left, middle, right].flatMap((boxes) => [...boxes.values()].map((box) => box.y + box.height))) + 4;
  const bands = taken.map((each) => {
    const thick = Math.max(1.5, weightOf(each) * unit);
    const [from, via, to] = [left.get(each.networkId), middle.get(keyOf(each.way)), right.get(each.target)];
    if (from === undefined || via === undefined || to === undefined) return undefined;
    const band = {
      each,
      thick,
      a: from.right + thick / 2,
      b: via.left + thick / 2,
      c: via.right + thick / 2,
      d: to.left + thick / 2,
    };
    from.right += thick;
    via.left += thick;
    via.right += thick;
    to.left += thick;
    return band;
  });
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="w-full max-w-[52rem]"
      role="img"
      aria-label={`${networks.length} networks, ${waysShown.length} ways out, ${shown.length} targets; the table below has the same`}
    >
      <defs>
        <pattern id="refused-band" width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1={0} y1={0} x2={0} y2={6} stroke="var(--color-error)" strokeWidth={2.4} />
        </pattern>
      </defs>
      {(['Networks, by clusters', 'By what', 'What is reached'] as const).map((title, at) => (
        <text
          key={title}
          x={[NETWORKS.x, WAYS.x, TARGETS.x][at]}
          y={12}
          fontSize={11}
          fill="var(--color-base-content)"
          opacity={0.7}
        >
          {title}
        </text>
      ))}
      {bands.map((band) => {
        if (band === undefined) return null;
        const { each, thick, a, b, c, d } = band;
        const isPassing = each.verdict === 'pass';
        return (
          <g
            key={`${each.networkId} ${each.target}`}
            className="cursor-pointer"
            onMouseEnter={() => onMark(each)}
            onMouseLeave={() => onMark(undefined)}
            onClick={() => onAsk(each)}
          >
            <title>{formatTaken(ways, each)}</title>
            <path
              d={curve(NETWORKS.x + NETWORKS.width, a, WAYS.x, b)}
              fill="none"
              stroke="var(--color-primary)"
              strokeOpacity={isPassing ? 0.3 : 0.18}
              strokeWidth={thick}
            />
            <path
              d={curve(WAYS.x + WAYS.width, c, TARGETS.x - 6, d)}
              fill="none"
              stroke={isPassing ? 'var(--color-primary)' : 'url(#refused-band)'}
              strokeOpacity={isPassing ? 0.3 : 1}
              strokeWidth={isPassing ? thick : Math.max(4, thick)}
              strokeDasharray={each.verdict === 'unknown' ? '3 3' : undefined}
            />
          </g>
        );
      })}
      {networks.map(({ id, name, clusters }) => {
        const box = left.get(id);
        return box === undefined ? null : (
          <Named
            key={id}
            x={NETWORKS.x}
            width={NETWORKS.width}
            box={box}
            name={name}
            below={`${clusters} ${clusters === 1 ? 'cluster' : 'clusters'}`}
            isBad={false}
          />
        );
      })}
      {waysShown.map((way) => {
        const box = middle.get(keyOf(way));
        return box === undefined ? null : (
          <Named
            key={keyOf(way)}
            x={WAYS.x}
            width={WAYS.width}
            box={box}
            name={formatWay(way)}
            below=""
            isBad={way.kind === 'none'}
          />
        );
      })}
      {shown.map((target) => {
        const box = right.get(target);
        if (box === undefined) return null;
        // Red where no network reaches it; which one does not is seen at its band.
        const isBad = taken.every((each) => each.target !== target || each.verdict !== 'pass');
        return (
          <text
            key={target}
            x={TARGETS.x}
            y={box.y + box.height / 2 + 4}
            fontSize={12}
            fill={isBad ? 'var(--color-error)' : 'var(--color-base-content)'}
            fontWeight={isBad ? 600 : 400}
          >
            <title>{target}</title>
            {shortened(target, NAME_LENGTH)}
          </text>
        );
      })}
    </svg>
  );
}

function Named({
  x,
  width,
  box,
  name,
  below,
  isBad,
}: {
  readonly x: number;
  readonly width: number;
  readonly box: Box;
  readonly name: string;
  readonly below: string;
  readonly isBad: boolean;
}) {
  const middle = box.y + box.height / 2;
  return (
    <g>
      <rect
        x={x + 0.5}
        y={box.y}
        width={width}
        height={box.height}
        fill="var(--color-base-100)"
        stroke={isBad ? 'var(--color-error)' : 'var(--color-primary)'}
        strokeDasharray={isBad ? '4 3' : undefined}
      />
      <text
        x={x + 8}
        y={below === '' ? middle + 4 : middle - 1}
        fontSize={12}
        fontWeight={below === '' ? 400 : 600}
        fill={isBad ? 'var(--color-error)' : 'var(--color-base-content)'}
      >
        <title>{name}</title>
        {shortened(name, NAME_LENGTH)}
      </text>
      {below !== '' && (
        <text x={x + 8} y={middle + 12} fontSize={10.5} fill="var(--color-base-content)" opacity={0.75}>
          {below}
        </text>
      )}
    </g>
  );
}

function curve(x: number, y: number, x2: number, y2: number): string {
  const half = (x + x2) / 2;
  return `M ${x} ${y} C ${half} ${y}, ${half} ${y2}, ${x2} ${y2}`;
}
