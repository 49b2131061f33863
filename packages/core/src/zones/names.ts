import punycode from 'punycode.js';
import { parseAddress } from '../address/index.js';
import type { Address } from '../address/index.js';
import { bad, good } from '../result.js';
import type { Result } from '../result.js';

/** Most characters of a label, and of a name without its final dot. Source: RFC 1035 2.3.4. */
export const MAX_LABEL = 63;
export const MAX_NAME = 253;

/** Labels of small letters, digits, hyphens and underscores, without a final dot. */
const PLAIN_NAME = /^(?:[a-z0-9_-]{1,63}\.)*[a-z0-9_-]{1,63}$/;

/** Characters that mean something in a zone file and are written with a backslash before them. Source: RFC 1035 5.1. */
const special = new Set(['.', ';', '\\', '(', ')', '"', '@', '$']);

/**
 * Reads a domain name as zone files write it: "@" for the origin, relative names below it, a final dot for a full one, \X and \DDD for
 * characters. Letters beyond ASCII become what RFC 5891 says (xn--…), capitals become small (RFC 4343). Without a final dot; empty for the root.
 * Errors: dns.label for an empty label or one of more than 63 octets, dns.name for more than 253, dns.escape for a broken \DDD.
 * Source: RFC 1035 2.3.4 and 5.1.
 */
export function readName(text: string, origin: string): Result<string> {
  if (text === '@') return good(origin);
  if (text === '.') return good('');
  // Most names have nothing to be read: they are taken as they are.
  const plain = origin === '' ? text : `${text}.${origin}`;
  if (plain.length <= MAX_NAME && PLAIN_NAME.test(text) && !origin.includes('\\')) return good(plain);
  const isFull = endsWithDot(text);
  const labels = readLabels(isFull ? text.slice(0, -1) : text);
  if (!labels.ok) return labels;
  const name = labels.value.join('.');
  return checked(isFull || origin === '' ? name : `${name}.${origin}`);
}

/** Reads a full name, whether its final dot is written or not. Errors as in {@link readName}. */
export function readFullName(text: string): Result<string> {
  return readName(text === '@' ? '\\@' : text, '');
}

function checked(name: string): Result<string> {
  const labels = labelsOf(name);
  const octets = labels.reduce((sum, label) => sum + octetsOf(label) + 1, -1);
  if (octets > MAX_NAME)
    return bad(
      'dns.name',
      `The name “${name.slice(0, 40)}…” has ${octets} characters.`,
      'A name has at most 253 (RFC 1035 2.3.4).',
    );
  return good(name);
}

function readLabels(text: string): Result<string[]> {
  if (/[^\p{ASCII}]/u.test(text)) {
    const ascii = asciiOf(text);
    if (ascii === undefined)
      return bad(
        'dns.idn',
        `“${text}” is not an internationalised name.`,
        'Write letters and digits that RFC 5891 allows, or the name in its xn-- form.',
      );
    return readLabels(ascii);
  }
  const labels: string[] = [];
  let label = '';
  for (let i = 0; i <= text.length; i++) {
    const char = text[i];
    if (char === '.' || char === undefined) {
      if (label === '')
        return bad(
          'dns.label',
          `“${text}” has an empty label.`,
          'Write one dot between labels, and none at the beginning.',
        );
      const octets = octetsOf(label);
      if (octets > MAX_LABEL)
        return bad(
          'dns.label',
          `The label “${label.slice(0, 40)}…” has ${octets} characters.`,
          'A label has at most 63 (RFC 1035 2.3.4).',
        );
      labels.push(label);
      label = '';
    } else if (char === '\\') {
      const digits = /^\d{3}/.exec(text.slice(i + 1))?.[0];
      const code = digits === undefined ? text.charCodeAt(i + 1) : Number(digits);
      if (Number.isNaN(code) || code > 255 || (digits === undefined && /\d/.test(text[i + 1] ?? '')))
        return bad(
          'dns.escape',
          `“${text}” has a backslash that says no character.`,
          'Write \\ and a character, or \\ and three digits from 000 to 255.',
        );
      label += writeOctet(code);
      i += digits === undefined ? 1 : 3;
    } else label += writeOctet(char.charCodeAt(0));
  }
  return good(labels);
}

/** One octet of a label as it is written, capitals as small letters. */
function writeOctet(code: number): string {
  if (code < 33 || code > 126) return `\\${String(code).padStart(3, '0')}`;
  const char = String.fromCharCode(code).toLowerCase();
  return special.has(char) ? `\\${char}` : char;
}

/** The labels in the form of RFC 5891, by the platform’s own reader of hosts; an underscore or star beside them stays as it is. */
function asciiOf(text: string): string | undefined {
  const labels = text.split(/[.。．｡]/u).map((label) => {
    if (!/[^\p{ASCII}]/u.test(label)) return label;
    if (!isLetters(label)) return undefined;
    if (!URL.canParse(`http://${label}.test`)) return undefined;
    const host = new URL(`http://${label}.test`).hostname;
    return host.startsWith('xn--') && host.endsWith('.test') ? host.slice(0, -'.test'.length) : undefined;
  });
  return labels.includes(undefined) ? undefined : labels.join('.');
}

