import { bad, good } from '../result.js';
import type { Result } from '../result.js';
import { ipv4Address } from './address.js';
import type { Address } from './address.js';
import { scanIpv4, scanIpv6, scanned } from './scanAddress.js';

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
  const value = scanIpv4(text, 0, text.length);
  return value < 0 ? whyNotIpv4(text) : good(ipv4Address(value));
}

function parseIpv6(text: string): Result<Address> {
  return scanIpv6(text, 0, text.length) ? good(scannedAddress()) : whyNotIpv6(text);
}

/** The IPv6 address that was scanned last. */
function scannedAddress(): Address {
  const [w0, w1, w2, w3] = scanned as unknown as readonly [number, number, number, number];
  return { family: 6, w0, w1, w2, w3 };
}

function whyNotIpv4(text: string): ReturnType<typeof bad> {
  const parts = text.split('.');
  const correct = 'Correct that part.';
  if (parts.length !== 4)
    return bad(
      'address.ipv4-parts',
      `"${text}" is not an address.`,
      'Write four numbers with dots, such as 10.20.0.1.',
    );
  for (const part of parts) {
    if (!/^\d{1,3}$/.test(part))
      return bad('address.ipv4-part', `"${part}" in "${text}" is not a number from 0 to 255.`, correct);
    if (part.length > 1 && part.startsWith('0'))
      return bad(
        'address.leading-zero',
        `"${part}" in "${text}" starts with a zero, which some programs read as octal.`,
        `Write ${Number(part)}.`,
      );
    if (Number(part) > 255) return bad('address.ipv4-part', `${part} in "${text}" is above 255.`, correct);
  }
  throw new Error(`whyNotIpv4: "${text}" is an address`);
}

function whyNotIpv6(text: string): ReturnType<typeof bad> {
  const wrong = (why: string) =>
    bad('address.ipv6', `"${text}" is not an IPv6 address: ${why}.`, 'Write it as fd00:20::1.');
  if (text.includes('%')) return wrong('a plan holds no zone identifiers');
  const cut = text.lastIndexOf(':') + 1;
  const tail = text.slice(cut);
  const isMixed = tail.includes('.');
  if (isMixed && scanIpv4(tail, 0, tail.length) < 0) return whyNotIpv4(tail);
  const rest = isMixed ? text.slice(0, cut).replace(/([^:]):$/, '$1') : text;
  const halves = rest.split('::');
  if (halves.length > 2) return wrong('"::" may stand once');
  const written = halves.flatMap((half) => (half === '' ? [] : half.split(':')));
  if (!written.every((part) => /^[0-9a-fA-F]{1,4}$/.test(part)))
    return wrong('each group is one to four hexadecimal digits');
  if (halves.length === 2) return wrong('"::" stands for at least one group');
  return wrong(`it has ${written.length + (isMixed ? 2 : 0)} groups of 8`);
}
