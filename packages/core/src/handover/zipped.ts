import { strToU8, zipSync } from 'fflate';
import type { HandoverFile } from './files.js';

/** The first day that a zip can say: every file is of it, so that the same files are the same bytes. */
const NO_DAY = new Date(1980, 0, 1);

/** Files as one zip, in their order, in a folder of its own. */
export function zipped(files: readonly HandoverFile[], folder: string): Uint8Array {
  return zipSync(Object.fromEntries(files.map(({ path, text }) => [`${folder}/${path}`, strToU8(text)])), {
    mtime: NO_DAY,
    level: 6,
  });
}
