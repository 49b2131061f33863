import { bad, good } from '../result.js';
import type { Result } from '../result.js';
import { addressFurther, compareAddresses } from './address.js';
import type { Address } from './address.js';
import { addressBits } from './family.js';
import type { Family } from './family.js';
import { formatAddress } from './formatAddress.js';
import { parseAddress } from './parseAddress.js';
import { scanIpv4, scanIpv6, scanned } from './scanAddress.js';

declare const checked: unique symbol;

/** A CIDR prefix without host bits (RFC 4632, RFC 4291 2.3): its first address, and a length. Only this file makes them. */
export interface Prefix extends Address {
  /** Leading bits that are fixed: 0 to 32 or 128. */
  readonly length: number;
  readonly [checked]: true;
}

const slashed = Array.from({ length: 129 }, (_, length) => `/${length}`);

// The two casts: every way in below has cleared or refused host bits. The fields of the families stand in different orders,
// so that the engine keeps the words of IPv4 that are always 0 as plain numbers beside IPv6, where they need boxes of their own.
const make6 = (w0: number, w1: number, w2: number, w3: number, length: number) =>
  ({ family: 6, w0, w1, w2, w3, length }) as Prefix;

/** Addresses in a prefix of this length: 2^(bits - length). */
export function sizeOfLength(family: Family, length: number): bigint {
  return 1n << BigInt(addressBits(family) - length);
}

/** The bits of a word that a prefix fixes, given how many of its length are left when that word is reached. */
function mask(word: number, left: number): number {
  if (left >= 32) return word;
  return left <= 0 ? 0 : (word & (-1 << (32 - left))) >>> 0;
}

/** The IPv4 prefix with this base, whose host bits the caller knows to be clear, and this length. */
export function ipv4Prefix(base: number, length: number): Prefix {
  return { length, family: 4, w0: base, w1: 0, w2: 0, w3: 0 } as Prefix;
}

/** The prefix of this length that holds the address; clears host bits (parsePrefix refuses them). */
export function prefixAround({ family, w0, w1, w2, w3 }: Address, length: number): Prefix {
  if (family === 4) return ipv4Prefix(mask(w0, length), length);
  return make6(mask(w0, length), mask(w1, length - 32), mask(w2, length - 64), mask(w3, length - 96), length);
}

/**
 * Reads "base/length". A bare address is refused, and so are host bits: the message names the
 * corrected prefix, since which one was meant is the writer's to say (prefixAround clears them).
 */
export function parsePrefix(text: string): Result<Prefix> {
  // What is right is read without a detour; only for what is not does the strict reader look for the reason.
  const end = text.indexOf('/');
  const found = end < 0 ? undefined : scanPrefix(text, end);
  if (found !== undefined) return good(found);
  const trimmed = text.trim();
  const slash = trimmed.indexOf('/');
  const length = slash < 0 ? -1 : lengthIn(trimmed, slash + 1);
  if (trimmed === '') return bad('prefix.empty', 'A prefix is missing.', 'Write one such as 10.20.0.0/16.');
  const address = parseAddress(slash < 0 ? trimmed : trimmed.slice(0, slash));
  if (!address.ok) return address;
  const bits = addressBits(address.value.family);
  if (slash < 0) {
    return bad('prefix.no-length', `"${trimmed}" has no length.`, `Write ${trimmed}/${bits} for this one address.`);
  }
  if (length < 0 || length > bits) {
    return bad(
      'prefix.length',
      `"${trimmed.slice(slash)}" in "${trimmed}" is not a length from 0 to ${bits}.`,
      'Correct it.',
    );
  }
  const prefix = prefixAround(address.value, length);
  if (compareAddresses(prefix, address.value) === 0) return good(prefix);
  return bad('prefix.host-bits', `"${trimmed}" has bits set after its length.`, `Write ${formatPrefix(prefix)}.`);
}

/** The prefix that fills the text, whose length begins after `slash`; undefined when it is none, or has host bits. */
function scanPrefix(text: string, slash: number): Prefix | undefined {
  const length = lengthIn(text, slash + 1);
  const w0 = scanIpv4(text, 0, slash);
  if (w0 >= 0) return length < 0 || length > 32 || mask(w0, length) !== w0 ? undefined : ipv4Prefix(w0, length);
  if (length < 0 || length > 128 || !scanIpv6(text, 0, slash)) return undefined;
  const [a, b, c, d] = scanned as unknown as readonly [number, number, number, number];
  const isBase =
    mask(a, length) === a && mask(b, length - 32) === b && mask(c, length - 64) === c && mask(d, length - 96) === d;
  return isBase ? make6(a, b, c, d, length) : undefined;
}

/** Up to three digits without a leading zero, to the end of the text; -1 when they are not. */
function lengthIn(text: string, from: number): number {
  const digits = text.length - from;
  if (digits < 1 || digits > 3 || (digits > 1 && text.charCodeAt(from) === 48)) return -1;
  let length = 0;
  for (let at = from; at < text.length; at++) {
    const digit = text.charCodeAt(at) - 48;
    if (digit < 0 || digit > 9) return -1;
    length = length * 10 + digit;
  }
  return length;
}

