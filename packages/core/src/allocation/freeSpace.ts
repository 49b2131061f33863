import {
  addressBits,
  commonBits,
  compareAddresses,
  comparePrefixes,
  contains,
  isSamePrefix,
  lastAddress,
  overlaps,
  prefixAround,
  sibling,
  parent,
  splitAround,
  subtract,
} from '../address/index.js';
import type { Address, Family, Prefix } from '../address/index.js';

/** A new neighbourhood is begun in a block this many bits larger than its first range: room for eight. */
const APART_BITS = 3;

/** Free blocks of one prefix; taking cuts blocks half by half, so every block keeps its natural alignment. */
export class FreeSpace {
  /** The blocks of each length, in order of address. */
  private readonly bins: Prefix[][];

  private constructor(family: Family) {
    this.bins = Array.from({ length: addressBits(family) + 1 }, () => []);
  }

  /** What is left of `whole` without `taken`. */
  static within(whole: Prefix, taken: readonly Prefix[] = []): FreeSpace {
    const space = new FreeSpace(whole.family);
    // They come in order of address, so each bin is in order too.
    for (const block of subtract(whole, taken)) space.bin(block.length).push(block);
    return space;
  }

  /** The free blocks in order of address. */
  get free(): readonly Prefix[] {
    return this.bins.flat().sort(comparePrefixes);
  }

  /** The largest free block, the lowest on a tie; undefined when all is taken. */
  largest(): Prefix | undefined {
    return this.bins.find((bin) => bin.length > 0)?.[0];
  }

  /**
   * Takes a prefix of this length: beside one of `neighbours` when there are any (so that few summary prefixes cover
   * them), else from the smallest block that fits, the lowest on a tie. Undefined when nothing fits.
   */
  take(length: number, neighbours: readonly Prefix[] = []): Prefix | undefined {
    const found = this.nearestFit(length, neighbours);
    const block = found?.block ?? this.smallestFit(length);
    if (block === undefined) return undefined;
    const fromEnd = found !== undefined && compareAddresses(found.neighbour, block) > 0;
    const taken = prefixAround(fromEnd ? lastAddress(block) : block, length);
    this.cut(block, taken);
    return taken;
  }

  /**
   * Takes a prefix of this length with free space after it, for more of its kind to come: from the smallest block that
   * is several times as large, else the largest below that. The largest block of all stays whole as long as another fits.
   */
  takeApart(length: number): Prefix | undefined {
    const most = this.largest();
    const first = (at: number) => this.bins[at]?.find((block) => block !== most);
    let block: Prefix | undefined;
    for (let at = length - APART_BITS; at >= 0 && block === undefined; at--) block = first(at);
    for (let at = Math.max(0, length - APART_BITS + 1); at <= length && block === undefined; at++) block = first(at);
    block ??= this.smallestFit(length);
    if (block === undefined) return undefined;
    const taken = prefixAround(block, length);
    this.cut(block, taken);
    return taken;
  }

  /** Where a prefix of this length that overlaps none of `avoid` would go by size; nothing is taken. */
  fit(length: number, avoid: readonly Prefix[]): Prefix | undefined {
    let best: Prefix | undefined;
    const offer = (block: Prefix) => {
      const isBetter =
        best === undefined ||
        block.length > best.length ||
        (block.length === best.length && compareAddresses(block, best) < 0);
      if (block.length <= length && isBetter) best = block;
    };
    for (let at = Math.min(length, this.bins.length - 1); at >= 0; at--) {
      for (const block of this.bin(at)) {
        if (avoid.some((other) => overlaps(block, other))) {
          for (const rest of subtract(block, avoid)) offer(rest);
        } else {
          offer(block);
          break;
        }
      }
    }
    return best === undefined ? undefined : prefixAround(best, length);
  }

  /** Puts blocks back, joined with free siblings; they must have been taken from here. */
  giveBack(blocks: readonly Prefix[]): void {
    for (const block of blocks) {
      let whole = block;
      for (;;) {
        const other = sibling(whole);
        const wider = parent(whole);
        if (other === undefined || wider === undefined || !this.remove(other)) break;
        whole = wider;
      }
      this.insert(whole);
    }
  }

  /** Takes out what was given away elsewhere; returns what of it was free here. */
  exclude(taken: Prefix): Prefix[] {
    for (let length = 0; length <= taken.length; length++) {
      const around = this.find(prefixAround(taken, length));
      if (around === undefined) continue;
      this.cut(around, taken);
      return [taken];
    }
    const out: Prefix[] = [];
    for (let length = taken.length + 1; length < this.bins.length; length++) {
      const bin = this.bin(length);
      const from = position(bin, taken);
      let to = from;
      while (to < bin.length && contains(taken, bin[to] as Prefix)) to++;
      if (to > from) out.push(...bin.splice(from, to - from));
    }
    return out;
  }

  private smallestFit(length: number): Prefix | undefined {
    for (let at = length; at >= 0; at--) {
      const first = this.bins[at]?.[0];
      if (first !== undefined) return first;
    }
    return undefined;
  }

  /** Of blocks of one length, those next to an address share the most leading bits with it; the smaller block wins a tie. */
  private nearestFit(length: number, neighbours: readonly Prefix[]): { block: Prefix; neighbour: Prefix } | undefined {
    let best: { block: Prefix; neighbour: Prefix; nearness: number } | undefined;
    for (let at = length; at >= 0; at--) {
      const bin = this.bin(at);
      if (bin.length === 0) continue;
      for (const neighbour of neighbours) {
        const near = position(bin, neighbour);
        for (const block of [bin[near - 1], bin[near]]) {
          if (block === undefined) continue;
          const nearness = sharedBits(block, neighbour);
          if (best === undefined || nearness > best.nearness) best = { block, neighbour, nearness };
        }
      }
    }
    return best;
  }

  private cut(block: Prefix, taken: Prefix): void {
    this.remove(block);
    for (const rest of splitAround(block, taken)) this.insert(rest);
  }

  private bin(length: number): Prefix[] {
    // There is one for every length of the family.
    return this.bins[length] as Prefix[];
  }

  private find(block: Prefix): Prefix | undefined {
    const bin = this.bin(block.length);
    const found = bin[position(bin, block)];
    return found !== undefined && isSamePrefix(found, block) ? found : undefined;
  }

  private insert(block: Prefix): void {
    const bin = this.bin(block.length);
    bin.splice(position(bin, block), 0, block);
  }

  private remove(block: Prefix): boolean {
    const bin = this.bin(block.length);
    const at = position(bin, block);
    const found = bin[at];
    if (found === undefined || !isSamePrefix(found, block)) return false;
    bin.splice(at, 1);
    return true;
  }
}

/** Where a base stands in a list ordered by base, or would be put. */
function position(bin: readonly Prefix[], base: Address): number {
  let low = 0;
  let high = bin.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (compareAddresses(bin[middle] as Prefix, base) < 0) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Leading bits two prefixes share, at most the shorter length. */
function sharedBits(a: Prefix, b: Prefix): number {
  return Math.min(a.length, b.length, commonBits(a, b));
}
