import { writeFileSync } from 'node:fs';
import { unusable } from './commands.js';
import type { Outcome } from './commands.js';

/** Writes a file and gives what is then to be told; or why it cannot be written. */
export function written(path: string, data: string | Uint8Array, output: string): Outcome {
  try {
    writeFileSync(path, data);
  } catch (error) {
    return unusable([`${path} cannot be written: ${error instanceof Error ? error.message : String(error)}`]);
  }
  return { exitCode: 0, output, errors: '' };
}
