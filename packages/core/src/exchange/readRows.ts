import Papa from 'papaparse';
import { isMap, isScalar, isSeq, LineCounter, parseDocument } from 'yaml';
import type { Node } from 'yaml';

/** How a list of rows is written. */
export type RowSyntax = 'csv' | 'json' | 'yaml';

/** One row as written: the line it starts at and its cells by heading. */
export interface RawRow {
  readonly line: number;
  readonly cells: Readonly<Record<string, unknown>>;
}

/** Rows as written, or why nothing could be read. */
export interface RawRows {
  readonly syntax: RowSyntax;
  readonly rows: readonly RawRow[];
  readonly problem: { readonly line: number; readonly message: string; readonly mend: string } | undefined;
}

/** Most rows one import takes. */
export const MAX_IMPORT_ROWS = 10_000;

/** Which syntax a text is in: JSON by its first bracket, YAML by a leading dash, else CSV (comma, semicolon or tab). */
export function guessSyntax(text: string): RowSyntax {
  const start = text.trimStart();
  if (start.startsWith('[') || start.startsWith('{')) return 'json';
  return start.startsWith('- ') || start.startsWith('---') ? 'yaml' : 'csv';
}

/** Splits a text into rows with the line each starts at. */
export function readRows(text: string, syntax: RowSyntax = guessSyntax(text)): RawRows {
  const read = syntax === 'csv' ? readCsv(text) : readDocument(text, syntax);
  if (read.rows.length <= MAX_IMPORT_ROWS) return read;
  return {
    syntax,
    rows: [],
    problem: {
      line: 1,
      message: `${read.rows.length} rows; one import takes ${MAX_IMPORT_ROWS} at most.`,
      mend: 'Split the file.',
    },
  };
}

function readCsv(text: string): RawRows {
  const body = text.replace(/^\ufeff/, '');
  const rows: RawRow[] = [];
  let headings: string[] | undefined;
  let line = 1;
  let read = 0;
  let problem: RawRows['problem'];
  Papa.parse<string[]>(body, {
    step: ({ data, errors, meta }) => {
      const start = line;
      line += countNewlines(body, read, meta.cursor);
      read = meta.cursor;
      const wrong = errors.find((each) => each.type === 'Quotes');
      if (wrong !== undefined)
        problem ??= {
          line: start,
          message: 'A quoted cell is not closed properly.',
          mend: 'Close the quote, or double quotes inside a cell.',
        };
      if (data.every((cell) => cell.trim() === '')) return;
      if (headings === undefined) {
        headings = data.map((cell) => cell.trim());
        return;
      }
      const names = headings;
      rows.push({ line: start, cells: Object.fromEntries(data.flatMap((cell, i) => cellOf(names[i], cell, i))) });
    },
  });
  if (problem === undefined && headings === undefined)
    problem = { line: 1, message: 'There is no heading row.', mend: 'Start with the column names.' };
  return { syntax: 'csv', rows: problem === undefined ? rows : [], problem };
}

function cellOf(heading: string | undefined, cell: string, column: number): [string, unknown][] {
  if (heading === undefined || heading === '') return cell.trim() === '' ? [] : [[`column ${column + 1}`, cell]];
  return [[heading, cell]];
}

function countNewlines(text: string, from: number, to: number): number {
  let count = 0;
  for (let at = text.indexOf('\n', from); at >= 0 && at < to; at = text.indexOf('\n', at + 1)) count++;
  return count;
}

function readDocument(text: string, syntax: 'json' | 'yaml'): RawRows {
  const lines = new LineCounter();
  // JSON is read as YAML 1.2, of which it is a part, because that keeps the line of every row.
  const document = parseDocument(text, { lineCounter: lines });
  const first = document.errors[0];
  if (first !== undefined) {
    const problem = {
      line: lines.linePos(first.pos[0]).line,
      message: `The ${syntax.toUpperCase()} cannot be read: ${(first.message.split('\n')[0] ?? '').replace(/:$/, '')}.`,
      mend: 'Correct it there.',
    };
    return { syntax, rows: [], problem };
  }
  const list = document.contents;
  if (!isSeq(list))
    return {
      syntax,
      rows: [],
      problem: { line: 1, message: 'The file holds no list of rows.', mend: 'Write a list of objects.' },
    };
  const lineOf = (node: Node) => lines.linePos(node.range?.[0] ?? 0).line;
  const rows: RawRow[] = [];
  for (const item of list.items) {
    if (!isMap(item)) {
      const line = lineOf(item as Node);
      return {
        syntax,
        rows: [],
        problem: { line, message: 'This entry is not a row.', mend: 'Write it as an object with fields.' },
      };
    }
    const cells = item.items.map((pair): [string, unknown] => [
      String(isScalar(pair.key) ? pair.key.value : pair.key),
      plain(pair.value),
    ]);
    rows.push({ line: lineOf(item), cells: Object.fromEntries(cells) });
  }
  return { syntax, rows, problem: undefined };
}

function plain(node: unknown): unknown {
  if (isScalar(node)) return node.value;
  if (isSeq(node)) return node.items.map(plain);
  // A nested object is no cell; its rule refuses the text.
  return node === null ? null : JSON.stringify(node);
}
