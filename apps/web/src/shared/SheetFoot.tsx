import { formatCount, formatNumber } from '@wide-lattice/core/working';
import { rowsAsCsv } from '@wide-lattice/core/exchange';
import { formatProblem } from '@wide-lattice/core/result';
import type { Operation } from '@wide-lattice/core/plan';
import { memo, useState } from 'react';
import type { CellEdit } from './CellEditor';
import { toast } from 'sonner';
import { useBegan } from '../plan/useBegan';
import { useCommit } from '../plan/useCommit';
import { copyText } from './copyText';
import type { SheetColumn } from './sheetColumn';

interface SheetFootProps<R> {
  readonly label: string;
  readonly columns: readonly SheetColumn<R>[];
  /** The rows as shown: filtered and sorted. */
  readonly rows: readonly R[];
  readonly marked: readonly R[];
  readonly onUnmark: () => void;
  /** The change that removes rows; undefined when they cannot be. */
  readonly removal?: ((rows: readonly R[]) => readonly Operation[]) | undefined;
}

function Foot<R>({ label, columns, rows, marked, onUnmark, removal }: SheetFootProps<R>) {
  const commit = useCommit();
  const first = marked[0];
  const editable = first === undefined ? [] : columns.filter((column) => column.edit?.(first) !== undefined);
  const remove = async () => {
    const problem = await commit(`Remove ${formatCount(marked.length, 'row')} of ${label}`, removal?.(marked) ?? []);
    if (problem === '') onUnmark();
    else toast.error(problem);
  };
  return (
    <div className="border-base-300 flex min-h-7 items-center gap-3 border-t px-4 py-0.5">
      {marked.length < 2 ? (
        <span className="quiet">
          {formatNumber(rows.length)} {rows.length === 1 ? 'row' : 'rows'}
        </span>
      ) : (
        <>
          <strong>{formatNumber(marked.length)} marked</strong>
          {editable.length > 0 && <SetField key={marked.length} columns={editable} rows={marked} />}
          {removal !== undefined && (
            <button type="button" className="btn btn-ghost btn-xs" onClick={() => void remove()}>
              Remove them
            </button>
          )}
          <button type="button" className="btn btn-ghost btn-xs" onClick={onUnmark}>
            Unmark
          </button>
        </>
      )}
      <button
        type="button"
        className="btn btn-ghost btn-xs ml-auto"
        disabled={rows.length === 0}
        onClick={() => copyAsCsv(label, columns, rows)}
      >
        Copy as CSV
      </button>
    </div>
  );
}

/** Below a sheet: how many rows, what can be done to the marked ones at once, and the way out as CSV. Not drawn again while rows scroll. */
// memo loses the type parameter, which its props need.
export const SheetFoot = memo(Foot) as typeof Foot;

/** One field of all marked rows set at once, as one change. */
function SetField<R>({ columns, rows }: { readonly columns: readonly SheetColumn<R>[]; readonly rows: readonly R[] }) {
  const commit = useCommit();
  const [chosen, setChosen] = useState(columns.find(({ id }) => id !== 'name')?.id ?? columns[0]?.id ?? '');
  const [text, setText] = useState<string>();
  const [problem, setProblem] = useState('');
  const began = useBegan(text !== undefined);
  const column = columns.find(({ id }) => id === chosen);
  const edit = column?.edit?.(rows[0] as R);
  if (column === undefined || edit === undefined) return null;
  const value = text ?? edit.text;
  const store = async () => {
    const changes = rows.flatMap((row) => column.edit?.(row)?.change(value) ?? []);
    const unread = changes.find((change) => !change.ok);
    if (unread?.ok === false) {
      setProblem(formatProblem(unread.problem));
      return;
    }
    const operations = changes.flatMap((change) => (change.ok ? [change.value] : []));
    const label = `${column.label} of ${formatCount(rows.length, 'row')}: ${value === '' ? 'empty' : value}`;
    const refused = await commit(label, operations, began);
    setProblem(refused);
    if (refused === '') setText(undefined);
  };
  return (
    <form
      className="flex min-w-0 items-center gap-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        void store();
      }}
    >
      <select
        className="select select-xs w-32"
        aria-label="Field to set"
        value={chosen}
        onChange={(event) => {
          setChosen(event.target.value);
          setText(undefined);
          setProblem('');
        }}
      >
        {columns.map(({ id, label }) => (
          <option key={id} value={id}>
            {label}
          </option>
        ))}
      </select>
      <ValueField edit={edit} value={value} onType={setText} />
      <button type="submit" className="btn btn-outline btn-xs">
        Set all
      </button>
      {problem !== '' && (
        <span role="alert" className="text-error truncate" title={problem}>
          {problem}
        </span>
      )}
    </form>
  );
}

function ValueField({
  edit,
  value,
  onType,
}: {
  readonly edit: CellEdit;
  readonly value: string;
  readonly onType: (text: string) => void;
}) {
  const label = 'Value for all marked rows';
  if (edit.options === undefined)
    return (
      <input
        className="input input-xs w-32 font-mono"
        aria-label={label}
        value={value}
        onChange={(event) => onType(event.target.value)}
      />
    );
  return (
    <select
      className="select select-xs w-32"
      aria-label={label}
      value={value}
      onChange={(event) => onType(event.target.value)}
    >
      {edit.options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.label}
        </option>
      ))}
    </select>
  );
}

/** Puts the rows as shown (filtered, sorted) on the clipboard, with the headings first. */
function copyAsCsv<R>(label: string, columns: readonly SheetColumn<R>[], rows: readonly R[]): void {
  const values = columns.filter(({ isAction }) => isAction !== true);
  const cells = rows.map((row) => Object.fromEntries(values.map((column) => [column.label, column.value(row)])));
  const text = rowsAsCsv(
    values.map((column) => column.label),
    cells,
  );
  copyText(text, `${label}: ${formatNumber(rows.length)} rows are on the clipboard.`);
}
