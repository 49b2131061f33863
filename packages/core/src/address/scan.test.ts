import { isIPv4, isIPv6 } from 'node:net';
import fc from 'fast-check';
import { addressFurther, addressValue, formatAddress, parseAddress, prefix } from './index.js';

// Node's own parser (the C library's inet_pton rules) says what an address is.
const nearly = (signs: string) => fc.string({ unit: fc.constantFrom(...signs.split('')), maxLength: 24 });
const broken = (whole: fc.Arbitrary<string>) =>
  fc
    .tuple(whole, fc.nat({ max: 40 }), fc.constantFrom('', ':', '::', '.', '0', 'g', 'f', '12345', ' '))
    .map(([text, at, put]) => text.slice(0, at) + put + text.slice(at + 1));

test.each([
  ['dotted text', fc.oneof(fc.ipV4(), fc.ipV4Extended(), broken(fc.ipV4()), nearly('0123456789.')), isIPv4],
  ['text with colons', fc.oneof(fc.ipV6(), broken(fc.ipV6()), nearly('0123456789abcdefF:.')), isIPv6],
])('%s is an address where the C library says so', (_, texts, isOne) => {
  let good = 0;
  fc.assert(
    fc.property(texts, (text) => {
      fc.pre(text.trim() === text && (isOne === isIPv6) === text.includes(':'));
      const parsed = parseAddress(text);
      expect([text, parsed.ok]).toEqual([text, isOne(text)]);
      if (!parsed.ok) expect(parsed.problem.message).not.toBe('');
      else good++;
    }),
    { numRuns: 5000 },
  );
  expect(good).toBeGreaterThan(500);
});

test('addresses further on and back, over the borders of words', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('fd00::ffff:ffff', 'fd00::ffff:ffff:ffff:ffff', 'fd00::1:0:0', 'fd00::', '2001:db8:0:1::'),
      fc.integer({ min: -(2 ** 50), max: 2 ** 50 }),
      (text, count) => {
        const from = prefix(`${text}/128`);
        const whole = 1n << 128n;
        const wanted = (((addressValue(from) + BigInt(count)) % whole) + whole) % whole;
        expect(addressValue(addressFurther(from, count))).toBe(wanted);
      },
    ),
  );
  expect(formatAddress(addressFurther(prefix('10.0.0.255/32'), 1))).toBe('10.0.1.0');
  expect(formatAddress(addressFurther(prefix('10.0.1.0/32'), -1))).toBe('10.0.0.255');
});
