import { formatProblem } from '@wide-lattice/core/result';
import type { Operation } from '@wide-lattice/core/plan';
import type { SheetColumn } from './sheetColumn';

/** What a pasted text is to a sheet: rows with headings, values for cells from the focused one on, or too much for them. */
export type Pasted =
  | { readonly kind: 'rows'; readonly text: string }
  | { readonly kind: 'cells'; readonly operations: readonly Operation[]; readonly cells: number }
  | { readonly kind: 'refused'; readonly reason: string };

interface Place<R> {
  readonly columns: readonly SheetColumn<R>[];
  /** The rows from the focused one downwards. */
  readonly rows: readonly R[];
  /** Index of the focused column. */
  readonly column: number;
}

/** Reads several lines or cells from a spreadsheet. Text with a heading line is rows to import; other text fills the cells it is pasted on. */
export function readPasted<R>(text: string, { columns, rows, column }: Place<R>): Pasted {
  const lines = text.replace(/\r\n?/g, '\n').replace(/\n$/, '').split('\n');
  if (hasHeadings(lines[0] ?? '', columns)) return { kind: 'rows', text };
  const filled = columns.slice(column).filter(({ isAction }) => isAction !== true);
  const matrix = lines.map((line) => line.split('\t'));
  const widest = Math.max(...matrix.map((cells) => cells.length));
  if (widest > filled.length)
    return {
      kind: 'refused',
      reason: `${widest} columns were pasted, and only ${filled.length} are there from here on.`,
    };
  if (matrix.length > rows.length) {
    const headings = filled.slice(0, widest).map(({ id }) => id);
    return { kind: 'rows', text: [headings.join('\t'), ...lines].join('\n') };
  }
  const operations: Operation[] = [];
  for (const [i, cells] of matrix.entries()) {
    for (const [j, cell] of cells.entries()) {
      const target = filled[j] as SheetColumn<R>;
      const edit = target.edit?.(rows[i] as R);
      if (edit === undefined) return { kind: 'refused', reason: `${target.label} cannot be edited in the sheet.` };
      if (cell.trim() === edit.text) continue;
      const change = edit.change(cell.trim());
      if (!change.ok) return { kind: 'refused', reason: formatProblem(change.problem) };
      operations.push(change.value);
    }
  }
  return { kind: 'cells', operations, cells: matrix.reduce((sum, cells) => sum + cells.length, 0) };
}

function hasHeadings<R>(line: string, columns: readonly SheetColumn<R>[]): boolean {
  const plain = (text: string) => text.toLowerCase().replace(/[^a-z0-9]/g, '');
  const known = new Set(columns.flatMap(({ id, label }) => [plain(id), plain(label), plain(id.replace(/Ids?$/, ''))]));
  return ['\t', ',', ';'].some((mark) => {
    const cells = line.split(mark).map(plain);
    return cells.filter((cell) => known.has(cell)).length >= Math.min(2, cells.length) && cells.length > 1;
  });
}
