// Reading, writing, merging and subtracting 100,000 prefixes against loops written by hand and a general-purpose library, in turn in one process.
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
import { freeArrays, mergeArrays, readAndWrite, readAndWrite6 } from './addressLimits.mjs';
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
for (const [family, texts, limit] of [
  ['IPv4', v4, readAndWrite],
  ['IPv6', v6, readAndWrite6],
]) {
  const [mine, bound, theirs] = alternate([own(texts), () => limit(texts), library(texts)]);
  row(`100,000 ${family} prefixes read and written (aim: 1.5x)`, mine, 'a loop by hand', bound);
  row(`100,000 ${family} prefixes read and written`, mine, 'the library', theirs);
}

const small = Array.from({ length: COUNT }, () =>
  prefixAround(addressAt(4, (10n << 24n) + BigInt(Math.floor(random() * 2 ** 24))), 24 + Math.floor(random() * 9)),
);
const smallTexts = small.map(formatPrefix);
const whole = prefix('10.0.0.0/8');
const bases = Uint32Array.from(small, ({ w0 }) => w0);
const lengths = Uint8Array.from(small, ({ length }) => length);
const [merging, mergeBound, mergeLibrary] = alternate([
  () => merge(small).length,
  () => mergeArrays(bases, lengths),
  () => mergeCidr(smallTexts).length,
]);
row('100,000 prefixes merged (aim: 3x)', merging, 'a loop by hand over arrays', mergeBound);
row('100,000 prefixes merged', merging, 'the library, which also reads and writes them', mergeLibrary);
const [freeing, freeBound, freeLibrary] = alternate([
  () => subtract(whole, small).length,
  () => freeArrays(10 * 2 ** 24, 11 * 2 ** 24 - 1, bases, lengths),
  () => excludeCidr('10.0.0.0/8', smallTexts).length,
]);
row('free blocks of a /8 around 100,000 prefixes (aim: 3x)', freeing, 'a loop by hand over arrays', freeBound);
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
      .join() &&
  mergeArrays(bases, lengths) === merge(small).length &&
  freeArrays(10 * 2 ** 24, 11 * 2 ** 24 - 1, bases, lengths) === subtract(whole, small).length &&
  readAndWrite(v4) === own(v4)() &&
  readAndWrite6(v6) === own(v6)();
console.log(agrees ? 'All agree.' : 'They DISAGREE.');
if (!agrees) process.exitCode = 1;
