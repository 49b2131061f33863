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
