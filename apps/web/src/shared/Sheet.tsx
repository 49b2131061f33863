import {
  createFilteredRowModel,
  createSortedRowModel,
  filterFn_includesString,
  globalFilteringFeature,
  columnFilteringFeature,
  rowSortingFeature,
  sortFn_alphanumeric,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import type { ColumnDef } from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { formatProblem } from '@wide-lattice/core/result';
import type { Operation } from '@wide-lattice/core/plan';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useDeferredValue, useMemo, useRef, useState } from 'react';
import type { ClipboardEvent, KeyboardEvent, MouseEvent, ReactNode } from 'react';
import { toast } from 'sonner';
import type { SheetColumn } from './sheetColumn';
import { useCommit } from '../plan/useCommit';
import { SheetFoot } from './SheetFoot';
import { actOfKey, linesOf, rowsFrom } from './sheetLines';
import { ROW_HEIGHT, SheetBody } from './SheetBody';
import type { RowActions } from './SheetRow';
import { readPasted } from './sheetPaste';
import { useMarked } from './useMarked';
import { useStable } from './useStable';

interface SheetProps<R extends object> {
  readonly label: string;
  readonly columns: readonly SheetColumn<R>[];
  readonly rows: readonly R[];
  readonly idOf: (row: R) => string;
  readonly filter?: string;
  readonly selectedId?: string | undefined;
  readonly onSelect?: (row: R) => void;
  readonly onOpen?: (row: R) => void;
  /** The change that removes rows; undefined when they cannot be removed here. */
  readonly removal?: (rows: readonly R[]) => readonly Operation[];
  /** Rows pasted on the sheet that it has no place for: those with headings, or more than there are. */
  readonly onPasteRows?: (text: string) => void;
  readonly groupOf?: ((row: R) => string) | undefined;
  readonly empty?: ReactNode;
  /** Grows with its rows up to this height instead of filling its place. */
  readonly maxHeight?: string;
}

const features = tableFeatures({
  rowSortingFeature,
  columnFilteringFeature,
  globalFilteringFeature,
  sortedRowModel: createSortedRowModel(),
  filteredRowModel: createFilteredRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric },
  filterFns: { includesString: filterFn_includesString },
});

/** A row that scrolls into sight is drawn within a few frames; so long a cell of it is waited for. */
const MAX_FRAMES = 30;

