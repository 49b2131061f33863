import { groupBy } from '@wide-lattice/core/plan';

/** One line of a sheet: a row, or the heading of a group of rows. */
export type Line<R> =
  | { readonly kind: 'group'; readonly name: string; readonly count: number }
  | { readonly kind: 'row'; readonly row: R };

/** Rows as lines: as they come, or in groups under a heading each. */
export function linesOf<R>(rows: readonly R[], groupOf?: (row: R) => string): Line<R>[] {
  if (groupOf === undefined) return rows.map((row) => ({ kind: 'row', row }));
  return [...groupBy(rows, groupOf)].flatMap(([name, own]): Line<R>[] => [
    { kind: 'group', name, count: own.length },
    ...own.map((row): Line<R> => ({ kind: 'row', row })),
  ]);
}

/** The rows from a line downwards. */
export function rowsFrom<R>(lines: readonly Line<R>[], from: number): R[] {
  return lines.slice(from).flatMap((line) => (line.kind === 'row' ? [line.row] : []));
}

/** The next line in a direction that is a row, or the same when there is none. */
function nextRow<R>(lines: readonly Line<R>[], from: number, step: number): number {
  if (step === 0) return from;
  for (let at = from + step; at >= 0 && at < lines.length; at += step) if (lines[at]?.kind === 'row') return at;
  return from;
}

/** What a key does in a cell: goes elsewhere, begins an edit, or one of the acts on rows. */
export type CellAct =
  | { readonly act: 'go'; readonly line: number; readonly column: number; readonly isMarking: boolean }
  | { readonly act: 'edit'; readonly typed: string | undefined }
  | { readonly act: 'mark all' | 'open' | 'select' | 'remove' | 'unmark' };

/** A key pressed in a cell, and what can be done there. */
export interface CellKey {
  readonly key: string;
  /** Ctrl or Cmd. */
  readonly isCommand: boolean;
  readonly isAlt: boolean;
  readonly isShift: boolean;
  readonly canEdit: boolean;
  readonly canRemove: boolean;
  readonly hasMarks: boolean;
}

const moves: Readonly<Record<string, readonly [lines: number, columns: number]>> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
};

/** What a key does in the cell at a line and column; undefined when it is not the sheet's. */
export function actOfKey<R>(
  pressed: CellKey,
  lines: readonly Line<R>[],
  at: { readonly line: number; readonly column: number; readonly columns: number },
): CellAct | undefined {
  const { key, isCommand, isAlt, isShift, canEdit, canRemove, hasMarks } = pressed;
  if (key === 'a' && isCommand) return { act: 'mark all' };
  const move = moves[key];
  if (move !== undefined) {
    const line = nextRow(lines, at.line, move[0]);
    const column = Math.max(0, Math.min(at.columns - 1, at.column + move[1]));
    return { act: 'go', line, column, isMarking: isShift && move[1] === 0 };
  }
  const isTyped = key.length === 1 && key !== ' ' && !isCommand && !isAlt;
  if (canEdit && (key === 'Enter' || key === 'F2' || isTyped)) return { act: 'edit', typed: isTyped ? key : undefined };
  if (key === 'Enter') return { act: 'open' };
  if (key === ' ') return { act: 'select' };
  if (key === 'Delete' && canRemove) return { act: 'remove' };
  return key === 'Escape' && hasMarks ? { act: 'unmark' } : undefined;
}
