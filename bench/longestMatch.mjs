// Longest prefix match of 100,000 addresses in 10,000 prefixes against a library's linear scan and a binary search.
import { addressAt, formatPrefix, LongestMatch, prefixAround } from '@wide-lattice/core/address';
import ipaddr from 'ipaddr.js';
import { median, row, scaled, seeded } from './measure.mjs';

const random = seeded(2);
const prefixes = [
  ...new Map(
    Array.from({ length: scaled(10_000, 300) }, () =>
      prefixAround(addressAt(4, BigInt(Math.floor(random() * 2 ** 32))), 8 + Math.floor(random() * 21)),
    ).map((p) => [formatPrefix(p), p]),
  ).values(),
];
const addresses = Uint32Array.from({ length: scaled(100_000, 2000) }, () => Math.floor(random() * 2 ** 32));
const match = new LongestMatch(4, prefixes);

const own = median(() => {
  for (const address of addresses) match.findIpv4(address);
});

// The plain way: by length, longest first, a binary search in the sorted bases of that length.
const byLength = Array.from({ length: 33 }, () => []);
prefixes.forEach((p, i) => byLength[p.length].push([p.w0, i]));
const lengths = byLength
  .map((list) => list.sort((a, b) => a[0] - b[0]))
  .map((list) => ({ bases: Float64Array.from(list, ([base]) => base), rows: list.map(([, i]) => i) }));
function plain(address) {
  for (let length = 32; length >= 0; length--) {
    const { bases, rows } = lengths[length];
    if (bases.length === 0) continue;
    const size = 2 ** (32 - length);
    const base = address - (address % size);
    let low = 0;
    let high = bases.length;
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (bases[middle] < base) low = middle + 1;
      else high = middle;
    }
    if (bases[low] === base) return rows[low];
  }
  return -1;
}
const binary = median(() => {
  for (const address of addresses) plain(address);
});

// The scan is slow: a hundredth of the addresses, scaled up.
const few = addresses.subarray(0, addresses.length / 100);
const cidrs = prefixes.map((p) =>
  ipaddr.parseCIDR(`${[24, 16, 8, 0].map((s) => (p.w0 >>> s) & 255).join('.')}/${p.length}`),
);
const scanned = Int32Array.from(few);
const scan =
  median(() => {
    few.forEach((address, i) => {
      const parsed = ipaddr.fromByteArray([24, 16, 8, 0].map((s) => (address >>> s) & 255));
      let best = -1;
      cidrs.forEach((cidr, c) => {
        if (parsed.match(cidr) && (best < 0 || cidr[1] > cidrs[best][1])) best = c;
      });
      scanned[i] = best;
    });
  }, 1) * 100;
const agrees =
  addresses.every((address) => match.findIpv4(address) === plain(address)) &&
  few.every((address, i) => match.findIpv4(address) === scanned[i]);
console.log(
  `100,000 addresses in ${prefixes.length.toLocaleString('en-US')} prefixes; all three ways ${agrees ? 'agree' : 'DISAGREE'}`,
);
row('longest match', own, 'a binary search by length', binary);
row('longest match', own, 'a linear scan with a library (1 in 100, scaled)', scan);
if (!agrees) process.exitCode = 1;
