import { nextSerial } from './serial.js';

// RFC 1912 2.2: the day with two digits. RFC 1982 3.2: a is greater than b where a − b, modulo 2^32, is above 0 and below 2^31.
test.each([
  [1, 2_026_120_100],
  [2_026_113_007, 2_026_120_100],
  [2_026_120_100, 2_026_120_101],
  [2_026_120_199, 2_026_120_200],
  // A year ahead: the day is less, so that it goes on from there.
  [2_027_010_100, 2_027_010_101],
  // 2,026,120,100 − 4,000,000,000 + 4,294,967,296 = 2,321,087,396, above 2^31: not greater.
  [4_000_000_000, 4_000_000_001],
  // 2,026,120,100 − 4,294,967,295 + 4,294,967,296 = 2,026,120,101, below 2^31: greater.
  [4_294_967_295, 2_026_120_100],
])('after %i comes %i', (serial, next) => {
  expect(nextSerial(serial, '2026-12-01')).toBe(next);
});
