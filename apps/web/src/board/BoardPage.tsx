import { formatCount, formatNumber } from '@wide-lattice/core/working';
import { findingTitles } from '@wide-lattice/core/english';
import type { FindingCode } from '@wide-lattice/core/english';
import type { Purpose } from '@wide-lattice/core/plan';
import { mostNodes } from '@wide-lattice/core/sizing';
import { useMemo } from 'react';
import { Link, useNavigate } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { Empty } from '../shared/Halves';
import { PurposeTag, SeverityMark } from '../shared/Marks';
import { Sheet } from '../shared/Sheet';
import { formatMonth } from '../shared/formatMonth';
import { useSearchState } from '../shared/useSearchState';
import { ColumnMenu } from '../shared/ColumnMenu';
import { Tick } from '../shared/Tick';
import type { SheetColumn } from '../shared/sheetColumn';
import type { BoardRow, RangeCell } from '../worker/slices/board';

const worst = (row: BoardRow) => (row.findings.error > 0 ? 2 : row.findings.warning > 0 ? 1 : 0);

/** All clusters at a glance: one figure, one fill, one mark a strand. */
export function BoardPage() {
  const rows = useSlice('board');
  const { session } = usePlan();
  const navigate = useNavigate();
  const [search, set] = useSearchState();
  const filter = search.get('filter') ?? '';
  const isGrouped = search.get('group') === 'site';
  const only = search.get('only') ?? 'all';
  const code = search.get('finding') ?? '';
  const shown = useMemo(
    () =>
      (rows ?? []).filter(
        (row) =>
          (only === 'all' || (only === 'errors' ? row.findings.error > 0 : worst(row) > 0)) &&
          (code === '' || row.codes.some((each) => each === code)),
      ),
    [rows, only, code],
  );
  const codes = useMemo(() => countCodes(rows ?? []), [rows]);
  const all = useMemo(() => columnsFor(rows ?? []), [rows]);
  const wanted = search.get('cols');
  const columns = useMemo(() => {
    const named = wanted === null ? undefined : ['name', ...wanted.split(',')];
    return all.filter(({ id }) => named?.includes(id) ?? !(all.length > MAX_AT_ONCE && rarely.has(id)));
  }, [all, wanted]);
  if (rows === undefined) return <p className="quiet p-6">Computing...</p>;
  const open = (row: BoardRow) => void navigate(`/plans/${session.planId}/clusters/${row.id}`);
  return (
    <>
      <div className="rule-b flex flex-wrap items-center gap-x-3 gap-y-1 px-4 py-1.5">
        <h1 className="heading">Board</h1>
        <span className="quiet">
          {formatNumber(shown.length)} of {formatCount(rows.length, 'cluster')}
        </span>
        <input
          className="input input-sm ml-auto w-48"
          placeholder="Filter by name, site, range"
          aria-label="Filter the board"
          value={filter}
          onChange={(event) => set({ filter: event.target.value })}
        />
        <select
          className="select select-sm w-40"
          aria-label="Which clusters"
          value={only}
          onChange={(event) => set({ only: event.target.value === 'all' ? '' : event.target.value })}
        >
          <option value="all">all clusters</option>
          <option value="findings">errors or warnings</option>
          <option value="errors">errors only</option>
        </select>
        <select
          className="select select-sm w-44"
          aria-label="Which finding"
          value={code}
          onChange={(event) => set({ finding: event.target.value })}
        >
          <option value="">any finding</option>
          {codes.map(({ code: each, title, count }) => (
            <option key={each} value={each}>
              {title} ({count})
            </option>
          ))}
        </select>
        <ColumnMenu
          columns={all.filter(({ id }) => id !== 'name')}
          shown={columns.map(({ id }) => id)}
          onShow={(cols) => set({ cols })}
        />
        <Tick isOn={isGrouped} onTick={(isOn) => set({ group: isOn ? 'site' : '' })}>
          by site
        </Tick>
      </div>
      <Sheet
        label="Board of clusters"
        columns={columns}
        rows={shown}
        idOf={(row) => row.id}
        filter={filter}
        groupOf={isGrouped ? (row) => row.site : undefined}
        onOpen={open}
        onSelect={open}
        empty={
          rows.length > 0 ? undefined : (
            <Empty
              action={
                <Link className="btn btn-sm btn-primary" to={`/plans/${session.planId}/demand`}>
                  Enter clusters
                </Link>
              }
            >
              No clusters yet. Enter the ground first (sites and networks), then the clusters and what they need.
            </Empty>
          )
        }
      />
    </>
  );
}

