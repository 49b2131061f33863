import Papa from 'papaparse';

/**
 * Rows as CSV (RFC 4180, lines end in CR LF), with the columns in the given order. Cells that a spreadsheet would take for
 * a formula get a leading apostrophe.
 */
export function rowsAsCsv(
  columns: readonly string[],
  rows: readonly Readonly<Record<string, string | number>>[],
): string {
  return `${Papa.unparse([...rows], { columns: [...columns], escapeFormulae: true, newline: '\r\n' })}\r\n`;
}

/** A cell of a spreadsheet. */
export type SheetCell = string | number | boolean | Date | null | undefined;

/** A sheet of a workbook as CSV that an import reads: from its heading row on, which is the first with more than one cell; days as 2026-11-23. */
export function sheetAsCsv(rows: readonly (readonly SheetCell[])[]): string {
  const isFilled = (cell: SheetCell) => cell !== null && cell !== undefined && cell !== '';
  const from = rows.findIndex((row) => row.filter(isFilled).length > 1);
  const said = (cell: SheetCell) =>
    cell instanceof Date
      ? cell.toISOString().slice(0, 10)
      : typeof cell === 'boolean'
        ? cell
          ? 'yes'
          : 'no'
        : (cell ?? '');
  return Papa.unparse(
    rows.slice(Math.max(0, from)).map((row) => row.map(said)),
    { newline: '\n' },
  );
}
