// Reading, writing, merging and subtracting 100,000 prefixes against a general-purpose library, interleaved in one process.
import {
  addressAt,
  formatPrefix,
  merge,
  parsePrefix,
  prefix,
  prefixAround,
  subtract,
} from '@wide-lattice/core/address';
import { excludeCidr, mergeCidr, normalizeCidr } from 'cidr-tools';
import { alternate, row, scaled, seeded } from './measure.mjs';

const COUNT = scaled(100_000, 2000);
const random = seeded(5);
const any32 = () => BigInt(Math.floor(random() * 2 ** 32));
const v4 = Array.from({ length: COUNT }, () =>
  formatPrefix(prefixAround(addressAt(4, any32()), 8 + Math.floor(random() * 25))),
);
const v6 = Array.from({ length: COUNT }, () => {
  const value = (0xfdn << 120n) | (any32() << 64n) | (any32() << 32n) | any32();
  return formatPrefix(prefixAround(addressAt(6, value), 16 + Math.floor(random() * 113)));
});

const own = (texts) => () => {
  let length = 0;
  for (const text of texts) length += formatPrefix(parsePrefix(text).value).length;
  return length;
};
// The library's own way to read a prefix and write it in its standard form.
const library = (texts) => () => {
  let length = 0;
  for (const text of texts) length += normalizeCidr(text).length;
  return length;
};
for (const [family, texts] of [
  ['IPv4', v4],
  ['IPv6', v6],
]) {
  const [mine, theirs] = alternate([own(texts), library(texts)]);
  row(`100,000 ${family} prefixes read and written`, mine, 'the library', theirs);
}

const prefixes = v4.map(prefix);
const keys = Float64Array.from(prefixes, ({ w0, length }) => w0 * 64 + length);
const small = Array.from({ length: COUNT }, () =>
  prefixAround(addressAt(4, (10n << 24n) + BigInt(Math.floor(random() * 2 ** 24))), 24 + Math.floor(random() * 9)),
);
const smallKeys = Float64Array.from(small, ({ w0, length }) => w0 * 64 + length);
const smallTexts = small.map(formatPrefix);
const whole = prefix('10.0.0.0/8');
const sorted = (values) => () => [...values].map((key) => key).sort((a, b) => a - b).length;
const [merging, mergeSort, mergeLibrary] = alternate([
  () => merge(small).length,
  sorted(smallKeys),
  () => mergeCidr(smallTexts).length,
]);
row('100,000 prefixes merged', merging, 'sorting the same keys', mergeSort);
row('100,000 prefixes merged', merging, 'the library, which also reads and writes them', mergeLibrary);
const [freeing, freeSort, freeLibrary] = alternate([
  () => subtract(whole, small).length,
  sorted(smallKeys),
  () => excludeCidr('10.0.0.0/8', smallTexts).length,
]);
row('free blocks of a /8 around 100,000 prefixes', freeing, 'sorting the same keys', freeSort);
row(
  'free blocks of a /8 around 100,000 prefixes',
  freeing,
  'the library, which also reads and writes them',
  freeLibrary,
);
const agrees =
  merge(small).map(formatPrefix).join() ===
    mergeCidr(smallTexts)
      .map((text) => formatPrefix(prefix(text)))
      .join() && keys.length === COUNT;
console.log(agrees ? 'Both merge alike.' : 'The two DISAGREE.');
if (!agrees) process.exitCode = 1;