/** Strands that fit beside one another at 1280 wide; of more, those in `rarely` wait until they are chosen. */
const MAX_AT_ONCE = 10;
const rarely: ReadonlySet<string> = new Set(['mode', 'service']);

const strands: readonly SheetColumn<BoardRow>[] = [
  {
    id: 'name',
    label: 'Cluster',
    width: 'minmax(10.9rem, 0.6fr)',
    value: (row) => row.name,
    render: (row) => (
      <>
        <span className="truncate font-medium">{row.name}</span>
        {row.isBuilt && <span className="badge badge-xs badge-outline">built</span>}
      </>
    ),
  },
  { id: 'site', label: 'Site', width: 'minmax(7.5rem, 0.5fr)', value: (row) => row.site },
  {
    id: 'findings',
    label: 'Marks',
    width: '6.1rem',
    value: (row) => row.findings.error * 10_000 + row.findings.warning * 100 + row.findings.note,
    render: (row) => <Marks row={row} />,
  },
  {
    id: 'nodes',
    label: 'Nodes',
    width: '8.4rem',
    value: (row) => row.nodesHorizon,
    render: (row) => <Nodes row={row} />,
  },
  {
    id: 'first',
    label: 'Runs out first',
    width: 'minmax(12.2rem, 0.3fr)',
    value: (row) => row.first?.month ?? -1,
    render: (row) => <First row={row} />,
  },
  {
    id: 'node',
    label: 'Node ranges',
    width: 'minmax(12.6rem, 0.3fr)',
    isMono: true,
    value: (row) => row.ranges.node.prefixes.join(' '),
    render: (row) => <Ranges cell={row.ranges.node} purpose="node" />,
  },
  {
    id: 'pod',
    label: 'Pod ranges',
    width: 'minmax(11.6rem, 0.3fr)',
    isMono: true,
    value: (row) => row.ranges.pod.prefixes.join(' '),
    render: (row) => <Ranges cell={row.ranges.pod} purpose="pod" />,
  },
  { id: 'mode', label: 'Pod network', width: '5.4rem', value: (row) => row.podMode },
  {
    id: 'service',
    label: 'Service ranges',
    width: 'minmax(10.9rem, 0.4fr)',
    isMono: true,
    value: (row) => row.ranges.service.prefixes.join(' '),
    render: (row) => <Ranges cell={row.ranges.service} purpose="service" />,
  },
];

const entryStrand: SheetColumn<BoardRow> = {
  id: 'entry',
  label: 'Entry ranges',
  width: 'minmax(10.9rem, 0.3fr)',
  isMono: true,
  value: (row) => row.ranges.entry.prefixes.join(' '),
  render: (row) =>
    hasEntry(row) ? <Ranges cell={row.ranges.entry} purpose="entry" /> : <span className="quiet font-sans">none</span>,
};

const entryPointStrand: SheetColumn<BoardRow> = {
  id: 'entryPoints',
  label: 'Entry points',
  width: '4.5rem',
  value: ({ entryPoints }) => (entryPoints === undefined ? -1 : entryPoints.open - entryPoints.all),
  render: ({ entryPoints }) => (
    <Of
      part={entryPoints?.open}
      all={entryPoints?.all}
      title="Hosts of its routes whose chain goes through from listener to pods"
    />
  ),
};

const nameStrand: SheetColumn<BoardRow> = {
  id: 'names',
  label: 'Names',
  width: '4.5rem',
  value: ({ names }) => (names === undefined ? -1 : names.found - names.all),
  render: ({ names }) => (
    <Of
      part={names?.found}
      all={names?.all}
      title="Names of its hosts and its own API that are answered where its clients are"
    />
  ),
};

const useStrand: SheetColumn<BoardRow> = {
  id: 'uses',
  label: 'Joined',
  width: '4.7rem',
  value: ({ uses }) => (uses === undefined ? -1 : uses.reached - uses.all),
  render: ({ uses }) => (
    <Of part={uses?.reached} all={uses?.all} title="Services of other clusters that it reaches, of all open to it" />
  ),
};

/** How many of all are well; none where there are none. */
function Of({
  part,
  all,
  title,
}: {
  readonly part: number | undefined;
  readonly all: number | undefined;
  readonly title: string;
}) {
  if (part === undefined || all === undefined) return <span className="quiet">none</span>;
  return (
    <span className={part < all ? 'text-error font-semibold' : ''} title={title}>
      {part} of {all}
    </span>
  );
}

function hasEntry({ ranges }: BoardRow): boolean {
  return ranges.entry.prefixes.length + ranges.entry.missing > 0;
}

