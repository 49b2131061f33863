// All overlapping pairs among 100,000 prefixes against sorting the same keys and against an interval tree.
import IntervalTree from '@flatten-js/interval-tree';
import { addressAt, forEachOverlap, prefixAround, prefixTable, sortedRows } from '@wide-lattice/core/address';
import { median, row, scaled, seeded } from './measure.mjs';

const COUNT = scaled(100_000, 2000);
const random = seeded(1);
const prefixes = Array.from({ length: COUNT }, () =>
  prefixAround(addressAt(4, BigInt(Math.floor(random() * 2 ** 32))), 16 + Math.floor(random() * 13)),
);
const table = prefixTable(4, prefixes);
const keys = Float64Array.from(prefixes, ({ w0, length }) => w0 * 64 + length);

let pairs = 0;
const sweep = median(() => {
  pairs = 0;
  forEachOverlap(table, sortedRows(table), () => pairs++);
});
const sort = median(() => Float64Array.from(keys).sort());
const ends = prefixes.map(({ w0, length }) => [w0, w0 + 2 ** (32 - length) - 1]);
let treePairs = 0;
const tree = median(() => {
  const built = new IntervalTree();
  treePairs = 0;
  ends.forEach((range, i) => built.insert(range, i));
  ends.forEach((range) => (treePairs += built.search(range).length));
}, 1);
// The tree finds each pair twice and each prefix itself.
const expected = (treePairs - COUNT) / 2;
console.log(
  `${COUNT.toLocaleString('en-US')} prefixes, ${pairs.toLocaleString('en-US')} overlapping pairs${pairs === expected ? ', as the interval tree counts' : `; THE INTERVAL TREE COUNTS ${expected}`}`,
);
row('order and sweep', sweep, 'sorting the keys in a Float64Array', sort);
row('order and sweep', sweep, 'an interval-tree library', tree);
if (pairs !== expected) process.exitCode = 1;
