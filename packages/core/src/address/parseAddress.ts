import { bad, good } from '../result.js';
import type { Result } from '../result.js';
import type { Address } from './address.js';

/**
 * Reads one address, strictly. IPv4 needs four decimal parts without leading zeros (some tools read
 * 010 as octal 8, so it is refused); IPv6 as RFC 4291 section 2.2, the mixed form included, no zone.
 * Source: RFC 4291 2.2; RFC 6943 3.1.1 on the ambiguity of loose IPv4 text.
 */
export function parseAddress(text: string): Result<Address> {
  const trimmed = text.trim();
  if (trimmed === '') return bad('address.empty', 'An address is missing.', 'Write one such as 10.20.0.1.');
  return trimmed.includes(':') ? parseIpv6(trimmed) : parseIpv4(trimmed);
}

function parseIpv4(text: string): Result<Address> {
  const value = ipv4Value(text);
  if (typeof value === 'bigint') return good({ family: 4, value });
  return value;
}

function ipv4Value(text: string): bigint | ReturnType<typeof bad> {
  const parts = text.split('.');
  if (parts.length !== 4) {
    return bad(
      'address.ipv4-parts',
      `"${text}" is not an address.`,
      'Write four numbers with dots, such as 10.20.0.1.',
    );
  }
  let value = 0n;
  for (const part of parts) {
    if (!/^\d{1,3}$/.test(part)) {
      return bad('address.ipv4-part', `"${part}" in "${text}" is not a number from 0 to 255.`, 'Correct that part.');
    }
    if (part.length > 1 && part.startsWith('0')) {
      return bad(
        'address.leading-zero',
        `"${part}" in "${text}" starts with a zero, which some programs read as octal.`,
        `Write ${Number(part)}.`,
      );
    }
    if (Number(part) > 255) {
      return bad('address.ipv4-part', `${part} in "${text}" is above 255.`, 'Correct that part.');
    }
    value = value * 256n + BigInt(part);
  }
  return value;
}

function parseIpv6(text: string): Result<Address> {
  const wrong = (why: string) =>
    bad('address.ipv6', `"${text}" is not an IPv6 address: ${why}.`, 'Write it as fd00:20::1.');
  if (text.includes('%')) return wrong('a plan holds no zone identifiers');
  let rest = text;
  const tail: bigint[] = [];
  if (text.includes('.')) {
    const cut = text.lastIndexOf(':');
    const mapped = ipv4Value(text.slice(cut + 1));
    if (typeof mapped !== 'bigint') return mapped;
    tail.push(mapped >> 16n, mapped & 0xffffn);
    rest = text.slice(0, cut + 1);
    if (!rest.endsWith('::')) rest = rest.slice(0, -1);
  }
  const halves = rest.split('::');
  if (halves.length > 2) return wrong('"::" may stand once');
  const head = groups(halves[0] ?? '');
  const end = halves.length === 2 ? groups(halves[1] ?? '') : [];
  if (head === undefined || end === undefined) return wrong('each group is one to four hexadecimal digits');
  const written = head.length + end.length + tail.length;
  if (halves.length === 1 && written !== 8) return wrong(`it has ${written} groups of 8`);
  if (halves.length === 2 && written > 7) return wrong('"::" stands for at least one group');
  const zeros = new Array<bigint>(8 - written).fill(0n);
  const value = [...head, ...zeros, ...end, ...tail].reduce((sum, group) => (sum << 16n) | group, 0n);
  return good({ family: 6, value });
}

function groups(text: string): bigint[] | undefined {
  if (text === '') return [];
  const parts = text.split(':');
  if (!parts.every((part) => /^[0-9a-fA-F]{1,4}$/.test(part))) return undefined;
  return parts.map((part) => BigInt(`0x${part}`));
}
