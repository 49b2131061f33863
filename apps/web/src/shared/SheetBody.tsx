import type { VirtualItem } from '@tanstack/react-virtual';
import { memo } from 'react';
import type { SheetColumn } from './sheetColumn';
import type { Line } from './sheetLines';
import { SheetRow } from './SheetRow';
import type { RowActions } from './SheetRow';

/** Pixels from one row to the next. */
export const ROW_HEIGHT = 30;

interface SheetBodyProps<R> {
  readonly height: number;
  /** The lines to draw and where they are. */
  readonly items: readonly VirtualItem[];
  readonly lines: readonly Line<R>[];
  readonly idOf: (row: R) => string;
  readonly columns: readonly SheetColumn<R>[];
  readonly template: string;
  readonly selectedId: string | undefined;
  readonly marked: ReadonlySet<string>;
  readonly editing: { readonly id: string; readonly column: string; readonly typed: string | undefined } | undefined;
  readonly actions: RowActions<R>;
}

function Body<R>(props: SheetBodyProps<R>) {
  const { height, items, lines, idOf, columns, template, selectedId, marked, editing, actions } = props;
  return (
    <div className="relative min-w-fit" style={{ height }} role="rowgroup">
      {items.map(({ index, start }) => {
        const line = lines[index];
        if (line === undefined) return null;
        if (line.kind === 'group') {
          return (
            <div
              key={`group ${line.name}`}
              role="row"
              className="bg-base-200 absolute inset-x-0 top-0"
              style={{ transform: `translateY(${start}px)`, height: ROW_HEIGHT }}
            >
              <div role="gridcell" className="sheet-cell font-semibold">
                {line.name} <span className="quiet font-normal">{line.count}</span>
              </div>
            </div>
          );
        }
        const id = idOf(line.row);
        return (
          <SheetRow
            key={id}
            row={line.row}
            index={index}
            start={start}
            columns={columns}
            template={template}
            isSelected={selectedId === id || marked.has(id)}
            editing={editing?.id === id ? editing : undefined}
            actions={actions}
          />
        );
      })}
    </div>
  );
}

/** The rows of a sheet that are in sight. */
// memo loses the type parameter, which its props need.
export const SheetBody = memo(Body) as typeof Body;
