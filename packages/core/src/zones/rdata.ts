import { formatAddress, parseAddress } from '../address/index.js';
import { bad, good } from '../result.js';
import type { Result } from '../result.js';
import { readName } from './names.js';

/** The types that zones of a plan hold, and SOA, which each has once. */
export const recordTypes = [
  'A',
  'AAAA',
  'CNAME',
  'TXT',
  'SRV',
  'CAA',
  'NS',
  'PTR',
  'MX',
  'HTTPS',
  'SVCB',
  'DNAME',
  'DS',
  'NAPTR',
  'SSHFP',
  'HINFO',
  'other',
] as const;
export type RecordType = (typeof recordTypes)[number];
export type AnyType = RecordType | 'SOA';

/** Largest TTL in seconds. Source: RFC 2181 8. */
export const MAX_TTL = 2_147_483_647;

/** What a record says, in the one way that it is written: names full and without a final dot, small letters. */
export interface Rdata {
  readonly value: string;
  /** The name that it leads to; undefined where it leads to none. */
  readonly target: string | undefined;
}

/** Longest character string. Source: RFC 1035 3.3. */
const MAX_STRING = 255;

/**
 * Reads what a record says from its parts, as a zone file has them; relative names are below `origin`.
 * Errors: dns.rdata with the form of the type. Sources: RFC 1035 3.3, 3596 (AAAA), 2782 (SRV), 8659 4 (CAA), 9460 2 (SVCB and
 * HTTPS), 6672 2 (DNAME), 4034 5 (DS), 3403 4 (NAPTR), 4255 3 (SSHFP), 3597 5 (types without a form of their own).
 */
export function readRdata(type: AnyType, parts: readonly Token[], origin: string): Result<Rdata> {
  const words = parts.map(({ text }) => text);
  const said = words.join(' ');
  const wrong = () =>
    bad('dns.rdata', `“${said.slice(0, 80)}” is not a value of a record of type ${type}.`, `Write ${forms[type]}.`);
  const named = (text: string | undefined, before: readonly string[] = []): Result<Rdata> => {
    if (text === undefined) return wrong();
    const name = readName(text, origin);
    if (!name.ok) return name;
    return good({ value: [...before, name.value === '' ? '.' : name.value].join(' '), target: name.value });
  };
  switch (type) {
    case 'A':
    case 'AAAA': {
      const parsed = parseAddress(words[0] ?? '');
      if (words.length !== 1 || !parsed.ok || parsed.value.family !== (type === 'A' ? 4 : 6)) return wrong();
      return good({ value: formatAddress(parsed.value), target: undefined });
    }
    case 'CNAME':
    case 'DNAME':
    case 'NS':
    case 'PTR':
      return words.length === 1 ? named(words[0]) : wrong();
    case 'MX':
      return words.length === 2 && isCount(words[0], 65_535) ? named(words[1], [plain(words[0])]) : wrong();
    case 'SRV':
      if (words.length !== 4 || !words.slice(0, 3).every((word) => isCount(word, 65_535))) return wrong();
      return named(words[3], words.slice(0, 3).map(plain));
    case 'HTTPS':
    case 'SVCB':
      return serviceRdata(parts, named, wrong);
    case 'DS':
      return words.length >= 4 && isCount(words[0], 65_535) && isCount(words[1], 255) && isCount(words[2], 255)
        ? hexed(words.slice(0, 3).map(plain), words.slice(3), wrong)
        : wrong();
    case 'SSHFP':
      return words.length >= 3 && isCount(words[0], 255) && isCount(words[1], 255)
        ? hexed(words.slice(0, 2).map(plain), words.slice(2), wrong)
        : wrong();
    case 'NAPTR': {
      if (words.length !== 6 || !isCount(words[0], 65_535) || !isCount(words[1], 65_535)) return wrong();
      return named(words[5], [...words.slice(0, 2).map(plain), ...words.slice(2, 5).map(quoted)]);
    }
    case 'HINFO':
      return words.length === 2 ? good({ value: words.map(quoted).join(' '), target: undefined }) : wrong();
    case 'other':
      return unknownRdata(words, wrong);
    case 'CAA': {
      const [flags, tag = '', value] = words;
      if (words.length !== 3 || !isCount(flags, 255) || !/^[a-z0-9]{1,255}$/i.test(tag)) return wrong();
      return good({ value: `${plain(flags)} ${tag.toLowerCase()} ${quoted(value ?? '')}`, target: undefined });
    }
    case 'TXT':
      return textRdata(parts, wrong);
    case 'SOA':
      return authorityRdata(words, origin, wrong);
  }
}

