import { stringify } from 'yaml';
import { rowsAsCsv } from '../exchange/index.js';

/** One file of a bundle: its path with slashes, in letters that every file system takes, and its text, which is written when it is first read. */
export interface HandoverFile {
  readonly path: string;
  readonly text: string;
}

/** A file whose text is written once, and only where it is read: a page that lists a bundle reads none. */
export function fileAt(path: string, write: () => string): HandoverFile {
  let text: string | undefined;
  return {
    path,
    get text() {
      return (text ??= write());
    },
  };
}

type Row = Readonly<Record<string, string | number>>;

/** The same rows three times: as CSV, JSON and YAML. */
export function tableFiles(path: string, columns: readonly string[], rows: readonly Row[]): HandoverFile[] {
  return [
    fileAt(`${path}.csv`, () => rowsAsCsv(columns, rows)),
    fileAt(`${path}.json`, () => json(rows)),
    fileAt(`${path}.yaml`, () => yaml(rows)),
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
  private readonly taken: Set<string>;

  constructor(taken: readonly string[] = []) {
    this.taken = new Set(taken);
  }

  of(name: string): string {
    const base = pathOf(name);
    let path = base;
    for (let at = 2; this.taken.has(path); at++) path = `${base}-${at}`;
    this.taken.add(path);
    return path;
  }
}
