import type { Address } from './address.js';

const decimals = Array.from({ length: 256 }, (_, byte) => String(byte));
// Made for all at once: an array that grows by holes is kept as a dictionary.
const hexadecimals = new Array<string | undefined>(0x1_0000);
const groups = new Uint16Array(8);

/**
 * Writes an address: IPv4 as dotted decimal, IPv6 in the one form of RFC 5952 section 4 (lower case,
 * no leading zeros, the longest run of zero groups shortened, the first on a tie, never a run of one;
 * section 5: IPv4-mapped addresses with a dotted tail).
 */
export function formatAddress(address: Address): string {
  return address.family === 4 ? formatIpv4(address.w0) : formatIpv6(address);
}

function formatIpv4(value: number): string {
  return `${decimals[value >>> 24]}.${decimals[(value >>> 16) & 255]}.${decimals[(value >>> 8) & 255]}.${decimals[value & 255]}`;
}

function formatIpv6({ w0, w1, w2, w3 }: Address): string {
  if (w0 === 0 && w1 === 0 && w2 === 0xffff) return `::ffff:${formatIpv4(w3)}`;
  groups[0] = w0 >>> 16;
  groups[1] = w0;
  groups[2] = w1 >>> 16;
  groups[3] = w1;
  groups[4] = w2 >>> 16;
  groups[5] = w2;
  groups[6] = w3 >>> 16;
  groups[7] = w3;
  let longest = 1;
  let start = -1;
  for (let at = 0, run = 0; at < 8; at++) {
    run = groups[at] === 0 ? run + 1 : 0;
    if (run <= longest) continue;
    longest = run;
    start = at - run + 1;
  }
  if (start < 0) return joined(0, 8);
  return `${joined(0, start)}::${joined(start + longest, 8)}`;
}

function joined(from: number, to: number): string {
  let text = '';
  for (let at = from; at < to; at++) {
    const group = groups[at] as number;
    text += (at === from ? '' : ':') + (hexadecimals[group] ??= group.toString(16));
  }
  return text;
}
