import { parse as parseJson, printParseErrorCode } from 'jsonc-parser';
import type { ParseError } from 'jsonc-parser';
import Papa from 'papaparse';
import { isMap, isScalar, isSeq } from 'yaml';
import type { Node } from 'yaml';
import { parseYaml } from '../yaml/index.js';

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
  readonly problem: { readonly line: number; readonly message: string; readonly fix: string } | undefined;
}

/** Most rows one import takes. */
export const MAX_IMPORT_ROWS = 20_000;

/** Which syntax a text is in: JSON by its first bracket, YAML by a leading dash, else CSV (comma, semicolon or tab). */
export function guessSyntax(text: string): RowSyntax {
  const start = text.trimStart();
  if (start.startsWith('[') || start.startsWith('{')) return 'json';
  return start.startsWith('- ') || start.startsWith('---') ? 'yaml' : 'csv';
}

/** Splits a text into rows with the line each starts at. */
export function readRows(text: string, syntax: RowSyntax = guessSyntax(text)): RawRows {
  const read = syntax === 'csv' ? readCsv(text) : syntax === 'json' ? readJson(text) : readYaml(text);
  if (read.rows.length <= MAX_IMPORT_ROWS) return read;
  return {
    syntax,
    rows: [],
    problem: {
      line: 1,
      message: `${read.rows.length} rows; one import takes ${MAX_IMPORT_ROWS} at most.`,
      fix: 'Split the file.',
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
    delimiter: markOf(body),
    step: ({ data, errors, meta }) => {
      const start = line;
      line += countNewlines(body, read, meta.cursor);
      read = meta.cursor;
      const wrong = errors.find((each) => each.type === 'Quotes');
      if (wrong !== undefined)
        problem ??= {
          line: start,
          message: 'A quoted cell is not closed properly.',
          fix: 'Close the quote, or double quotes inside a cell.',
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
    problem = { line: 1, message: 'There is no heading row.', fix: 'Start with the column names.' };
  return { syntax: 'csv', rows: problem === undefined ? rows : [], problem };
}

/** What sets cells apart, read off the heading line: later lines hold lists with marks of their own. */
function markOf(text: string): string {
  const head =
    text
      .trimStart()
      .split('\n', 1)[0]
      ?.replace(/"[^"]*"/g, '') ?? '';
  const counts = ['\t', ';', ','].map((mark) => ({ mark, count: head.split(mark).length - 1 }));
  const [most] = counts.sort((a, b) => b.count - a.count);
  return most === undefined || most.count === 0 ? ',' : most.mark;
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

function readJson(text: string): RawRows {
  const syntax = 'json';
  let list: unknown;
  try {
    list = JSON.parse(text);
  } catch {
    return { syntax, rows: [], problem: jsonProblem(text) };
  }
  if (!Array.isArray(list)) return { syntax, rows: [], problem: noList };
  const lines = linesOfItems(text);
  const wrong = list.findIndex((item) => typeof item !== 'object' || item === null || Array.isArray(item));
  if (wrong >= 0) return { syntax, rows: [], problem: { line: lines[wrong] ?? 1, ...noRow } };
  const rows = list.map((item: object, i) => ({ line: lines[i] ?? 1, cells: { ...item } }));
  return { syntax, rows, problem: undefined };
}

/** Engines differ in what they tell of a fault, so its place is looked for once there is one. */
function jsonProblem(text: string): RawRows['problem'] {
  const errors: ParseError[] = [];
  parseJson(text, errors);
  const [first] = errors;
  const line = first === undefined ? 1 : 1 + countNewlines(text, 0, first.offset);
  const what = first === undefined ? 'it is no JSON' : printParseErrorCode(first.error);
  return { line, message: `The file cannot be read: ${what}.`, fix: 'Correct it there.' };
}

const noList = { line: 1, message: 'The file holds no list of rows.', fix: 'Write a list of objects.' };
const noRow = { message: 'This entry is not a row.', fix: 'Write it as an object with fields.' };

/** The line each item of a JSON list starts at; the text is known to be good JSON. */
function linesOfItems(text: string): number[] {
  const lines: number[] = [];
  let line = 1;
  let depth = 0;
  let isInText = false;
  let isBetween = false;
  for (let at = 0; at < text.length; at++) {
    const sign = text[at] as string;
    if (sign === '\n') line++;
    if (isInText) {
      if (sign === '\\') at++;
      else if (sign === '"') isInText = false;
      continue;
    }
    if (isBetween && !/[\s\]]/.test(sign)) {
      lines.push(line);
      isBetween = false;
    }
    if (sign === '"') isInText = true;
    else if (sign === '{' || sign === '[') {
      depth++;
      isBetween ||= depth === 1;
    } else if (sign === '}' || sign === ']') depth--;
    else if (sign === ',' && depth === 1) isBetween = true;
  }
  return lines;
}

function readYaml(text: string): RawRows {
  const syntax = 'yaml';
  const read = parseYaml(text);
  if (!read.ok) {
    const { line, message, fix } = read;
    return { syntax, rows: [], problem: { line, message: `The file cannot be read: ${message}.`, fix } };
  }
  const list = read.document.contents;
  if (!isSeq(list)) return { syntax, rows: [], problem: noList };
  const lineOf = (node: Node) => read.lineAt(node.range?.[0] ?? 0);
  const rows: RawRow[] = [];
  for (const item of list.items) {
    if (!isMap(item)) {
      return { syntax, rows: [], problem: { line: lineOf(item as Node), ...noRow } };
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
