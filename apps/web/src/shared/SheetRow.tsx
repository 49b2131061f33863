import { memo } from 'react';
import type { KeyboardEvent, MouseEvent } from 'react';
import { CellEditor } from './CellEditor';
import type { CellEdit } from './CellEditor';
import type { SheetColumn } from './sheetColumn';

/** The cell being edited in a row, and the key that opened it. */
interface EditedCell {
  readonly column: string;
  readonly typed: string | undefined;
}

/** What a row tells its sheet; the same functions from one drawing to the next, so that rows in sight stay as they are. */
export interface RowActions<R> {
  readonly click: (event: MouseEvent, row: R) => void;
  readonly open: (row: R) => void;
  readonly key: (event: KeyboardEvent, line: number, column: number, row: R) => void;
  readonly edit: (row: R, column: string) => void;
  readonly store: (edit: CellEdit, text: string, from: number) => Promise<string>;
  readonly done: (line: number, column: number) => void;
}

interface SheetRowProps<R> {
  readonly row: R;
  readonly index: number;
  /** Pixels from the top of the rows. */
  readonly start: number;
  readonly columns: readonly SheetColumn<R>[];
  readonly template: string;
  readonly isSelected: boolean;
  readonly editing: EditedCell | undefined;
  readonly actions: RowActions<R>;
}

function Row<R>({ row, index, start, columns, template, isSelected, editing, actions }: SheetRowProps<R>) {
  return (
    <div
      role="row"
      data-line={index}
      aria-rowindex={index + 2}
      aria-selected={isSelected}
      className="sheet-row absolute inset-x-0 top-0 min-w-fit"
      style={{ transform: `translateY(${start}px)`, gridTemplateColumns: template }}
      onClick={(event) => actions.click(event, row)}
      onDoubleClick={(event) => event.target === event.currentTarget && actions.open(row)}
    >
      {columns.map((column, c) => {
        const edit = column.edit?.(row);
        const isEditing = editing?.column === column.id;
        return (
          <div
            key={column.id}
            role="gridcell"
            data-column={c}
            tabIndex={index === 0 && c === 0 ? 0 : -1}
            className={`sheet-cell ${column.align === 'right' ? 'justify-end' : ''} ${column.isMono === true ? 'font-mono' : ''} ${edit === undefined ? '' : 'cursor-text'} ${isEditing ? 'overflow-visible!' : ''}`}
            onKeyDown={(event) => actions.key(event, index, c, row)}
            onDoubleClick={() => edit !== undefined && actions.edit(row, column.id)}
          >
            {isEditing && edit !== undefined ? (
              <CellEditor
                edit={edit}
                label={`${column.label} of row ${index + 1}`}
                typed={editing.typed}
                onStore={(text, from) => actions.store(edit, text, from)}
                onDone={() => actions.done(index, c)}
              />
            ) : (
              (column.render?.(row) ?? <span className="truncate">{column.value(row)}</span>)
            )}
          </div>
        );
      })}
    </div>
  );
}

/** One row of a sheet; drawn again only when something of it changes, since thousands scroll by. */
// memo loses the type parameter, which its props need.
export const SheetRow = memo(Row) as typeof Row;