/** Letters, marks and digits only: symbols are in no name. Source: RFC 5892 2, without its few exceptions in context. */
function isLetters(label: string): boolean {
  return /^[\p{L}\p{M}\p{Nd}\p{ASCII}\u00b7\u0375\u05f3\u05f4\u30fb\u200c\u200d]+$/u.test(label.normalize('NFC'));
}

function endsWithDot(text: string): boolean {
  return /(^|[^\\])(\\\\)*\.$/.test(text);
}

/** The labels of a name, left to right; none for the root. */
export function labelsOf(name: string): string[] {
  if (name === '') return [];
  if (!name.includes('\\')) return name.split('.');
  return name.match(/(?:\\\d{3}|\\.|[^.\\])+/g) ?? [];
}

function octetsOf(label: string): number {
  return label.includes('\\') ? label.replace(/\\(\d{3}|.)/g, '_').length : label.length;
}

/** The name without its first label; undefined for the root. */
export function parentOf(name: string): string | undefined {
  if (name === '') return undefined;
  if (name.includes('\\')) return labelsOf(name).slice(1).join('.');
  const at = name.indexOf('.');
  return at < 0 ? '' : name.slice(at + 1);
}

/** Whether a name is another one or below it. */
export function isWithin(name: string, apex: string): boolean {
  if (apex === '' || name === apex) return true;
  if (!name.endsWith(`.${apex}`)) return false;
  // A backslash before the dot makes it part of a label.
  return !name.includes('\\') || labelsOf(name).slice(-labelsOf(apex).length).join('.') === apex;
}

/** A name below an apex as a zone file writes it: "@" for the apex itself. */
export function relativeTo(name: string, apex: string): string {
  if (name === apex) return '@';
  return apex === '' ? name : name.slice(0, -apex.length - 1);
}

/** A name for people: labels of RFC 5891 in their own letters, as far as they read back as the same (RFC 5891 5.4 round trip). */
export function shownName(name: string): string {
  if (!name.includes('xn--')) return name;
  const shown = (label: string) => {
    if (!label.startsWith('xn--')) return label;
    const own = unicodeOf(label);
    return own !== undefined && asciiOf(own) === label ? own : label;
  };
  return labelsOf(name).map(shown).join('.');
}

function unicodeOf(label: string): string | undefined {
  try {
    return punycode.toUnicode(label);
  } catch {
    return undefined;
  }
}

/** What a person typed as a name, in the form that is stored: RFC 5891, small letters, no final dot; what is none stays as it is. */
export function storedName(text: string): string {
  if (text === '@' || text === '') return text;
  const read = readName(text, '');
  return read.ok && read.value !== '' ? read.value : text;
}

/** Names in the order of RFC 4034 6.1: by labels from the right. */
export function compareNames(a: string, b: string): number {
  const [x, y] = [labelsOf(a).reverse(), labelsOf(b).reverse()];
  for (let i = 0; i < Math.min(x.length, y.length); i++) {
    const [one, other] = [raw(x[i] ?? ''), raw(y[i] ?? '')];
    if (one !== other) return one < other ? -1 : 1;
  }
  return x.length - y.length;
}

/** The name under which an address has its PTR record: in-addr.arpa (RFC 1035 3.5) or ip6.arpa (RFC 3596 2.5). */
export function reverseName(bytes: readonly number[]): string {
  if (bytes.length === 4) return `${[...bytes].reverse().join('.')}.in-addr.arpa`;
  const nibbles = bytes.flatMap((byte) => [byte >> 4, byte & 15]);
  return `${nibbles
    .reverse()
    .map((each) => each.toString(16))
    .join('.')}.ip6.arpa`;
}

/** A label as the octets it stands for. */
function raw(label: string): string {
  if (!label.includes('\\')) return label;
  return label.replace(/\\(?:(\d{3})|(.))/g, (_, digits?: string, char?: string) =>
    digits === undefined ? (char ?? '') : String.fromCharCode(Number(digits)),
  );
}

/** The address whose PTR record has this name; undefined for names that are of no whole address. */
export function addressOfReverse(name: string): Address | undefined {
  const labels = name.split('.');
  if (name.endsWith('.in-addr.arpa') && labels.length === 6) {
    const parsed = parseAddress(labels.slice(0, 4).reverse().join('.'));
    return parsed.ok ? parsed.value : undefined;
  }
  if (!name.endsWith('.ip6.arpa') || labels.length !== 34) return undefined;
  const digits = labels.slice(0, 32).reverse().join('');
  const parsed = parseAddress((digits.match(/.{4}/g) ?? []).join(':'));
  return parsed.ok ? parsed.value : undefined;
}