/** SVCB and HTTPS: priority, target and parameters, of which an alias has none. Source: RFC 9460 2.4. */
function serviceRdata(
  parts: readonly Token[],
  named: (text: string | undefined, before: readonly string[]) => Result<Rdata>,
  wrong: () => Result<Rdata>,
): Result<Rdata> {
  const [priority, target, ...params] = joinedParams(parts);
  const isAlias = Number(priority) === 0;
  if (!isCount(priority, 65_535) || (isAlias && params.length > 0) || !params.every(isServiceParam)) return wrong();
  const name = named(target, [plain(priority)]);
  if (!name.ok) return name;
  return good({ ...name.value, value: [name.value.value, ...params].join(' ') });
}

function textRdata(parts: readonly Token[], wrong: () => Result<Rdata>): Result<Rdata> {
  if (parts.length === 0) return wrong();
  const tooLong = parts.find(({ text }) => octets(text).length > MAX_STRING);
  if (tooLong !== undefined)
    return bad(
      'dns.text',
      `“${tooLong.text.slice(0, 40)}…” has more than 255 characters.`,
      'Split it into several strings (RFC 1035 3.3).',
    );
  return good({ value: parts.map(({ text }) => quoted(text)).join(' '), target: undefined });
}

/** SOA: server, mailbox, serial and four times. Source: RFC 1035 3.3.13. */
function authorityRdata(words: readonly string[], origin: string, wrong: () => Result<Rdata>): Result<Rdata> {
  if (words.length !== 7) return wrong();
  const server = readName(words[0] ?? '', origin);
  const mailbox = readName(words[1] ?? '', origin);
  const times = words
    .slice(2)
    .map((word, at) => (at === 0 ? (isCount(word, 4_294_967_295) ? Number(word) : undefined) : readTtl(word)));
  if (!server.ok || !mailbox.ok || times.includes(undefined)) return wrong();
  return good({ value: [server.value, mailbox.value, ...times].join(' '), target: server.value });
}

/** How the value of each type is written, for messages and hints. */
export const forms: Readonly<Record<AnyType, string>> = {
  A: 'an IPv4 address, such as 10.40.16.8',
  AAAA: 'an IPv6 address, such as fd4b:5ce7::8',
  CNAME: 'one name, such as front.skerryline.example',
  NS: 'the name of a server, such as ns1.skerryline.example',
  PTR: 'one name, such as gate.skerryline.example',
  MX: 'preference and name, such as 10 mail.skerryline.example',
  SRV: 'priority, weight, port and name, such as 0 5 443 gate.skerryline.example',
  CAA: 'flags, tag and value, such as 0 issue "ca.example"',
  TXT: 'text; in quotes where it has several strings',
  HTTPS: 'priority, name and parameters, such as 1 . alpn="h2,h3"; 0 and a name for an alias',
  SVCB: 'priority, name and parameters, such as 1 svc.skerryline.example port=8443',
  DNAME: 'one name below which all names are found, such as new.skerryline.example',
  DS: 'key tag, algorithm, digest type and digest, such as 60485 13 2 2BB1…',
  NAPTR: 'order, preference, flags, services, pattern and name, such as 100 10 "u" "sip+E2U" "!^.*$!sip:a@b!" .',
  SSHFP: 'algorithm, kind and fingerprint, such as 4 2 123ab…',
  HINFO: 'two texts, such as "ARM" "LINUX"',
  other: 'the type by its number, \\# and its octets, such as TYPE65280 \\# 4 0A000001',
  SOA: 'server, mailbox, serial, refresh, retry, expire and minimum',
};

/** Words of a service binding; the tokens of a file part a key from its value in quotes. */
function joinedParams(parts: readonly Token[]): string[] {
  const words: string[] = [];
  for (const { text, isQuoted } of parts) {
    const last = words.at(-1);
    if (isQuoted && last?.endsWith('=') === true) words[words.length - 1] = `${last}${quoted(text)}`;
    else words.push(text);
  }
  return words;
}

/** A key of a service binding, alone or with its value. Source: RFC 9460 2.1. */
function isServiceParam(text: string): boolean {
  return /^[a-z0-9-]{1,63}(=.*)?$/s.test(text);
}

/** Numbers, then octets in hexadecimal, which may stand in several parts. */
function hexed(before: readonly string[], parts: readonly string[], wrong: () => Result<Rdata>): Result<Rdata> {
  const hex = parts.join('').toUpperCase();
  if (!/^([0-9A-F]{2})+$/.test(hex)) return wrong();
  return good({ value: [...before, hex].join(' '), target: undefined });
}

