import type { Family } from './family.js';

/**
 * One address as unsigned 32-bit words, most significant first: an IPv4 address is `w0` alone and leaves the others 0.
 * Plain numbers, since a plan compares and masks hundreds of thousands; `addressValue` gives the whole as one integer.
 */
export interface Address {
  readonly family: Family;
  readonly w0: number;
  readonly w1: number;
  readonly w2: number;
  readonly w3: number;
}

const WORD = 0x1_0000_0000;

/** The IPv4 address with this value, from 0 to 2^32 - 1. */
export function ipv4Address(value: number): Address {
  return { family: 4, w0: value, w1: 0, w2: 0, w3: 0 };
}

/** The address as one unsigned integer of the family's width. */
export function addressValue({ family, w0, w1, w2, w3 }: Address): bigint {
  if (family === 4) return BigInt(w0);
  return (BigInt(w0) << 96n) | (BigInt(w1) << 64n) | (BigInt(w2) << 32n) | BigInt(w3);
}

/** The address with this value; values outside the family's width are the caller's bug. */
export function addressAt(family: Family, value: bigint): Address {
  if (family === 4) return ipv4Address(Number(value));
  const word = (shift: bigint) => Number((value >> shift) & 0xffffffffn);
  return { family, w0: word(96n), w1: word(64n), w2: word(32n), w3: word(0n) };
}

/** The address as bytes in network order: 4 or 16. */
export function addressBytes({ family, w0, w1, w2, w3 }: Address): Uint8Array {
  const words = family === 4 ? [w0] : [w0, w1, w2, w3];
  return Uint8Array.from(words.flatMap((word) => [word >>> 24, (word >>> 16) & 255, (word >>> 8) & 255, word & 255]));
}

/** Order within a family; negative when the first comes first. */
export function compareAddresses(a: Address, b: Address): number {
  return a.w0 - b.w0 || a.w1 - b.w1 || a.w2 - b.w2 || a.w3 - b.w3;
}

/** The address `count` further on (or back, when negative), at most 2^53 away; past the ends of the family it wraps around. */
export function addressFurther(from: Address, count: number): Address {
  if (from.family === 4) return ipv4Address((from.w0 + count) >>> 0);
  let carry = count;
  const next = (word: number) => {
    const sum = word + (carry % WORD);
    carry = Math.floor(carry / WORD) + (carry < 0 && carry % WORD !== 0 ? 1 : 0) + Math.floor(sum / WORD);
    return sum - Math.floor(sum / WORD) * WORD;
  };
  const w3 = next(from.w3);
  const w2 = next(from.w2);
  const w1 = next(from.w1);
  return { family: 6, w0: next(from.w0), w1, w2, w3 };
}

/** Leading bits that two addresses of a family share: up to 32 or 128. */
export function commonBits(a: Address, b: Address): number {
  const first = Math.clz32(a.w0 ^ b.w0);
  if (a.family === 4 || first < 32) return first;
  const second = Math.clz32(a.w1 ^ b.w1);
  if (second < 32) return 32 + second;
  const third = Math.clz32(a.w2 ^ b.w2);
  return third < 32 ? 64 + third : 96 + Math.clz32(a.w3 ^ b.w3);
}

/** The bit at this place, from 0 at the front. */
export function bitOf(address: Address, place: number): 0 | 1 {
  const word = place < 32 ? address.w0 : place < 64 ? address.w1 : place < 96 ? address.w2 : address.w3;
  return ((word >>> (31 - (place & 31))) & 1) as 0 | 1;
}
