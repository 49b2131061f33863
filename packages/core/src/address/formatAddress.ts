import type { Address } from './address.js';

/**
 * Writes an address: IPv4 as dotted decimal, IPv6 in the one form of RFC 5952 section 4 (lower case,
 * no leading zeros, the longest run of zero groups shortened, the first on a tie, never a run of one;
 * section 5: IPv4-mapped addresses with a dotted tail).
 */
export function formatAddress(address: Address): string {
  return address.family === 4 ? formatIpv4(address.value) : formatIpv6(address.value);
}

function formatIpv4(value: bigint): string {
  const number = Number(value);
  return `${number >>> 24}.${(number >>> 16) & 255}.${(number >>> 8) & 255}.${number & 255}`;
}

function formatIpv6(value: bigint): string {
  if (value >> 32n === 0xffffn) return `::ffff:${formatIpv4(value & 0xffffffffn)}`;
  const groups = Array.from({ length: 8 }, (_, i) => Number((value >> BigInt(112 - 16 * i)) & 0xffffn));
  const { start, length } = longestZeroRun(groups);
  const write = (from: number, to: number) =>
    groups
      .slice(from, to)
      .map((group) => group.toString(16))
      .join(':');
  if (length < 2) return write(0, 8);
  return `${write(0, start)}::${write(start + length, 8)}`;
}

function longestZeroRun(groups: readonly number[]): { start: number; length: number } {
  let best = { start: 0, length: 0 };
  let start = 0;
  for (let i = 0; i <= groups.length; i++) {
    if (groups[i] === 0) continue;
    if (i - start > best.length) best = { start, length: i - start };
    start = i + 1;
  }
  return best;
}
