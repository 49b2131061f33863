import fc from 'fast-check';
import { addressAt, addressBits, prefixAround } from '../src/address/index.js';
import type { Family, Prefix } from '../src/address/index.js';

/** Any prefix of a family; lengths that plans use come up more often. */
export function anyPrefix(family: Family): fc.Arbitrary<Prefix> {
  const bits = addressBits(family);
  const value = fc.bigInt({ min: 0n, max: (1n << BigInt(bits)) - 1n });
  return fc
    .tuple(value, fc.integer({ min: 0, max: bits }))
    .map(([base, length]) => prefixAround(addressAt(family, base), length));
}

/** Prefixes crowded into a small space, so that many nest, touch and repeat. */
export function crowdedPrefix(family: Family): fc.Arbitrary<Prefix> {
  const bits = addressBits(family);
  const start = family === 4 ? 0x0a000000n : 0xfd00n << 112n;
  return fc
    .tuple(fc.bigInt({ min: 0n, max: 255n }), fc.integer({ min: bits - 8, max: bits }))
    .map(([offset, length]) => prefixAround(addressAt(family, start + offset), length));
}

/** Either family. */
export const anyFamily: fc.Arbitrary<Family> = fc.constantFrom<Family>(4, 6);
