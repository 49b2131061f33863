import type { Address } from './address.js';
import { addressBits } from './family.js';
import { comparePrefixes, contains, halves, lastAddress, prefixAround, prefixSize, sizeOfLength } from './prefix.js';
import type { Prefix } from './prefix.js';

/** The fewest prefixes that hold exactly the same addresses, in order. Families may be mixed. */
export function merge(prefixes: readonly Prefix[]): Prefix[] {
  const kept: Prefix[] = [];
  for (const next of [...prefixes].sort(comparePrefixes)) {
    const top = kept.at(-1);
    if (top !== undefined && contains(top, next)) continue;
    kept.push(next);
    joinSiblings(kept);
  }
  return kept;
}

function joinSiblings(kept: Prefix[]): void {
  for (;;) {
    const right = kept.at(-1);
    const left = kept.at(-2);
    if (left === undefined || right === undefined) return;
    if (left.family !== right.family || left.length !== right.length || left.length === 0) return;
    const joined = prefixAround(left.family, left.base, left.length - 1);
    if (left.base !== joined.base || right.base !== left.base + prefixSize(left)) return;
    kept.splice(-2, 2, joined);
  }
}

/** What is left of `whole` without `taken`, as the fewest prefixes, in order. */
export function subtract(whole: Prefix, taken: readonly Prefix[]): Prefix[] {
  const inside = merge(taken.filter((t) => t.family === whole.family && (contains(whole, t) || contains(t, whole))));
  if (inside.length === 0) return [whole];
  const free: Prefix[] = [];
  let next = whole.base;
  for (const block of inside) {
    if (contains(block, whole)) return [];
    if (block.base > next) free.push(...coverValues(whole, next, block.base - 1n));
    next = block.base + prefixSize(block);
  }
  const last = lastAddress(whole).value;
  if (next <= last) free.push(...coverValues(whole, next, last));
  return free;
}

/** What of `whole` the others cover, as the fewest prefixes, in order. */
export function intersect(whole: Prefix, others: readonly Prefix[]): Prefix[] {
  return merge(others.flatMap((other) => (contains(whole, other) ? [other] : contains(other, whole) ? [whole] : [])));
}

/** The fewest prefixes for an arbitrary run of addresses, first and last included; empty if first > last. */
export function cover(first: Address, last: Address): Prefix[] {
  if (first.family !== last.family) throw new RangeError('cover: the two addresses are of different families');
  return coverValues(first, first.value, last.value);
}

function coverValues({ family }: { readonly family: Address['family'] }, first: bigint, last: bigint): Prefix[] {
  const found: Prefix[] = [];
  for (let next = first; next <= last;) {
    // The largest block that may start here, and the largest that still fits.
    const fits = powerOfTwoUpTo(last - next + 1n);
    const aligned = next & -next;
    const size = next === 0n || aligned > fits ? fits : aligned;
    found.push(prefixAround(family, next, addressBits(family) - exponentOf(size)));
    next += size;
  }
  return found;
}

function exponentOf(power: bigint): number {
  return power.toString(2).length - 1;
}

function powerOfTwoUpTo(value: bigint): bigint {
  return 1n << BigInt(exponentOf(value));
}

/** All prefixes of the given length inside; the caller bounds the count (2^(length - whole.length)). */
export function* split(whole: Prefix, length: number): Generator<Prefix> {
  const step = sizeOfLength(whole.family, length);
  const end = whole.base + prefixSize(whole);
  for (let base = whole.base; base < end; base += step) yield prefixAround(whole.family, base, length);
}

/** The blocks that split off when `taken` is cut out of `whole` half by half, largest first. */
export function splitAround(whole: Prefix, taken: Prefix): Prefix[] {
  const left: Prefix[] = [];
  let rest = whole;
  while (rest.length < taken.length) {
    const pair = halves(rest);
    if (pair === undefined) break;
    const [low, high] = pair;
    const isLow = contains(low, taken);
    left.push(isLow ? high : low);
    rest = isLow ? low : high;
  }
  return left;
}

/** Sum of the sizes; the prefixes must not overlap. */
export function totalSize(prefixes: readonly Prefix[]): bigint {
  return prefixes.reduce((sum, p) => sum + prefixSize(p), 0n);
}
