import { strToU8, zipSync } from 'fflate';
import { pathOf } from './files.js';
import type { HandoverFile } from './files.js';

/** The first day that a zip can say: every file is of it, so that the same files are the same bytes. */
const NO_DAY = new Date(1980, 0, 1);

/** Files as one zip, in their order, in a folder that is called as the name says. */
export function zipped(files: readonly HandoverFile[], name: string): Uint8Array {
  const folder = pathOf(name);
  return zipSync(Object.fromEntries(files.map(({ path, text }) => [`${folder}/${path}`, strToU8(text)])), {
    mtime: NO_DAY,
    level: 6,
  });
}