/** A type by its number with its octets, of those that have no form of their own here. Source: RFC 3597 5. */
function unknownRdata(
  [type = '', mark, length, ...octets]: readonly string[],
  wrong: () => Result<Rdata>,
): Result<Rdata> {
  const number = /^TYPE(\d{1,5})$/i.exec(type)?.[1];
  if (number === undefined || Number(number) > 65_535 || Number(number) === 0 || mark !== '\\#') return wrong();
  const held = typesByNumber[Number(number)];
  if (held !== undefined) return bad('dns.type', `TYPE${number} is ${held}.`, `Write it as a record of type ${held}.`);
  const hex = octets.join('').toUpperCase();
  if (!isCount(length, 65_535) || !/^([0-9A-F]{2})*$/.test(hex) || hex.length !== 2 * Number(length)) return wrong();
  return good({
    value: [`TYPE${Number(number)}`, '\\#', plain(length), ...(hex === '' ? [] : [hex])].join(' '),
    target: undefined,
  });
}

/** Numbers of the types that have a form of their own. Source: the IANA registry of DNS parameters (from memory). */
export const typesByNumber: Readonly<Record<number, AnyType>> = {
  1: 'A',
  2: 'NS',
  5: 'CNAME',
  6: 'SOA',
  12: 'PTR',
  13: 'HINFO',
  15: 'MX',
  16: 'TXT',
  28: 'AAAA',
  33: 'SRV',
  35: 'NAPTR',
  39: 'DNAME',
  43: 'DS',
  44: 'SSHFP',
  64: 'SVCB',
  65: 'HTTPS',
  257: 'CAA',
};

/** One part of a line of a zone file: a word, or a string that stood in quotes, with its escapes as they were written. */
export interface Token {
  readonly text: string;
  readonly isQuoted: boolean;
}

/** Parts the value of one record that is written in a field. A text without quotes is one string, however many words it has. */
function tokensOf(type: AnyType, text: string): Token[] {
  const trimmed = text.trim();
  if (type === 'TXT' && !trimmed.startsWith('"')) {
    const bare = trimmed.replace(/[\\"]/g, '\\$&');
    const strings = bare.match(/(?:\\.|[^\\]){1,255}/gsu) ?? [];
    return strings.map((each) => ({ text: each, isQuoted: true }));
  }
  return [...trimmed.matchAll(/"((?:\\.|[^"\\])*)"|((?:\\.|[^\s"\\])+)/gs)].map(([, inQuotes, word]) => ({
    text: inQuotes ?? word ?? '',
    isQuoted: inQuotes !== undefined,
  }));
}

/** Reads the value of a record as a field of the plan holds it: every name in it is full. Errors as in {@link readRdata}. */
export function readValue(type: RecordType, text: string): Result<Rdata> {
  return readRdata(type, tokensOf(type, text), '');
}

/** Reads a TTL: seconds, or parts such as 1h30m; undefined for what is none or is above 2,147,483,647. Source: RFC 2308 4, RFC 2181 8. */
export function readTtl(text: string): number | undefined {
  if (!/^(\d+|(\d+[smhdw])+)$/i.test(text)) return undefined;
  const units: Readonly<Record<string, number>> = { s: 1, m: 60, h: 3600, d: 86_400, w: 604_800 };
  const parts = [...text.toLowerCase().matchAll(/(\d+)([smhdw]?)/g)];
  const seconds = parts.reduce((sum, [, digits, unit]) => sum + Number(digits) * (units[unit ?? ''] ?? 1), 0);
  return seconds <= MAX_TTL ? seconds : undefined;
}

function isCount(text: string | undefined, most: number): boolean {
  return /^\d{1,10}$/.test(text ?? '') && Number(text) <= most;
}

function plain(text: string | undefined): string {
  return String(Number(text));
}

/** The octets that a string with escapes stands for; letters beyond ASCII as UTF-8. */
function octets(text: string): number[] {
  const bytes: number[] = [];
  const encoder = new TextEncoder();
  for (const [, digits, escaped, run] of text.matchAll(/\\(\d{3})|\\(.)|([^\\]+)/gs)) {
    if (digits !== undefined) bytes.push(Number(digits) & 255);
    else bytes.push(...encoder.encode(escaped ?? run ?? ''));
  }
  return bytes;
}

function quoted(text: string): string {
  const body = octets(text).map((byte) =>
    byte < 32 || byte > 126
      ? `\\${String(byte).padStart(3, '0')}`
      : byte === 34 || byte === 92
        ? `\\${String.fromCharCode(byte)}`
        : String.fromCharCode(byte),
  );
  return `"${body.join('')}"`;
}

/** The parts of a value as octets, in their order: names, numbers and words as they are written, strings without their quotes and escapes. */
export function octetParts(type: AnyType, value: string): Uint8Array[] {
  return tokensOf(type, value).map(({ text }) => Uint8Array.from(octets(text)));
}

/** The strings of a TXT value as they read, one after the other. */
export function textOf(value: string): string {
  return tokensOf('TXT', value)
    .map(({ text }) => new TextDecoder().decode(Uint8Array.from(octets(text))))
    .join('');
}
