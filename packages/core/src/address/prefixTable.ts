import type { Address } from './address.js';
import type { Family } from './family.js';
import type { Prefix } from './prefix.js';

/** Prefixes of one family in typed arrays, for work on many at once. Row order is the order of insertion. */
export interface PrefixTable {
  readonly family: Family;
  readonly count: number;
  /** 32-bit words a row, most significant first: 1 for IPv4, 4 for IPv6. */
  readonly words: Uint32Array;
  readonly wordsPerRow: 1 | 4;
  readonly lengths: Uint8Array;
}

/** Copies prefixes of one family into a table; throws when a family differs, since that is the caller's bug. */
export function prefixTable(family: Family, prefixes: readonly Prefix[]): PrefixTable {
  const wordsPerRow = family === 4 ? 1 : 4;
  const words = new Uint32Array(prefixes.length * wordsPerRow);
  const lengths = new Uint8Array(prefixes.length);
  prefixes.forEach((value, row) => {
    if (value.family !== family) throw new RangeError(`prefixTable: row ${row} is not of family ${family}`);
    writeWords(value, words, row * wordsPerRow, wordsPerRow);
    lengths[row] = value.length;
  });
  return { family, count: prefixes.length, words, wordsPerRow, lengths };
}

/** Writes the words of an address, most significant first. */
export function writeWords(address: Address, into: Uint32Array, at: number, wordsPerRow: 1 | 4): void {
  into[at] = address.w0;
  if (wordsPerRow === 1) return;
  into[at + 1] = address.w1;
  into[at + 2] = address.w2;
  into[at + 3] = address.w3;
}

/** Whether two rows agree in their first `length` bits. */
export function sharesLeadingBits(words: Uint32Array, a: number, b: number, length: number): boolean {
  let rest = length;
  for (let w = 0; rest > 0; w++, rest -= 32) {
    const different = (words[a + w] as number) ^ (words[b + w] as number);
    if (rest >= 32 ? different !== 0 : different >>> (32 - rest) !== 0) return false;
  }
  return true;
}

const DIGIT_BITS = 16;

/**
 * Row numbers ordered by base, then length: an outer prefix stands right before what it holds.
 * Least-significant-digit radix order, so the time grows with the count alone.
 */
export function sortedRows(table: PrefixTable): Uint32Array {
  const { count, words, wordsPerRow, lengths } = table;
  let from = new Uint32Array(count);
  for (let i = 0; i < count; i++) from[i] = i;
  if (count < 2) return from;
  let to = new Uint32Array(count);
  const wide = count > 4096;
  const digitBits = wide ? DIGIT_BITS : 8;
  const counts = new Uint32Array(1 << digitBits);
  const pass = (digitOf: (row: number) => number) => {
    counts.fill(0);
    for (let i = 0; i < count; i++) {
      const digit = digitOf(from[i] as number);
      counts[digit] = (counts[digit] as number) + 1;
    }
    if (counts[digitOf(from[0] as number)] === count) return; // all alike: the order stands
    let sum = 0;
    for (let d = 0; d < counts.length; d++) {
      const here = counts[d] as number;
      counts[d] = sum;
      sum += here;
    }
    for (let i = 0; i < count; i++) {
      const row = from[i] as number;
      const digit = digitOf(row);
      const at = counts[digit] as number;
      to[at] = row;
      counts[digit] = at + 1;
    }
    [from, to] = [to, from];
  };
  pass((row) => lengths[row] as number);
  const mask = (1 << digitBits) - 1;
  for (let w = wordsPerRow - 1; w >= 0; w--) {
    for (let shift = 0; shift < 32; shift += digitBits) {
      pass((row) => ((words[row * wordsPerRow + w] as number) >>> shift) & mask);
    }
  }
  return from;
}

/**
 * Visits every pair of overlapping rows once, the outer (or equal and earlier) first. Prefixes nest or
 * are disjoint, so one pass over the ordered rows with one stack of open prefixes finds them all.
 * Rows marked quiet (1) are not paired with each other: they stand on a stack of their own.
 */
export function forEachOverlap(
  table: PrefixTable,
  order: Uint32Array,
  visit: (outerRow: number, innerRow: number) => void,
  quiet?: Uint8Array,
): void {
  const { words, wordsPerRow, lengths } = table;
  const open = new Uint32Array(table.count);
  const openQuiet = new Uint32Array(quiet === undefined ? 0 : table.count);
  const closeBefore = (stack: Uint32Array, from: number, at: number) => {
    let depth = from;
    while (depth > 0) {
      const top = stack[depth - 1] as number;
      if (sharesLeadingBits(words, top * wordsPerRow, at, lengths[top] as number)) break;
      depth--;
    }
    return depth;
  };
  let depth = 0;
  let quietDepth = 0;
  for (let i = 0; i < order.length; i++) {
    const row = order[i] as number;
    depth = closeBefore(open, depth, row * wordsPerRow);
    for (let d = 0; d < depth; d++) visit(open[d] as number, row);
    if (quiet === undefined) {
      open[depth++] = row;
      continue;
    }
    quietDepth = closeBefore(openQuiet, quietDepth, row * wordsPerRow);
    if (quiet[row] === 1) {
      openQuiet[quietDepth++] = row;
    } else {
      for (let d = 0; d < quietDepth; d++) visit(openQuiet[d] as number, row);
      open[depth++] = row;
    }
  }
}
