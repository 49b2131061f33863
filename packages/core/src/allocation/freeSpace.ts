import { addressBits, comparePrefixes, overlaps, prefixAround, splitAround, subtract } from '../address/index.js';
import type { Prefix } from '../address/index.js';

/** Free blocks of one prefix; taking cuts blocks half by half, so every block keeps its natural alignment. */
export class FreeSpace {
  private constructor(private blocks: Prefix[]) {}

  /** What is left of `whole` without `taken`. */
  static within(whole: Prefix, taken: readonly Prefix[] = []): FreeSpace {
    return new FreeSpace(subtract(whole, taken));
  }

  /** The free blocks in order of address. */
  get free(): readonly Prefix[] {
    return this.blocks;
  }

  /** The largest free block, the lowest on a tie; undefined when all is taken. */
  largest(): Prefix | undefined {
    return this.blocks.reduce<Prefix | undefined>(
      (best, block) => (best === undefined || block.length < best.length ? block : best),
      undefined,
    );
  }

  /**
   * Takes a prefix of this length: beside `neighbour` when one is given (so that few summary prefixes cover
   * both), else from the smallest block that fits, the lowest on a tie. Undefined when nothing fits.
   */
  take(length: number, neighbour?: Prefix): Prefix | undefined {
    let best: { block: Prefix; nearness: number } | undefined;
    for (const block of this.blocks) {
      if (block.length > length) continue;
      const nearness = neighbour === undefined ? 0 : sharedBits(block, neighbour);
      const isBetter =
        best === undefined ||
        nearness > best.nearness ||
        (nearness === best.nearness && block.length > best.block.length);
      if (isBetter) best = { block, nearness };
    }
    if (best === undefined) return undefined;
    const { block } = best;
    const fromEnd = neighbour !== undefined && neighbour.base > block.base;
    const lastBase = block.base + (1n << BigInt(addressBits(block.family) - block.length)) - 1n;
    const taken = prefixAround(block.family, fromEnd ? lastBase : block.base, length);
    this.blocks.splice(this.blocks.indexOf(block), 1, ...[...splitAround(block, taken)].sort(comparePrefixes));
    return taken;
  }

  /** Puts blocks back; they must have been taken from here. */
  giveBack(blocks: readonly Prefix[]): void {
    this.blocks.push(...blocks);
    this.blocks.sort(comparePrefixes);
  }

  /** Takes out what was given away elsewhere, whether it was free here or not. */
  exclude(taken: Prefix): void {
    if (this.blocks.some((block) => overlaps(block, taken)))
      this.blocks = this.blocks.flatMap((block) => subtract(block, [taken]));
  }

  /** A copy without the given prefixes. */
  without(taken: readonly Prefix[]): FreeSpace {
    return new FreeSpace(this.blocks.flatMap((block) => subtract(block, taken)));
  }
}

/** Leading bits two prefixes share, at most the shorter length. */
function sharedBits(a: Prefix, b: Prefix): number {
  const length = Math.min(a.length, b.length);
  const different = (a.base ^ b.base) >> BigInt(addressBits(a.family) - length);
  return different === 0n ? length : length - different.toString(2).length;
}