/** The strands that the plan has: entry points and names where some cluster has any, entry ranges only where one has subnets of its own for them. */
function columnsFor(rows: readonly BoardRow[]): readonly SheetColumn<BoardRow>[] {
  const entryPoints = [
    ...(rows.some((row) => row.entryPoints !== undefined) ? [entryPointStrand] : []),
    ...(rows.some((row) => row.names !== undefined) ? [nameStrand] : []),
    ...(rows.some((row) => row.uses !== undefined) ? [useStrand] : []),
  ];
  // Beside the marks, since both say whether all is well.
  const [name, site, marks, ...rest] = strands;
  const first = [name, site, marks].flatMap((each) => each ?? []);
  return [...first, ...entryPoints, ...rest, ...(rows.some(hasEntry) ? [entryStrand] : [])];
}

/** The findings that stand on the board, with how many clusters have each. */
function countCodes(rows: readonly BoardRow[]): { code: string; title: string; count: number }[] {
  const counts = new Map<FindingCode, number>();
  for (const code of rows.flatMap(({ codes }) => codes)) counts.set(code, (counts.get(code) ?? 0) + 1);
  return [...counts]
    .map(([code, count]) => ({ code, title: findingTitles[code], count }))
    .sort((a, b) => (a.title < b.title ? -1 : 1));
}

function Marks({ row }: { readonly row: BoardRow }) {
  const { error, warning, note } = row.findings;
  if (error + warning + note === 0) return <span className="quiet">clear</span>;
  return (
    <>
      {error > 0 && <SeverityMark severity="error" count={error} />}
      {warning > 0 && <SeverityMark severity="warning" count={warning} />}
      {note > 0 && <SeverityMark severity="note" count={note} />}
    </>
  );
}

function Nodes({ row }: { readonly row: BoardRow }) {
  const limit = row.first?.nodes;
  const planned = mostNodes(row);
  const most = Math.max(planned, limit ?? 0, 1);
  const share = (nodes: number) => `${Math.min(100, (100 * nodes) / most)}%`;
  const isOver = limit !== undefined && planned > limit;
  return (
    <span
      className="flex w-full items-center gap-2"
      title={
        limit === undefined
          ? 'no range yet'
          : `${row.nodesNow} now, ${row.nodesHorizon} at the horizon, ${limit} possible`
      }
    >
      <span className="w-[4.9rem] shrink-0 text-right">
        {row.nodesNow} <span className="quiet">to</span> {row.nodesHorizon}
      </span>
      <span className="border-base-300 relative h-2.5 min-w-8 flex-1 border" aria-hidden>
        <span
          className="absolute inset-y-0 left-0 opacity-40"
          style={{ width: share(row.nodesHorizon), background: isOver ? 'var(--color-error)' : 'var(--purpose-node)' }}
        />
        <span
          className="absolute inset-y-0 left-0"
          style={{ width: share(row.nodesNow), background: isOver ? 'var(--color-error)' : 'var(--purpose-node)' }}
        />
        {limit !== undefined && (
          <span
            className="bg-base-content absolute -inset-y-0.5 w-0.5"
            style={{ left: `calc(${share(limit)} - 1px)` }}
          />
        )}
      </span>
    </span>
  );
}

function First({ row }: { readonly row: BoardRow }) {
  if (row.first === undefined) return <span className="quiet">no range yet</span>;
  const { name, nodes, month } = row.first;
  const when = formatMonth(month);
  return (
    <span
      className={`truncate ${mostNodes(row) > nodes ? 'text-error font-semibold' : ''}`}
      title={`${name}: ${nodes} nodes, ${when}`}
    >
      {name}, {when}
    </span>
  );
}

function Ranges({ cell, purpose }: { readonly cell: RangeCell; readonly purpose: Purpose }) {
  const [first] = cell.prefixes;
  const isBad = cell.verdict === 'conflict' || cell.verdict === 'shadowed' || cell.tooSmall > 0;
  const look = isBad ? 'text-error font-semibold' : cell.verdict === 'clear' ? '' : 'text-warning font-semibold';
  const words = [
    ...(cell.verdict === 'clear' ? [] : [cell.verdict]),
    ...(cell.tooSmall > 0 ? ['too small'] : []),
    ...(cell.missing > 0 ? [`${cell.missing} missing`] : []),
  ];
  return (
    <span className="flex min-w-0 items-center gap-1.5" title={[...cell.prefixes, ...words].join(', ')}>
      <PurposeTag purpose={purpose} />
      {first !== undefined && <span className={`truncate ${look}`}>{first}</span>}
      {cell.prefixes.length > 1 && <span className="quiet shrink-0">+{cell.prefixes.length - 1}</span>}
      {cell.missing > 0 && <span className="text-warning shrink-0 font-sans">{cell.missing} missing</span>}
    </span>
  );
}
