import { stringify } from 'yaml';
import { rowsAsCsv } from '../exchange/index.js';

/** One file of a bundle: its path with slashes, in letters that every file system takes, and its text. */
export interface HandoverFile {
  readonly path: string;
  readonly text: string;
}

type Row = Readonly<Record<string, string | number>>;

/** The same rows three times: as CSV, JSON and YAML. */
export function tableFiles(path: string, columns: readonly string[], rows: readonly Row[]): HandoverFile[] {
  return [
    { path: `${path}.csv`, text: rowsAsCsv(columns, rows) },
    { path: `${path}.json`, text: json(rows) },
    { path: `${path}.yaml`, text: yaml(rows) },
  ];
}

/** A value as JSON, with a final line feed. */
export function json(value: unknown): string {
  return `${JSON.stringify(value, null, 2)}\n`;
}

/** A value as YAML, each line as it is. */
export function yaml(value: unknown): string {
  return stringify(value, { aliasDuplicateObjects: false, lineWidth: 0 });
}

/** A name as a part of a path: small letters, digits, dots and dashes. */
export function pathOf(name: string): string {
  const plain = name.normalize('NFKD').replaceAll(/[^\w.-]+/g, '-');
  return plain.replaceAll(/^[-.]+|-+$/g, '').toLowerCase() || 'unnamed';
}

/** Paths by names, no two alike: a further one has a number. */
export class Paths {
  private readonly taken = new Set<string>();

  of(name: string): string {
    const base = pathOf(name);
    let path = base;
    for (let at = 2; this.taken.has(path); at++) path = `${base}-${at}`;
    this.taken.add(path);
    return path;
  }
}
