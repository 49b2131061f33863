import type { Address } from './address.js';
import type { Family } from './family.js';
import type { Prefix } from './prefix.js';
import { prefixTable, sharesLeadingBits, sortedRows, writeWords } from './prefixTable.js';
import type { PrefixTable } from './prefixTable.js';

/** First bits that the index narrows a look-up by: fewer for small sets. */
const MIN_BITS = 4;
const MAX_BITS = 16;

/**
 * Longest prefix match over a fixed set of prefixes of one family. The nested prefixes are flattened to
 * disjoint runs of addresses, each with the row that wins there, so a look-up is one binary search,
 * narrowed by the first bits: as many as keep the runs behind each few, so that a small set has a small index.
 */
export class LongestMatch {
  readonly family: Family;
  /** For each row, the row directly around it (or equal and earlier), or -1. */
  readonly outerRow: Int32Array;
  private readonly wordsPerRow: 1 | 4;
  private starts: Uint32Array;
  private winners: Int32Array;
  private runs = 0;
  /** How far an address is shifted to its first bits, and the first run behind each value of them. */
  private readonly shift: number;
  private readonly firstRun: Uint32Array;
  private readonly sought = new Uint32Array(4);

  constructor(family: Family, prefixes: readonly Prefix[]) {
    const table = prefixTable(family, prefixes);
    this.family = family;
    this.wordsPerRow = table.wordsPerRow;
    this.outerRow = new Int32Array(table.count).fill(-1);
    // Each prefix opens one run and closes into at most one.
    this.starts = new Uint32Array((2 * table.count + 1) * table.wordsPerRow);
    this.winners = new Int32Array(2 * table.count + 1);
    this.flatten(table);
    this.starts = this.starts.slice(0, this.runs * this.wordsPerRow);
    this.winners = this.winners.slice(0, this.runs);
    const bits = Math.min(MAX_BITS, Math.max(MIN_BITS, 32 - Math.clz32(this.runs) + 1));
    this.shift = 32 - bits;
    this.firstRun = this.indexFirstBits(1 << bits);
  }

  /** The row of the longest prefix that holds the address, or -1. Of equal prefixes the last given wins. */
  find(address: Address): number {
    if (address.family !== this.family) return -1;
    writeWords(address, this.sought, 0, this.wordsPerRow);
    return this.findWords();
  }

  /** `find` for an IPv4 address as an unsigned 32-bit number; only for tables of family 4. */
  findIpv4(value: number): number {
    this.sought[0] = value;
    return this.findWords();
  }

  private findWords(): number {
    const bucket = (this.sought[0] as number) >>> this.shift;
    let low = this.firstRun[bucket] as number;
    let high = this.firstRun[bucket + 1] as number;
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (this.startsAfterSought(middle)) high = middle;
      else low = middle + 1;
    }
    return this.winners[low - 1] as number;
  }

  private startsAfterSought(run: number): boolean {
    const w = this.wordsPerRow;
    for (let k = 0; k < w; k++) {
      const start = this.starts[run * w + k] as number;
      const sought = this.sought[k] as number;
      if (start !== sought) return start > sought;
    }
    return false;
  }

  private flatten(table: PrefixTable): void {
    const { words, wordsPerRow, lengths } = table;
    const open: number[] = [];
    const start = new Uint32Array(4);
    this.pushRun(start, -1);
    const close = () => {
      const row = open.pop() as number;
      if (afterPrefix(words, row * wordsPerRow, lengths[row] as number, wordsPerRow, start)) {
        this.pushRun(start, open.at(-1) ?? -1);
      }
    };
    for (const row of sortedRows(table)) {
      const at = row * wordsPerRow;
      while (open.length > 0) {
        const top = open.at(-1) as number;
        if (sharesLeadingBits(words, top * wordsPerRow, at, lengths[top] as number)) break;
        close();
      }
      this.outerRow[row] = open.at(-1) ?? -1;
      for (let k = 0; k < wordsPerRow; k++) start[k] = words[at + k] as number;
      this.pushRun(start, row);
      open.push(row);
    }
    while (open.length > 0) close();
  }

  private pushRun(start: Uint32Array, winner: number): void {
    const w = this.wordsPerRow;
    const isSameStart = this.runs > 0 && hasWordsAt(this.starts, (this.runs - 1) * w, start, w);
    if (!isSameStart) this.runs++;
    const at = (this.runs - 1) * w;
    for (let k = 0; k < w; k++) this.starts[at + k] = start[k] as number;
    this.winners[this.runs - 1] = winner;
  }

  /** For each bucket the first run that starts in it or later. */
  private indexFirstBits(buckets: number): Uint32Array {
    const firstRun = new Uint32Array(buckets + 1);
    let run = 0;
    for (let bucket = 0; bucket < buckets; bucket++) {
      while (run < this.runs && (this.starts[run * this.wordsPerRow] as number) >>> this.shift < bucket) run++;
      firstRun[bucket] = run;
    }
    firstRun[buckets] = this.runs;
    return firstRun;
  }
}

function hasWordsAt(words: Uint32Array, at: number, other: Uint32Array, count: number): boolean {
  for (let k = 0; k < count; k++) if (words[at + k] !== other[k]) return false;
  return true;
}

/** Writes the address right after the prefix; false when the prefix ends the address space. */
function afterPrefix(words: Uint32Array, at: number, length: number, count: number, into: Uint32Array): boolean {
  let carry = true;
  for (let k = count - 1; k >= 0; k--) {
    const fixed = Math.min(32, Math.max(0, length - 32 * k));
    const hostMask = fixed === 32 ? 0 : 0xffffffff >>> fixed;
    const last = ((words[at + k] as number) | hostMask) >>> 0;
    const next: number = carry ? last + 1 : last;
    carry = next > 0xffffffff;
    into[k] = next >>> 0;
  }
  return !carry;
}
