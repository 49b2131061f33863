import { addressAt, addressValue, bitOf, commonBits } from './address.js';
import type { Address } from './address.js';
import { addressBits } from './family.js';
import type { Family } from './family.js';
import {
  contains,
  halves,
  lastAddress,
  overlaps,
  prefixAround,
  prefixSize,
  siblingAround,
  sizeOfLength,
} from './prefix.js';
import type { Prefix } from './prefix.js';
import { prefixTable, sortedRows } from './prefixTable.js';

const families: readonly Family[] = [4, 6];

/** The fewest prefixes that hold exactly the same addresses, in order. Families may be mixed. */
export function merge(prefixes: readonly Prefix[]): Prefix[] {
  return families.flatMap((family) =>
    mergeFamily(
      family,
      prefixes.filter((each) => each.family === family),
    ),
  );
}

function mergeFamily(family: Family, prefixes: readonly Prefix[]): Prefix[] {
  if (prefixes.length < 2) return [...prefixes];
  const kept: Prefix[] = [];
  for (const row of sortedRows(prefixTable(family, prefixes))) {
    let next = prefixes[row] as Prefix;
    let top = kept.at(-1);
    if (top !== undefined && contains(top, next)) continue;
    while (top !== undefined && isRightHalfOf(top, next)) {
      kept.pop();
      next = prefixAround(top, top.length - 1);
      top = kept.at(-1);
    }
    kept.push(next);
  }
  return kept;
}

/** Whether two prefixes, the second after the first, are the halves of one. */
function isRightHalfOf(left: Prefix, right: Prefix): boolean {
  return left.length === right.length && left.length > 0 && commonBits(left, right) === left.length - 1;
}

/** What is left of `whole` without `taken`, as the fewest prefixes, in order. */
export function subtract(whole: Prefix, taken: readonly Prefix[]): Prefix[] {
  const inside = merge(taken.filter((each) => overlaps(whole, each)));
  const [first] = inside;
  if (first === undefined) return [whole];
  if (contains(first, whole)) return [];
  const free: Prefix[] = [];
  pushBefore(first, whole.length, free);
  for (let i = 1; i < inside.length; i++) {
    const [left, right] = [inside[i - 1] as Prefix, inside[i] as Prefix];
    const shared = commonBits(left, right);
    pushAfter(left, shared + 1, free);
    pushBefore(right, shared + 1, free);
  }
  pushAfter(inside.at(-1) as Prefix, whole.length, free);
  return free;
}

/** The blocks below a prefix of that length, around `block` and before it: the left siblings on the way down to it. */
function pushBefore(block: Prefix, above: number, into: Prefix[]): void {
  for (let length = above + 1; length <= block.length; length++)
    if (bitOf(block, length - 1) === 1) into.push(siblingAround(block, length));
}

/** The same after it: the right siblings on the way up. */
function pushAfter(block: Prefix, above: number, into: Prefix[]): void {
  for (let length = block.length; length > above; length--)
    if (bitOf(block, length - 1) === 0) into.push(siblingAround(block, length));
}

/** What of `whole` the others cover, as the fewest prefixes, in order. */
export function intersect(whole: Prefix, others: readonly Prefix[]): Prefix[] {
  return merge(others.flatMap((other) => (contains(whole, other) ? [other] : contains(other, whole) ? [whole] : [])));
}

/** The fewest prefixes for an arbitrary run of addresses, first and last included; empty if first > last. */
export function cover(first: Address, last: Address): Prefix[] {
  const { family } = first;
  if (family !== last.family) throw new RangeError('cover: the two addresses are of different families');
  const found: Prefix[] = [];
  const end = addressValue(last);
  for (let next = addressValue(first); next <= end;) {
    // The largest block that may start here, and the largest that still fits.
    const fits = 1n << BigInt(bitLength(end - next + 1n) - 1);
    const aligned = next & -next;
    const size = next === 0n || aligned > fits ? fits : aligned;
    found.push(prefixAround(addressAt(family, next), addressBits(family) - (bitLength(size) - 1)));
    next += size;
  }
  return found;
}

function bitLength(value: bigint): number {
  return value.toString(2).length;
}
/** All prefixes of the given length inside; the caller bounds the count (2^(length - whole.length)). */
export function* split(whole: Prefix, length: number): Generator<Prefix> {
  const step = sizeOfLength(whole.family, length);
  const end = addressValue(lastAddress(whole));
  for (let base = addressValue(whole); base <= end; base += step)
    yield prefixAround(addressAt(whole.family, base), length);
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
