import { formatNumber } from '@wide-lattice/core/working';
import type { MatrixCell } from '@wide-lattice/core/reach';
import { USUAL_BYTES } from '@wide-lattice/core/plan';
import { useMemo, useState } from 'react';
import { useSlice } from '../plan/useSlice';
import { Empty } from '../shared/Halves';
import { Sheet } from '../shared/Sheet';
import type { SheetColumn } from '../shared/sheetColumn';
import { useSearchState } from '../shared/useSearchState';
import type { ShownMatrixRow } from '../worker/slices/egress';
import { TraceMark } from '../question/TraceMark';
import { useMatrix } from './useMatrix';

const order = { broken: 0, refused: 1, unknown: 2, pass: 3 } as const;

/** Clusters down, targets across: a cell is a verdict, its sentence stands below, and it opens its question. */
export function MatrixView() {
  const { labels, rows, all, isRunning, stop } = useMatrix();
  const [search, set] = useSearchState();
  const [shown, setShown] = useState<{ readonly row: string; readonly label: string; readonly cell: MatrixCell }>();
  const only = search.get('cells') === 'failing';
  const filter = search.get('clusters') ?? '';
  const columns = useMemo((): SheetColumn<ShownMatrixRow>[] => {
    const ask = ({ from, to }: MatrixCell) => set({ side: 'question', from, to, bytes: String(USUAL_BYTES) });
    return [
      { id: 'name', label: 'Cluster', width: 'minmax(9rem, 1fr)', value: ({ name }) => name },
      ...labels.map((label, i): SheetColumn<ShownMatrixRow> => ({
        id: label,
        label,
        width: 'minmax(4.6rem, 0.7fr)',
        value: ({ cells }) => worth(cells[i]),
        render: ({ name, cells }) => (
          <Cell
            cell={cells[i]}
            label={`${name}, ${label}`}
            onShow={(cell) => setShown({ row: name, label, cell })}
            onAsk={ask}
          />
        ),
      })),
    ];
    // The address is set by a function that stays the same in effect.
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- columns follow the labels alone
  }, [labels]);
  const isGrouped = search.get('sites') === 'grouped';
  const wanted = useMemo(
    () =>
      rows
        .filter(({ cells }) => !only || cells.some((cell) => cell !== undefined && cell.verdict !== 'pass'))
        // Worst first, and by name among equals.
        .sort((a, b) => badness(b) - badness(a) || (a.name < b.name ? -1 : 1)),
    [rows, only],
  );
  if (!isRunning && rows.length === 0)
    return <Empty>No clusters yet. Enter them at the stop Demand; what each can reach is shown here.</Empty>;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="rule-b flex items-center gap-3 px-4 py-1.5">
        <span className="quiet">
          {formatNumber(wanted.length)} of {formatNumber(all)} clusters
        </span>
        {isRunning && (
          <>
            <progress
              className="progress w-28"
              value={rows.length}
              max={Math.max(1, all)}
              aria-label="Cells computed"
            />
            <button type="button" className="btn btn-xs btn-ghost" onClick={stop}>
              Cancel
            </button>
          </>
        )}
        <select
          className="select select-sm ml-auto w-44"
          aria-label="Which clusters"
          value={only ? 'failing' : ''}
          onChange={(event) => set({ cells: event.target.value })}
        >
          <option value="">all clusters</option>
          <option value="failing">with failures</option>
        </select>
        <select
          className="select select-sm w-36"
          aria-label="Group"
          value={isGrouped ? 'grouped' : ''}
          onChange={(event) => set({ sites: event.target.value })}
        >
          <option value="">worst first</option>
          <option value="grouped">by site</option>
        </select>
        <input
          className="input input-sm w-36"
          placeholder="Filter by name"
          aria-label="Filter the matrix"
          value={filter}
          onChange={(event) => set({ clusters: event.target.value })}
        />
      </div>
      <Sheet
        label="Matrix"
        columns={columns}
        rows={wanted}
        idOf={({ id }) => id}
        filter={filter}
        groupOf={isGrouped ? ({ site }) => site : undefined}
      />
      <p className="rule-b min-h-12 px-4 py-1.5" aria-live="polite">
        {shown === undefined ? (
          <span className="quiet">Choose a cell to see its verdict; press Enter in it to ask its question.</span>
        ) : (
          <>
            <strong>
              {shown.row}, {shown.label}:
            </strong>{' '}
            <Said key={`${shown.cell.from} ${shown.cell.to}`} cell={shown.cell} />
          </>
        )}
      </p>
    </div>
  );
}

/** How much fails in a row: what is broken or refused weighs most. */
function badness({ cells }: ShownMatrixRow): number {
  return cells.reduce((sum, cell) => sum + (cell === undefined ? 0 : 3 - order[cell.verdict]), 0);
}

function worth(cell: MatrixCell | undefined): number {
  return cell === undefined ? 4 : order[cell.verdict];
}

/** A cell in a sentence. Its question is asked anew, since a cell was judged by any cluster that is alike. */
function Said({ cell: { verdict, passes, of, from, to } }: { readonly cell: MatrixCell }) {
  const answer = useSlice('trace', from, to, USUAL_BYTES, '');
  if (verdict === 'pass' && of > 1) return `All ${of} pass.`;
  return (
    <>
      {of > 1 && `${passes} of ${of} pass. `}
      {answer?.ok === true ? answer.sentence : answer?.message}
    </>
  );
}

function Cell({
  cell,
  label,
  onShow,
  onAsk,
}: {
  readonly cell: MatrixCell | undefined;
  readonly label: string;
  readonly onShow: (cell: MatrixCell) => void;
  readonly onAsk: (cell: MatrixCell) => void;
}) {
  if (cell === undefined) return <span className="quiet">–</span>;
  const word = cell.of > 1 ? `${cell.passes}/${cell.of}` : undefined;
  return (
    <button
      type="button"
      className="-mr-2 w-full text-left text-xs"
      aria-label={`${label}: ${cell.verdict}`}
      onFocus={() => onShow(cell)}
      onMouseEnter={() => onShow(cell)}
      onClick={() => onAsk(cell)}
    >
      <TraceMark verdict={cell.verdict} {...(word === undefined ? {} : { word })} />
    </button>
  );
}