/** parsePrefix for text known to be good (tests, shipped tables); throws otherwise. */
export function prefix(text: string): Prefix {
  const parsed = parsePrefix(text);
  if (parsed.ok) return parsed.value;
  throw new Error(`${parsed.problem.message} ${parsed.problem.fix}`);
}

/** "base/length", the base in its one standard form (RFC 5952 for IPv6). */
export function formatPrefix(value: Prefix): string {
  return formatAddress(value) + (slashed[value.length] as string);
}

/** Number of addresses in the prefix. */
export function prefixSize(value: Prefix): bigint {
  return sizeOfLength(value.family, value.length);
}

/** The lowest address. */
export function firstAddress({ family, w0, w1, w2, w3 }: Prefix): Address {
  return { family, w0, w1, w2, w3 };
}

/** The highest address. */
export function lastAddress({ family, w0, w1, w2, w3, length }: Prefix): Address {
  const filled = (word: number, left: number) =>
    left >= 32 ? word : (word | (0xffffffff >>> Math.max(0, left))) >>> 0;
  if (family === 4) return { family, w0: filled(w0, length), w1, w2, w3 };
  return {
    family,
    w0: filled(w0, length),
    w1: filled(w1, length - 32),
    w2: filled(w2, length - 64),
    w3: filled(w3, length - 96),
  };
}

/** Whether every address of `inner` lies in `outer`; a prefix contains itself. */
export function contains(outer: Prefix, inner: Prefix): boolean {
  return outer.length <= inner.length && containsAddress(outer, inner);
}

/** Whether the address lies in the prefix. */
export function containsAddress(outer: Prefix, address: Address): boolean {
  const { length } = outer;
  if (outer.family !== address.family) return false;
  if (length <= 32) return length === 0 || (outer.w0 ^ address.w0) >>> (32 - length) === 0;
  if (outer.w0 !== address.w0) return false;
  if (length <= 64) return (outer.w1 ^ address.w1) >>> (64 - length) === 0;
  if (outer.w1 !== address.w1) return false;
  if (length <= 96) return (outer.w2 ^ address.w2) >>> (96 - length) === 0;
  return outer.w2 === address.w2 && (outer.w3 ^ address.w3) >>> (128 - length) === 0;
}

/** Whether two prefixes share an address: then one contains the other. */
export function overlaps(a: Prefix, b: Prefix): boolean {
  return a.length <= b.length ? containsAddress(a, b) : containsAddress(b, a);
}

/** Order by family, base, then shorter (larger) first: an outer prefix comes before what it holds. */
export function comparePrefixes(a: Prefix, b: Prefix): number {
  return a.family - b.family || compareAddresses(a, b) || a.length - b.length;
}

/** Whether two prefixes are the same. */
export function isSamePrefix(a: Prefix, b: Prefix): boolean {
  return a.family === b.family && a.length === b.length && compareAddresses(a, b) === 0;
}

/** The nth address, from 0; negative counts from the end (-1 is the last). Outside the prefix: undefined. `n` is at most 2^53. */
export function nthAddress(value: Prefix, n: number): Address | undefined {
  const found = n < 0 ? addressFurther(lastAddress(value), n + 1) : addressFurther(value, n);
  const isOutside = BigInt(n < 0 ? -n - 1 : n) >= prefixSize(value);
  return isOutside ? undefined : found;
}

/** The two halves; undefined for a single address. */
export function halves(value: Prefix): readonly [Prefix, Prefix] | undefined {
  if (value.length === addressBits(value.family)) return undefined;
  const length = value.length + 1;
  return [prefixAround(value, length), withLastBit(value, length, true)];
}

/** The other half of the next larger prefix; undefined for /0. */
export function sibling(value: Prefix): Prefix | undefined {
  return value.length === 0 ? undefined : withLastBit(value, value.length, false);
}

/** The sibling of the prefix of this length, from 1 on, that holds the address. */
export function siblingAround(address: Address, length: number): Prefix {
  if (address.family === 4) return ipv4Prefix((mask(address.w0, length) ^ (1 << (32 - length))) >>> 0, length);
  return withLastBit(prefixAround(address, length), length, false);
}

/** Sets the last bit of a length, or turns it over. */
function withLastBit({ family, w0, w1, w2, w3 }: Prefix, length: number, isSet: boolean): Prefix {
  const place = length - 1;
  const bit = 1 << (31 - (place & 31));
  const changed = (word: number, first: number) => {
    if (place < first || place >= first + 32) return word;
    return (isSet ? word | bit : word ^ bit) >>> 0;
  };
  if (family === 4) return ipv4Prefix(changed(w0, 0), length);
  return make6(changed(w0, 0), changed(w1, 32), changed(w2, 64), changed(w3, 96), length);
}

/** The next larger prefix; undefined for /0. */
export function parent(value: Prefix): Prefix | undefined {
  return value.length === 0 ? undefined : prefixAround(value, value.length - 1);
}