/** A table for thousands of rows: sort, filter, group, edit in place, all by keyboard. */
export function Sheet<R extends object>(props: SheetProps<R>) {
  const {
    label,
    columns,
    rows,
    idOf,
    filter = '',
    selectedId,
    onSelect,
    onOpen,
    removal,
    onPasteRows,
    groupOf,
    empty,
    maxHeight,
  } = props;
  const [editing, setEditing] = useState<{ id: string; column: string; typed: string | undefined }>();
  const scroller = useRef<HTMLDivElement>(null);
  const commit = useCommit();
  const marked = useMarked();
  const definitions = useMemo(
    () =>
      columns.map((column): ColumnDef<typeof features, R> => ({
        id: column.id,
        accessorFn: column.value,
        sortFn: 'alphanumeric',
      })),
    [columns],
  );
  const table = useTable(
    {
      features,
      columns: definitions,
      data: rows,
      getRowId: idOf,
      state: { globalFilter: filter },
      globalFilterFn: 'includesString',
      getColumnCanGlobalFilter: () => true,
    },
    (state) => state,
  );
  // Rows as they come need no table: it makes an object of its own for each of tens of thousands.
  const model = filter === '' && table.state.sorting.length === 0 ? undefined : table.getRowModel().rows;
  const sorted = useMemo(() => model?.map((row) => row.original) ?? rows, [model, rows]);
  const lines = useMemo(() => linesOf(sorted, groupOf), [sorted, groupOf]);
  const markedRows = useMemo(() => sorted.filter((row) => marked.ids.has(idOf(row))), [sorted, marked.ids, idOf]);
  // oxlint-disable-next-line react/incompatible-library -- the virtualizer re-renders on its own
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 6,
  });
  // Rows that scroll into sight are drawn bit by bit, so that a jump by a page does not hold up the page.
  const drawn = useDeferredValue(virtual.getVirtualItems());
  const template = columns.map(({ width }) => width).join(' ');
  const focusCell = (line: number, column: number) => {
    virtual.scrollToIndex(Math.max(0, Math.min(lines.length - 1, line)));
    const cell = () => scroller.current?.querySelector<HTMLElement>(`[data-line="${line}"] [data-column="${column}"]`);
    // At once when the row is drawn, so that keys pressed quickly land where they should.
    const tryFocus = (framesLeft: number) => {
      const target = cell();
      if (target !== null && target !== undefined) target.focus();
      else if (framesLeft > 0) requestAnimationFrame(() => tryFocus(framesLeft - 1));
    };
    tryFocus(MAX_FRAMES);
  };
  const onCellKey = (event: KeyboardEvent, line: number, column: number, row: R) => {
    if (event.target !== event.currentTarget) return;
    const pressed = {
      key: event.key,
      isCommand: event.ctrlKey || event.metaKey,
      isAlt: event.altKey,
      isShift: event.shiftKey,
      canEdit: columns[column]?.edit?.(row) !== undefined,
      canRemove: removal !== undefined,
      hasMarks: marked.ids.size > 0,
    };
    const act = actOfKey(pressed, lines, { line, column, columns: columns.length });
    if (act === undefined) return;
    event.preventDefault();
    switch (act.act) {
      case 'go': {
        const target = lines[act.line];
        if (act.isMarking && target?.kind === 'row') {
          if (marked.ids.size === 0) marked.only(idOf(row));
          marked.extend(order(), idOf(target.row));
        }
        focusCell(act.line, act.column);
        return;
      }
      case 'edit': {
        setEditing({ id: idOf(row), column: columns[column]?.id ?? '', typed: act.typed });
        return;
      }
      case 'mark all': {
        marked.all(order());
        return;
      }
      case 'open':
        return (onOpen ?? onSelect)?.(row);
      case 'select':
        return onSelect?.(row);
      case 'remove':
        return void remove(row);
      case 'unmark': {
        marked.only(undefined);
        return;
      }
    }
  };
  const order = () => rowsFrom(lines, 0).map(idOf);
  const remove = async (row: R) => {
    const isMarked = marked.ids.has(idOf(row)) && marked.ids.size > 1;
    const gone = isMarked ? markedRows : [row];
    const problem = await commit(
      `Remove ${gone.length === 1 ? 'a row' : `${gone.length} rows`} of ${label}`,
      removal?.(gone) ?? [],
    );
    if (problem === '') marked.only(undefined);
    else toast.error(problem);
  };
  const onRowClick = (event: MouseEvent, row: R) => {
    if (event.ctrlKey || event.metaKey) marked.toggle(idOf(row));
    else if (event.shiftKey) marked.extend(order(), idOf(row));
    else {
      marked.only(isEditable ? idOf(row) : undefined);
      onSelect?.(row);
    }
  };
  const onPaste = async (event: ClipboardEvent<HTMLDivElement>) => {
    const text = event.clipboardData.getData('text/plain');
    const cell = event.target instanceof Element ? event.target.closest('[data-column]') : null;
    if (event.target instanceof HTMLInputElement || cell === null || !/[\n\t]/.test(text.trim())) return;
    event.preventDefault();
    const from = Number(cell.closest('[data-line]')?.getAttribute('data-line'));
    const pasted = readPasted(text, {
      columns,
      rows: rowsFrom(lines, from),
      column: Number(cell.getAttribute('data-column')),
    });
    if (pasted.kind === 'rows' && onPasteRows !== undefined) onPasteRows(pasted.text);
    else if (pasted.kind === 'cells' && pasted.operations.length > 0) {
      const problem = await commit(`Paste ${pasted.cells} cells in ${label}`, pasted.operations);
      if (problem !== '') toast.error(`Nothing was pasted. ${problem}`);
    } else if (pasted.kind !== 'cells')
      toast.error(
        pasted.kind === 'refused' ? `Nothing was pasted. ${pasted.reason}` : 'This sheet takes no new rows by paste.',
      );
  };
  const actions = useStable<RowActions<R>>({
    click: onRowClick,
    open: (row) => onOpen?.(row),
    key: onCellKey,
    edit: (row, column) => setEditing({ id: idOf(row), column, typed: undefined }),
    store: (edit, text, from) => {
      const change = edit.change(text);
      if (!change.ok) return Promise.resolve(formatProblem(change.problem));
      return commit(`${edit.title}: ${text === '' ? 'empty' : text}`, [change.value], from);
    },
    done: (line, column) => {
      setEditing(undefined);
      // After the editor is gone: focus taken from it would store what Escape leaves.
      requestAnimationFrame(() => focusCell(line, column));
    },
  });
  const foot = useStable({ unmark: () => marked.only(undefined) });
  const isEditable = columns.some(({ edit }) => edit !== undefined) || removal !== undefined;
  const grid = (
    <div
      ref={scroller}
      role="grid"
      aria-label={label}
      aria-multiselectable={isEditable}
      aria-rowcount={lines.length + 1}
      className={maxHeight === undefined ? 'min-h-0 flex-1 overflow-auto' : 'overflow-auto'}
      style={maxHeight === undefined ? undefined : { maxHeight }}
      onPaste={(event) => void onPaste(event)}
    >
      <div
        role="row"
        className="bg-base-100 rule-b sticky top-0 z-10 grid min-w-fit"
        style={{ gridTemplateColumns: template }}
      >
        {table.getHeaderGroups()[0]?.headers.map((header, i) => {
          const direction = header.column.getIsSorted();
          const column = columns[i];
          return (
            <div
              role="columnheader"
              key={header.id}
              aria-sort={direction === 'asc' ? 'ascending' : direction === 'desc' ? 'descending' : 'none'}
              className={`sheet-cell sheet-head ${column?.align === 'right' ? 'justify-end text-right' : 'text-left'}`}
            >
              {column?.isAction === true ? (
                <span className="sr-only">{column.label}</span>
              ) : (
                <button
                  type="button"
                  className="quiet hover:text-base-content inline-flex items-center gap-1 font-medium"
                  style={{ textAlign: 'inherit' }}
                  onClick={header.column.getToggleSortingHandler()}
                >
                  {column?.label}
                  {direction === 'asc' && <ArrowUp size={12} aria-hidden />}
                  {direction === 'desc' && <ArrowDown size={12} aria-hidden />}
                </button>
              )}
            </div>
          );
        })}
      </div>
      {lines.length === 0 &&
        (empty ?? (
          <p className="quiet px-4 py-6 text-center">
            {filter === '' ? 'Nothing here yet.' : `Nothing matches "${filter}".`}
          </p>
        ))}
      <SheetBody
        height={virtual.getTotalSize()}
        items={drawn}
        lines={lines}
        idOf={idOf}
        columns={columns}
        template={template}
        selectedId={selectedId}
        marked={marked.ids}
        editing={editing}
        actions={actions}
      />
    </div>
  );
  if (maxHeight !== undefined) return grid;
  return (
    <>
      {grid}
      <SheetFoot
        label={label}
        columns={columns}
        rows={sorted}
        marked={markedRows}
        onUnmark={foot.unmark}
        removal={removal}
      />
    </>
  );
}
