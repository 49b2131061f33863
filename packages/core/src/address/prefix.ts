import { bad, good } from '../result.js';
import type { Result } from '../result.js';
import type { Address } from './address.js';
import { addressBits } from './family.js';
import type { Family } from './family.js';
import { formatAddress } from './formatAddress.js';
import { parseAddress } from './parseAddress.js';

declare const checked: unique symbol;

/** A CIDR prefix without host bits (RFC 4632, RFC 4291 2.3); only this file makes them. */
export interface Prefix {
  readonly family: Family;
  /** The first address as an unsigned integer. */
  readonly base: bigint;
  /** Leading bits that are fixed: 0 to 32 or 128. */
  readonly length: number;
  readonly [checked]: true;
}

// The one cast: every way in below has cleared or refused host bits.
const make = (family: Family, base: bigint, length: number) => ({ family, base, length }) as Prefix;

/** Addresses in a prefix of this length: 2^(bits - length). */
export function sizeOfLength(family: Family, length: number): bigint {
  return 1n << BigInt(addressBits(family) - length);
}

/** The prefix of this length that holds the address; clears host bits (parsePrefix refuses them). */
export function prefixAround(family: Family, value: bigint, length: number): Prefix {
  const size = sizeOfLength(family, length);
  return make(family, value - (value % size), length);
}

/**
 * Reads "base/length". A bare address is refused, and so are host bits: the message names the
 * corrected prefix, since which one was meant is the writer's to say (prefixAround clears them).
 */
export function parsePrefix(text: string): Result<Prefix> {
  const trimmed = text.trim();
  if (trimmed === '') return bad('prefix.empty', 'A prefix is missing.', 'Write one such as 10.20.0.0/16.');
  const slash = trimmed.indexOf('/');
  const address = parseAddress(slash < 0 ? trimmed : trimmed.slice(0, slash));
  if (!address.ok) return address;
  const bits = addressBits(address.value.family);
  if (slash < 0) {
    return bad('prefix.no-length', `"${trimmed}" has no length.`, `Write ${trimmed}/${bits} for this one address.`);
  }
  const lengthText = trimmed.slice(slash + 1);
  if (!/^(0|[1-9]\d{0,2})$/.test(lengthText) || Number(lengthText) > bits) {
    return bad('prefix.length', `"/${lengthText}" in "${trimmed}" is not a length from 0 to ${bits}.`, 'Correct it.');
  }
  return withoutHostBits(address.value, Number(lengthText), trimmed);
}

function withoutHostBits(address: Address, length: number, text: string): Result<Prefix> {
  const prefix = prefixAround(address.family, address.value, length);
  if (prefix.base === address.value) return good(prefix);
  return bad('prefix.host-bits', `"${text}" has bits set after its length.`, `Write ${formatPrefix(prefix)}.`);
}

/** parsePrefix for text known to be good (tests, shipped tables); throws otherwise. */
export function prefix(text: string): Prefix {
  const parsed = parsePrefix(text);
  if (parsed.ok) return parsed.value;
  throw new Error(`${parsed.problem.message} ${parsed.problem.mend}`);
}

/** "base/length", the base in its one standard form (RFC 5952 for IPv6). */
export function formatPrefix(value: Prefix): string {
  return `${formatAddress(firstAddress(value))}/${value.length}`;
}

/** Number of addresses in the prefix. */
export function prefixSize(value: Prefix): bigint {
  return sizeOfLength(value.family, value.length);
}

/** The lowest address. */
export function firstAddress(value: Prefix): Address {
  return { family: value.family, value: value.base };
}

/** The highest address. */
export function lastAddress(value: Prefix): Address {
  return { family: value.family, value: value.base + prefixSize(value) - 1n };
}

/** Whether every address of `inner` lies in `outer`; a prefix contains itself. */
export function contains(outer: Prefix, inner: Prefix): boolean {
  if (outer.family !== inner.family || outer.length > inner.length) return false;
  const shift = BigInt(addressBits(outer.family) - outer.length);
  return outer.base >> shift === inner.base >> shift;
}

/** Whether the address lies in the prefix. */
export function containsAddress(outer: Prefix, address: Address): boolean {
  if (outer.family !== address.family) return false;
  const shift = BigInt(addressBits(outer.family) - outer.length);
  return outer.base >> shift === address.value >> shift;
}

/** Whether two prefixes share an address: then one contains the other. */
export function overlaps(a: Prefix, b: Prefix): boolean {
  return contains(a, b) || contains(b, a);
}

/** Order by family, base, then shorter (larger) first: an outer prefix comes before what it holds. */
export function comparePrefixes(a: Prefix, b: Prefix): number {
  if (a.family !== b.family) return a.family - b.family;
  if (a.base !== b.base) return a.base < b.base ? -1 : 1;
  return a.length - b.length;
}

/** The nth address, from 0; negative counts from the end (-1 is the last). Outside the prefix: undefined. */
export function nthAddress(value: Prefix, n: bigint): Address | undefined {
  const size = prefixSize(value);
  const offset = n < 0n ? size + n : n;
  if (offset < 0n || offset >= size) return undefined;
  return { family: value.family, value: value.base + offset };
}

/** The two halves; undefined for a single address. */
export function halves(value: Prefix): readonly [Prefix, Prefix] | undefined {
  if (value.length === addressBits(value.family)) return undefined;
  const length = value.length + 1;
  return [
    make(value.family, value.base, length),
    make(value.family, value.base + sizeOfLength(value.family, length), length),
  ];
}

/** The other half of the next larger prefix; undefined for /0. */
export function sibling(value: Prefix): Prefix | undefined {
  return value.length === 0 ? undefined : make(value.family, value.base ^ prefixSize(value), value.length);
}

/** The next larger prefix; undefined for /0. */
export function parent(value: Prefix): Prefix | undefined {
  return value.length === 0 ? undefined : prefixAround(value.family, value.base, value.length - 1);
}
