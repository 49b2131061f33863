import { formatNumber } from '@wide-lattice/core/working';
import { useMemo, useState } from 'react';
import { PlannedOnly } from './PlannedOnly';
import { useSlice } from '../plan/useSlice';
import { Empty } from '../shared/Halves';
import { Sheet } from '../shared/Sheet';
import type { SheetColumn } from '../shared/sheetColumn';
import { useSearchState } from '../shared/useSearchState';
import type { ShownUse, ShownUseRow, ShownUses } from '../worker/slices/crossSlices';
import { UseMark } from './UseMark';

const order = { broken: 0, refused: 1, unknown: 2, part: 3, pass: 4, closed: 5 } as const;

/** Clusters down, exported services across: reached or not, by which way, the latency floor, the largest packet. A cell opens its question. */
export function UsesView() {
  const [search, set] = useSearchState();
  const wanted = search.get('services') ?? '';
  const uses = useSlice('uses', wanted);
  const [shown, setShown] = useState<{ readonly clusterId: string; readonly key: string }>();
  const only = search.get('cells') ?? '';
  const rows = useMemo(() => shownRows(uses, only), [uses, only]);
  const sheet = useMemo((): SheetColumn<ShownUseRow>[] => {
    return [
      { id: 'name', label: 'Cluster', width: 'minmax(7rem, 1fr)', value: ({ name }) => name },
      ...(uses?.columns ?? []).map(({ key, service, connection }, at): SheetColumn<ShownUseRow> => ({
        id: key,
        label: service,
        width: 'minmax(6.4rem, 0.8fr)',
        value: ({ cells }) => worth(cells[at]),
        render: (row) => (
          <UseCellButton
            cell={row.cells[at]}
            label={`${row.name}, ${service} in ${connection}`}
            onShow={() => setShown({ clusterId: row.id, key })}
          />
        ),
      })),
    ];
  }, [uses?.columns]);
  if (uses === undefined) return <p className="quiet p-4">Following every way between the members...</p>;
  if (uses.services === 0)
    return (
      <PlannedOnly what="Who reaches what">
        <Empty
          action={
            <button type="button" className="btn btn-sm btn-primary" onClick={() => set({ side: 'choose' })}>
              Compare the three kinds
            </button>
          }
        >
          Nothing is exported yet. Choose the clusters to connect, compare tunnels, relays and a flat network, and
          propose a connection; who reaches what is shown here.
        </Empty>
      </PlannedOnly>
    );
  // By what they are, since a filter or an edit puts others in their places.
  const at = uses.columns.findIndex(({ key }) => key === shown?.key);
  const [column, row] = [uses.columns[at], uses.rows.find(({ id }) => id === shown?.clusterId)];
  const cell = row?.cells[at];
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="rule-b flex flex-wrap items-center gap-x-3 gap-y-1 px-4 py-1.5">
        <span className="quiet">
          {formatNumber(rows.length)} of {formatNumber(uses.rows.length)} clusters, {formatNumber(uses.columns.length)}{' '}
          of {formatNumber(uses.services)} services
        </span>
        <select
          className="select select-sm ml-auto w-32"
          aria-label="Which clusters"
          value={only}
          onChange={(event) => set({ cells: event.target.value })}
        >
          <option value="">all clusters</option>
          <option value="failing">that miss a service</option>
          <option value="far">too far for one</option>
        </select>
        <input
          className="input input-sm w-28"
          placeholder="Filter clusters"
          aria-label="Filter the clusters"
          value={search.get('clusters') ?? ''}
          onChange={(event) => set({ clusters: event.target.value })}
        />
        <input
          className="input input-sm w-28"
          placeholder="Filter services"
          aria-label="Filter the services"
          value={search.get('services') ?? ''}
          onChange={(event) => set({ services: event.target.value })}
        />
      </div>
      <Sheet
        label="Clusters by exported services"
        columns={sheet}
        rows={rows}
        idOf={({ id }) => id}
        filter={search.get('clusters') ?? ''}
        groupOf={undefined}
      />
      <div className="rule-b min-h-20 px-4 py-1.5" aria-live="polite">
        {row === undefined || cell === undefined || column === undefined ? (
          <span className="quiet">Choose a cell: by which way, how far, and why not.</span>
        ) : (
          <>
            <strong>
              {row.name}, {column.service} by {column.method} of {column.connection}:
            </strong>{' '}
            <UseMark verdict={cell.verdict} />. <UseDescription clusterId={row.id} service={column.key} />{' '}
            {cell.floorMs !== undefined && cell.floorMs > 0 && (
              <span className={cell.isTooFar ? 'text-error' : ''}>
                Light takes {cell.floorMs} ms there and back{cell.isTooFar ? ', more than the service allows' : ''}
                .{' '}
              </span>
            )}
            {cell.room > 0 && <>Packets of up to {formatNumber(cell.room)} bytes pass whole. </>}
            <button
              type="button"
              className="link"
              onClick={() => set({ side: 'question', from: `pod of ${row.name}`, to: column.url, bytes: '576' })}
            >
              Ask the question
            </button>
          </>
        )}
      </div>
    </div>
  );
}

function UseDescription({ clusterId, service }: { readonly clusterId: string; readonly service: string }) {
  return useSlice('useDescription', clusterId, service) ?? '';
}

function shownRows(uses: ShownUses | undefined, only: string): ShownUseRow[] {
  const isFailing = (cell: ShownUse | undefined) => cell !== undefined && order[cell.verdict] < order.pass;
  const badness = ({ cells }: ShownUseRow) => cells.reduce((sum, cell) => sum + (isFailing(cell) ? 1 : 0), 0);
  return (uses?.rows ?? [])
    .filter(({ cells }) => cells.some((cell) => cell !== undefined))
    .filter(
      ({ cells }) => only === '' || cells.some((cell) => (only === 'far' ? cell?.isTooFar === true : isFailing(cell))),
    )
    .sort((a, b) => badness(b) - badness(a) || (a.name < b.name ? -1 : 1));
}

function worth(cell: ShownUse | undefined): number {
  return cell === undefined ? 9 : order[cell.verdict] * 10_000 + (cell.floorMs ?? 0);
}

function UseCellButton({
  cell,
  label,
  onShow,
}: {
  readonly cell: ShownUse | undefined;
  readonly label: string;
  readonly onShow: () => void;
}) {
  if (cell === undefined) return null;
  const isOwn = cell.verdict === 'pass' && cell.room === 0;
  const word = isOwn ? 'its own' : cell.verdict === 'pass' ? distance(cell) : undefined;
  return (
    <button
      type="button"
      className="w-full truncate text-left hover:underline"
      aria-label={`${label}: ${cell.verdict}`}
      onClick={onShow}
      onFocus={onShow}
    >
      {isOwn ? (
        <span className="quiet">its own</span>
      ) : (
        <UseMark verdict={cell.isTooFar ? 'part' : cell.verdict} {...(word === undefined ? {} : { word })} />
      )}
    </button>
  );
}

function distance({ floorMs, isTooFar }: ShownUse): string {
  if (floorMs === undefined) return 'reached';
  return isTooFar ? `${floorMs} ms, too far` : `${floorMs} ms`;
}
