import { formatEntryPointLack } from '@wide-lattice/core/english';
import { shortened } from '../shared/shortened';
import type { ShownEntryPoints } from '../worker/slices/ingressSlices';

type Entry = ShownEntryPoints['entries'][number];

const lists = ['hosts', 'listeners', 'routes', 'services', 'members'] as const;
const WIDTH = 1000;
const ROW = 34;
const HEAD = 26;
const COLUMN = WIDTH / lists.length;
const BOX = 168;
/** Letters that fit into a box. */
const FITS = 27;

/** The entry points as a drawing, to be printed: what leads to what from hosts to members; open ends are dashed, with the reason below. */
export function EntryPointsDrawing({ entryPoints: { entries, chains } }: { readonly entryPoints: ShownEntryPoints }) {
  const { places, rows } = placed(entries, chains);
  const height = HEAD + Math.max(1, rows) * ROW;
  const pairs = new Set(chains.flatMap((chain) => chain.slice(1).map((key, i) => `${chain[i] ?? ''}\n${key}`)));
  const open = entries.filter((entry) => entry.open !== undefined);
  return (
    <figure className="p-3">
      <svg
        viewBox={`0 0 ${WIDTH} ${height}`}
        role="img"
        aria-label={formatEntryPoints(entries)}
        className="w-full"
        fontSize={11.5}
      >
        {lists.map((list, column) => (
          <text key={list} x={column * COLUMN} y={14} fill="currentColor" fontWeight={600}>
            {list[0]?.toUpperCase()}
            {list.slice(1)}
          </text>
        ))}
        {[...pairs].map((pair) => {
          const [a, b] = pair.split('\n').map((key) => places.get(key));
          if (a === undefined || b === undefined) return null;
          const [x, y, x2, y2] = [a.x + BOX, a.y + ROW / 2 - 3, b.x, b.y + ROW / 2 - 3];
          const middle = (x + x2) / 2;
          return (
            <path
              key={pair}
              d={`M${x},${y} C${middle},${y} ${middle},${y2} ${x2},${y2}`}
              fill="none"
              stroke="var(--color-primary)"
              strokeOpacity={0.55}
            />
          );
        })}
        {entries.map((entry) => {
          const at = places.get(entry.key);
          return at === undefined ? null : <Box key={entry.key} entry={entry} x={at.x} y={at.y} />;
        })}
      </svg>
      {open.length > 0 && (
        <figcaption>
          <p className="heading mt-2">Open ends</p>
          <ul className="list-disc pl-5">
            {open.map(({ key, label, about, open: why }) => (
              <li key={key}>
                {label}
                {about === '' ? '' : `, ${about}`}: {why !== undefined && formatEntryPointLack(why)}
              </li>
            ))}
          </ul>
        </figcaption>
      )}
    </figure>
  );
}

/**
 * A place for each entry: those of a chain stand in one row as far as they are not placed yet, and the columns between them stay free, so
 * that a link that passes a column is not hidden by what stands in it.
 */
function placed(entries: readonly Entry[], chains: ShownEntryPoints['chains']) {
  const byKey = new Map(entries.map((entry) => [entry.key, entry]));
  const columnOf = (key: string) => lists.findIndex((list) => list === byKey.get(key)?.list);
  const free = lists.map(() => 0);
  const places = new Map<string, { readonly x: number; readonly y: number }>();
  const order = new Map(entries.map(({ key }, i) => [key, i]));
  // Chains with a host first, in the order of the hosts.
  const rank = ([first = '']: readonly string[]) =>
    (columnOf(first) === 0 ? 0 : entries.length) + (order.get(first) ?? 0);
  for (const chain of [...chains].sort((a, b) => rank(a) - rank(b))) {
    const fresh = chain.filter((key) => byKey.has(key) && !places.has(key));
    if (fresh.length === 0) continue;
    const columns = fresh.map(columnOf);
    const [from, to] = [Math.min(...columns), Math.max(...columns)];
    // A chain that goes on from what stands already passes the columns between.
    const standing = chain.filter((key) => !fresh.includes(key)).map(columnOf);
    const before = Math.max(-1, ...standing.filter((column) => column < from));
    const isSpanned = (column: number) => column <= to && (before >= 0 ? column > before : column >= from);
    const row = Math.max(...free.filter((_, column) => isSpanned(column)));
    fresh.forEach((key, i) => places.set(key, { x: (columns[i] ?? 0) * COLUMN, y: HEAD + row * ROW }));
    free.forEach((_, column) => {
      if (isSpanned(column)) free[column] = row + 1;
    });
  }
  return { places, rows: Math.max(...free) };
}

function Box({
  entry: { label, about, open },
  x,
  y,
}: {
  readonly entry: Entry;
  readonly x: number;
  readonly y: number;
}) {
  return (
    <g>
      <rect
        x={x + 0.5}
        y={y + 0.5}
        width={BOX - 1}
        height={ROW - 7}
        fill="var(--color-base-100)"
        stroke={open === undefined ? 'var(--color-base-content)' : 'var(--color-error)'}
        strokeDasharray={open === undefined ? undefined : '4 3'}
        strokeOpacity={open === undefined ? 0.35 : 1}
      />
      <text x={x + 6} y={y + (about === '' ? 17 : 12)} fill="currentColor">
        <title>{`${label} ${about}`.trim()}</title>
        {shortened(label, FITS)}
      </text>
      {about !== '' && (
        <text x={x + 6} y={y + 23} fill="currentColor" opacity={0.75} fontSize={9.5}>
          {shortened(about, FITS)}
        </text>
      )}
    </g>
  );
}

function formatEntryPoints(entries: readonly Entry[]): string {
  return `Entry points: ${lists.map((list) => `${entries.filter((entry) => entry.list === list).length} ${list}`).join(', ')}`;
}
