import { addressAt, addressValue, bitOf, commonBits } from './address.js';
import type { Address } from './address.js';
import { addressBits } from './family.js';
import type { Family } from './family.js';
import {
  contains,
  halves,
  ipv4Prefix,
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
const ipv4Sizes = Array.from({ length: 33 }, (_, length) => 2 ** (32 - length));

/** The fewest prefixes that hold exactly the same addresses, in order. Families may be mixed. */
export function merge(prefixes: readonly Prefix[]): Prefix[] {
  return families.flatMap((family) => mergeFamily(family, ofFamily(prefixes, family)));
}

function ofFamily(prefixes: readonly Prefix[], family: Family): readonly Prefix[] {
  return prefixes.every((each) => each.family === family)
    ? prefixes
    : prefixes.filter((each) => each.family === family);
}

function mergeFamily(family: Family, prefixes: readonly Prefix[]): Prefix[] {
  if (prefixes.length < 2) return [...prefixes];
  if (family === 4) {
    const { count, bases, lengths } = mergedRuns(prefixes, 0, ipv4Size(0));
    const merged: Prefix[] = [];
    for (let i = 0; i < count; i++) merged.push(ipv4Prefix(bases[i] as number, lengths[i] as number));
    return merged;
  }
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

/**
 * The IPv4 ones of prefixes that share addresses with those from one up to, and without, another, merged, in order, as
 * numbers: a hundred thousand are merged in a plan, and each object costs more than its place.
 */
function mergedRuns(prefixes: readonly Prefix[], first: number, end: number) {
  const found = new Float64Array(prefixes.length);
  let size = 0;
  for (const { family, w0, length } of prefixes)
    if (family === 4 && w0 < end && w0 + ipv4Size(length) > first) found[size++] = w0 * 64 + length;
  const keys = found.subarray(0, size).sort();
  const bases = new Uint32Array(size);
  const lengths = new Uint8Array(size);
  let count = 0;
  let held = 0;
  for (const key of keys) {
    let base = Math.floor(key / 64);
    let length = key - base * 64;
    if (base < held) continue; // within the one before
    held = base + ipv4Size(length);
    while (count > 0 && lengths[count - 1] === length) {
      const left = bases[count - 1] as number;
      // The halves of one: side by side, the left one at a multiple of the whole.
      if (left + ipv4Size(length) !== base || left % (2 * ipv4Size(length)) !== 0) break;
      base = left;
      length--;
      count--;
    }
    bases[count] = base;
    lengths[count++] = length;
  }
  return { count, bases, lengths };
}

/** Addresses in an IPv4 prefix of this length. */
function ipv4Size(length: number): number {
  return ipv4Sizes[length] as number;
}

/** Whether two prefixes, the second after the first, are the halves of one. */
function isRightHalfOf(left: Prefix, right: Prefix): boolean {
  return left.length === right.length && left.length > 0 && commonBits(left, right) === left.length - 1;
}

/** What is left of `whole` without `taken`, as the fewest prefixes, in order. */
export function subtract(whole: Prefix, taken: readonly Prefix[]): Prefix[] {
  if (whole.family === 4) return gapsBetween(whole, mergedRuns(taken, whole.w0, whole.w0 + ipv4Size(whole.length)));
  const inside = merge(taken.filter((each) => overlaps(whole, each)));
  if (inside.length === 0) return [whole];
  const first = inside[0] as Prefix;
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

/** The IPv4 prefixes of `whole` before, between and after those that are taken. */
function gapsBetween(whole: Prefix, { count, bases, lengths }: ReturnType<typeof mergedRuns>): Prefix[] {
  const free: Prefix[] = [];
  let next = whole.w0;
  for (let i = 0; i < count; i++) {
    const base = bases[i] as number;
    pushRun(next, base, free);
    next = base + ipv4Size(lengths[i] as number);
  }
  pushRun(next, whole.w0 + ipv4Size(whole.length), free);
  return free;
}

/** The fewest IPv4 prefixes from the first address up to, and without, the end: each the largest that may start there and still fits. */
function pushRun(first: number, end: number, into: Prefix[]): void {
  for (let next = first; next < end;) {
    let length = next === 0 ? 0 : Math.clz32(next & -next) + 1;
    while (next + ipv4Size(length) > end) length++;
    into.push(ipv4Prefix(next, length));
    next += ipv4Size(length);
  }
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
  if (family === 4) {
    pushRun(first.w0, last.w0 + 1, found);
    return found;
  }
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
