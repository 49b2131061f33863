import type { Family } from './family.js';
import type { Prefix } from './prefix.js';
import { prefixTable, sortedRows, writeWords } from './prefixTable.js';
import type { PrefixTable } from './prefixTable.js';

/**
 * An ordered set of (prefix, id) of one family that takes single insertions and removals quickly and
 * answers "what overlaps this?". Ids are small non-negative integers chosen by the caller; one prefix
 * may be held under many ids.
 */
export class PrefixIndex {
  readonly family: Family;
  private readonly wordsPerRow: 1 | 4;
  private words: Uint32Array;
  private lengths: Uint8Array;
  private ids: Uint32Array;
  private held = 0;
  private readonly rowsOfLength = new Uint32Array(129);
  private readonly key = new Uint32Array(4);
  private readonly masked = new Uint32Array(4);

  /** Starts with the given prefixes; ids are their positions. */
  constructor(family: Family, prefixes: readonly Prefix[] = [], idOf: (position: number) => number = (i) => i) {
    const table = prefixTable(family, prefixes);
    const w = table.wordsPerRow;
    const capacity = Math.max(16, table.count + (table.count >> 2));
    this.family = family;
    this.wordsPerRow = w;
    this.words = new Uint32Array(capacity * w);
    this.lengths = new Uint8Array(capacity);
    this.ids = new Uint32Array(capacity);
    this.fill(table, sortedRows(table), idOf);
  }

  /** An index of a table whose order is known already. */
  static of(table: PrefixTable, order: Uint32Array, idOf: (row: number) => number): PrefixIndex {
    const index = new PrefixIndex(table.family);
    index.words = new Uint32Array(Math.max(16, table.count) * table.wordsPerRow);
    index.lengths = new Uint8Array(Math.max(16, table.count));
    index.ids = new Uint32Array(Math.max(16, table.count));
    index.fill(table, order, idOf);
    return index;
  }

  private fill(table: PrefixTable, order: Uint32Array, idOf: (row: number) => number): void {
    const w = table.wordsPerRow;
    for (let at = 0; at < order.length; at++) {
      const row = order[at] as number;
      for (let k = 0; k < w; k++) this.words[at * w + k] = table.words[row * w + k] as number;
      const length = table.lengths[row] as number;
      this.lengths[at] = length;
      this.ids[at] = idOf(row);
      this.countLength(length, 1);
    }
    this.held = table.count;
  }

  /** Number of (prefix, id) held. */
  get size(): number {
    return this.held;
  }

  /** Adds one; the same (prefix, id) twice is the caller's bug and is held twice. */
  insert(value: Prefix, id: number): void {
    const w = this.wordsPerRow;
    writeWords(value, this.key, 0, w);
    const at = this.lowerBound(this.key, value.length);
    if (this.held === this.ids.length) this.grow();
    this.words.copyWithin((at + 1) * w, at * w, this.held * w);
    this.lengths.copyWithin(at + 1, at, this.held);
    this.ids.copyWithin(at + 1, at, this.held);
    for (let k = 0; k < w; k++) this.words[at * w + k] = this.key[k] as number;
    this.lengths[at] = value.length;
    this.ids[at] = id;
    this.held++;
    this.countLength(value.length, 1);
  }

  /** Takes one out; returns whether it was held. */
  remove(value: Prefix, id: number): boolean {
    const w = this.wordsPerRow;
    writeWords(value, this.key, 0, w);
    let at = this.lowerBound(this.key, value.length);
    while (at < this.held && this.compare(at, this.key, value.length) === 0 && this.ids[at] !== id) at++;
    if (at >= this.held || this.ids[at] !== id || this.compare(at, this.key, value.length) !== 0) return false;
    this.words.copyWithin(at * w, (at + 1) * w, this.held * w);
    this.lengths.copyWithin(at, at + 1, this.held);
    this.ids.copyWithin(at, at + 1, this.held);
    this.held--;
    this.countLength(value.length, -1);
    return true;
  }

  /** Visits the ids of all that hold the prefix whole, equal ones included, outermost first. */
  forEachAround(value: Prefix, visit: (id: number, length: number) => void): void {
    const w = this.wordsPerRow;
    writeWords(value, this.key, 0, w);
    for (let length = 0; length <= value.length; length++) {
      if (this.rowsOfLength[length] === 0) continue;
      this.maskKey(length);
      for (let at = this.lowerBound(this.masked, length); at < this.held; at++) {
        if (this.compare(at, this.masked, length) !== 0) break;
        visit(this.ids[at] as number, length);
      }
    }
  }

  /** Visits the ids of all strictly inside the prefix, in order of address. */
  forEachInside(value: Prefix, visit: (id: number, length: number) => void): void {
    const w = this.wordsPerRow;
    writeWords(value, this.key, 0, w);
    for (let at = this.lowerBound(this.key, value.length + 1); at < this.held; at++) {
      if (!this.startsLikeKey(at, value.length)) break;
      visit(this.ids[at] as number, this.lengths[at] as number);
    }
  }

  /** Visits the ids of all that overlap the prefix: around, equal and inside. */
  forEachOverlapping(value: Prefix, visit: (id: number) => void): void {
    this.forEachAround(value, visit);
    this.forEachInside(value, visit);
  }

  /** Visits all ids in order: by address, outer before inner. */
  forEachInOrder(visit: (id: number) => void): void {
    for (let at = 0; at < this.held; at++) visit(this.ids[at] as number);
  }

  private countLength(length: number, by: number): void {
    this.rowsOfLength[length] = (this.rowsOfLength[length] as number) + by;
  }

  private startsLikeKey(at: number, length: number): boolean {
    const w = this.wordsPerRow;
    let rest = length;
    for (let k = 0; rest > 0; k++, rest -= 32) {
      const different = (this.words[at * w + k] as number) ^ (this.key[k] as number);
      if (rest >= 32 ? different !== 0 : different >>> (32 - rest) !== 0) return false;
    }
    return true;
  }

  private maskKey(length: number): void {
    let rest = length;
    for (let k = 0; k < this.wordsPerRow; k++, rest -= 32) {
      const word = this.key[k] as number;
      this.masked[k] = rest >= 32 ? word : rest <= 0 ? 0 : (word & (-1 << (32 - rest))) >>> 0;
    }
  }

  private compare(at: number, key: Uint32Array, length: number): number {
    const w = this.wordsPerRow;
    for (let k = 0; k < w; k++) {
      const held = this.words[at * w + k] as number;
      const sought = key[k] as number;
      if (held !== sought) return held < sought ? -1 : 1;
    }
    return (this.lengths[at] as number) - length;
  }

  private lowerBound(key: Uint32Array, length: number): number {
    let low = 0;
    let high = this.held;
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (this.compare(middle, key, length) < 0) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private grow(): void {
    const capacity = this.ids.length * 2;
    const widen = <T extends Uint32Array | Uint8Array>(old: T, fresh: T): T => {
      fresh.set(old);
      return fresh;
    };
    this.words = widen(this.words, new Uint32Array(capacity * this.wordsPerRow));
    this.lengths = widen(this.lengths, new Uint8Array(capacity));
    this.ids = widen(this.ids, new Uint32Array(capacity));
  }
}
