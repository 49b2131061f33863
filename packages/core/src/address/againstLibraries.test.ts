import { containsCidr, excludeCidr, mergeCidr, overlapCidr } from 'cidr-tools';
import fc from 'fast-check';
import { Address4, Address6 } from 'ip-address';
import ipaddr from 'ipaddr.js';
import { anyFamily, anyPrefix, crowdedPrefix } from '../../test/arbitraries.js';
import {
  addressAt,
  addressValue,
  contains,
  cover,
  firstAddress,
  formatAddress,
  formatPrefix,
  lastAddress,
  merge,
  overlaps,
  parseAddress,
  parsePrefix,
  prefixSize,
  subtract,
  totalSize,
} from './index.js';
import type { Address, Prefix } from './index.js';

// Three general-purpose libraries, each written by others: ipaddr.js, ip-address and cidr-tools.
const anyTwo = anyFamily.chain((family) =>
  fc.tuple(fc.oneof(anyPrefix(family), crowdedPrefix(family)), fc.oneof(anyPrefix(family), crowdedPrefix(family))),
);
const anySome = anyFamily.chain((family) =>
  fc.array(fc.oneof({ weight: 4, arbitrary: crowdedPrefix(family) }, anyPrefix(family)), {
    minLength: 1,
    maxLength: 25,
  }),
);
const texts = (prefixes: readonly Prefix[]) => prefixes.map(formatPrefix);
const sorted = (cidrs: readonly string[]) => texts(merge(cidrs.map((text) => parsed(text))));
const parsed = (text: string) => {
  const result = parsePrefix(text);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
};

describe('against general-purpose libraries on random input', () => {
  test('addresses are written as ipaddr.js writes them (RFC 5952), IPv4-mapped ones apart', () => {
    fc.assert(
      fc.property(anyFamily.chain(anyPrefix), (value) => {
        const address = firstAddress(value);
        fc.pre(!(address.family === 6 && addressValue(address) >> 32n === 0xffffn));
        const other = ipaddr.fromByteArray([
          ...Buffer.from(
            addressValue(address)
              .toString(16)
              .padStart(address.family === 4 ? 8 : 32, '0'),
            'hex',
          ),
        ]);
        expect(formatAddress(address)).toBe(
          other.kind() === 'ipv6' ? (other as ipaddr.IPv6).toRFC5952String() : other.toString(),
        );
      }),
    );
  });

  test('addresses are read as ip-address and ipaddr.js read them', () => {
    fc.assert(
      fc.property(fc.oneof(fc.ipV4(), fc.ipV6()), (text) => {
        const mine = parseAddress(text);
        const value = text.includes(':') ? new Address6(text).bigInt() : new Address4(text).bigInt();
        expect(mine.ok && addressValue(mine.value)).toBe(value);
        // ipaddr.js takes ::a.b.c.d, the deprecated form of RFC 4291 2.5.5.1, for IPv4-mapped.
        if (!/^::\d+\./.test(text)) {
          expect(BigInt(`0x${Buffer.from(ipaddr.parse(text).toByteArray()).toString('hex')}`)).toBe(value);
        }
      }),
    );
  });

  test('first and last address of a prefix as ip-address has them', () => {
    fc.assert(
      fc.property(anyFamily.chain(anyPrefix), (value) => {
        const other = value.family === 4 ? new Address4(formatPrefix(value)) : new Address6(formatPrefix(value));
        expect(addressValue(firstAddress(value))).toBe(other.startAddress().bigInt());
        expect(addressValue(lastAddress(value))).toBe(other.endAddress().bigInt());
      }),
    );
  });

  test('contains and overlaps as cidr-tools and ipaddr.js have them', () => {
    fc.assert(
      fc.property(anyTwo, ([a, b]) => {
        const [first, second] = [formatPrefix(a), formatPrefix(b)];
        expect(overlaps(a, b)).toBe(overlapCidr(first, second));
        expect(contains(a, b)).toBe(containsCidr(first, second));
        const [address, length] = ipaddr.parseCIDR(first);
        // ipaddr.js asks for an address in a range, so containment is asked for both ends.
        const isIn = (end: Address) =>
          ipaddr.parse(formatAddress(end)).match([address, length] as [ipaddr.IPv4, number]);
        if (!formatAddress(firstAddress(b)).includes('ffff:'))
          expect(contains(a, b)).toBe(isIn(firstAddress(b)) && isIn(lastAddress(b)));
      }),
    );
  });

  test('merge as cidr-tools merges', () => {
    fc.assert(fc.property(anySome, (some) => expect(texts(merge(some))).toEqual(sorted(mergeCidr(texts(some))))));
  });

  test('subtract as cidr-tools excludes', () => {
    fc.assert(
      fc.property(anySome, ([whole, ...taken]) => {
        fc.pre(whole !== undefined);
        const left = texts(subtract(whole, taken));
        expect(left).toEqual(
          taken.length === 0 ? [formatPrefix(whole)] : sorted(excludeCidr(formatPrefix(whole), texts(taken))),
        );
      }),
    );
  });

  test('cover is the minimal set that cidr-tools makes of single addresses', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 200 }),
        fc.integer({ min: 0, max: 80 }),
        anyFamily,
        (from, count, family) => {
          const start = (family === 4 ? 0x0a000000n : 0xfd00n << 112n) + BigInt(from);
          const addresses = Array.from({ length: count + 1 }, (_, i) =>
            formatAddress(addressAt(family, start + BigInt(i))),
          );
          const mine = cover(addressAt(family, start), addressAt(family, start + BigInt(count)));
          expect(texts(mine)).toEqual(sorted(mergeCidr(addresses)));
        },
      ),
    );
  });

  test('free and used addresses add up to the whole', () => {
    fc.assert(
      fc.property(anySome, ([whole, ...taken]) => {
        const block = whole as Prefix;
        const free = subtract(block, taken);
        const used = merge(taken.filter((t) => overlaps(t, block)).map((t) => (contains(t, block) ? block : t)));
        expect(totalSize(free) + totalSize(used)).toBe(prefixSize(block));
        expect(free.some((f) => used.some((u) => overlaps(f, u)))).toBe(false);
      }),
    );
  });
});
