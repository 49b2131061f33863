import type { Problem, Result } from '../result.js';
import { bad, good } from '../result.js';
import { compareNames, isWithin, readName, relativeTo } from './names.js';
import { MAX_TTL, readRdata, readTtl, recordTypes } from './rdata.js';
import type { AnyType, Token } from './rdata.js';
import type { Rr } from './zoneTree.js';
import { formatNumber } from '../working/index.js';

/** What is wrong in a zone file, by the line where its record begins. */
export interface ZoneProblem extends Problem {
  readonly line: number;
}

/** What a zone file says, and what of it could not be taken. */
export interface ZoneFile {
  /** SOA among them; each record once. */
  readonly records: readonly Rr[];
  /** Lines of the records, in their order. */
  readonly lines: readonly number[];
  readonly problems: readonly ZoneProblem[];
}

/** Records that one $GENERATE may make. */
const MAX_GENERATED = 65_536;
/** Records that one file may have. */
const MAX_RECORDS = 200_000;
/** TTL in seconds of a record when neither it nor the file says one: an hour, a custom. */
const USUAL_TTL = 3600;

interface Entry {
  readonly line: number;
  readonly hasOwner: boolean;
  readonly tokens: readonly Token[];
}

/**
 * Reads a zone file. What is wrong is named by its line, and the rest is kept; no other file is ever read.
 * Source: RFC 1035 5.1, RFC 2308 4 ($TTL).
 */
export function readZoneFile(text: string, apex: string): ZoneFile {
  return new Reader(apex).read(text);
}

class Reader {
  private readonly records: Rr[] = [];
  private readonly lines: number[] = [];
  private readonly problems: ZoneProblem[] = [];
  private readonly seen = new Set<string>();
  private origin: string;
  private owner: string | undefined;
  private ttl: number | undefined;
  private lastTtl: number | undefined;
  private hasSoa = false;

  constructor(private readonly apex: string) {
    this.origin = apex;
  }

  read(text: string): ZoneFile {
    const { entries, problems } = entriesOf(text);
    this.problems.push(...problems);
    for (const entry of entries) {
      if (this.records.length > MAX_RECORDS) {
        this.report(
          entry.line,
          bad(
            'zone.size',
            `The file has more than ${formatNumber(MAX_RECORDS)} records.`,
            'Split it into several zones.',
          ),
        );
        break;
      }
      const first = entry.tokens[0];
      if (entry.hasOwner && first !== undefined && !first.isQuoted && first.text.startsWith('$')) this.directive(entry);
      else this.record(entry);
    }
    return { records: this.records, lines: this.lines, problems: this.problems };
  }

  private report(line: number, problem: Result<unknown>): void {
    if (!problem.ok) this.problems.push({ line, ...problem.problem });
  }

  private directive({ line, tokens }: Entry): void {
    const [what, ...rest] = tokens.map(({ text }) => text);
    switch (what?.toUpperCase()) {
      case '$ORIGIN': {
        const name = readName(rest[0] ?? '', this.origin);
        if (name.ok) this.origin = name.value;
        else this.report(line, name);
        return;
      }
      case '$TTL': {
        const ttl = readTtl(rest[0] ?? '');
        if (ttl === undefined) this.report(line, noTtl(rest[0] ?? ''));
        else this.ttl = ttl;
        return;
      }
      case '$INCLUDE':
        this.report(
          line,
          bad(
            'zone.include',
            `$INCLUDE ${rest[0] ?? ''} is not followed: no other file is read.`,
            'Put its records in place of the line.',
          ),
        );
        return;
      case '$GENERATE':
        this.generate(line, tokens.slice(1));
        return;
      default:
        this.report(
          line,
          bad('zone.directive', `“${what ?? ''}” is not a directive.`, 'Known are $ORIGIN, $TTL and $GENERATE.'),
        );
    }
  }

  /** A row of records that differ in a number; an extension that several name servers have. */
  private generate(line: number, tokens: readonly Token[]): void {
    const range = /^(\d{1,10})-(\d{1,10})(?:\/(\d{1,10}))?$/.exec(tokens[0]?.text ?? '');
    const [from, to, step] = [Number(range?.[1]), Number(range?.[2]), Number(range?.[3] ?? 1)];
    if (range === null || from > to || step < 1) {
      this.report(
        line,
        bad(
          'zone.generate',
          `$GENERATE ${tokens[0]?.text ?? ''} names no range.`,
          'Write first-last, such as 1-20, and what is on each line.',
        ),
      );
      return;
    }
    const count = Math.floor((to - from) / step) + 1;
    if (count > MAX_GENERATED) {
      this.report(
        line,
        bad(
          'zone.generate',
          `$GENERATE ${range[0]} makes ${formatNumber(count)} records.`,
          `One line makes at most ${formatNumber(MAX_GENERATED)}.`,
        ),
      );
      return;
    }
    const before = this.problems.length;
    for (let n = from; n <= to && this.problems.length === before; n += step)
      this.record({
        line,
        hasOwner: true,
        tokens: tokens.slice(1).map(({ text, isQuoted }) => ({ text: generated(text, n), isQuoted })),
      });
  }

  private record({ line, hasOwner, tokens }: Entry): void {
    let at = 0;
    if (hasOwner) {
      const name = readName(tokens[0]?.text ?? '', this.origin);
      this.owner = name.ok ? name.value : undefined;
      if (!name.ok) {
        this.report(line, name);
        return;
      }
      at = 1;
    }
    if (this.owner === undefined) {
      this.report(
        line,
        bad(
          'zone.owner',
          'The record names no owner, and no owner that could be read comes before it.',
          'Begin the line with a name.',
        ),
      );
      return;
    }
    const before = ttlAndClass(tokens, at);
    if (!before.ok) {
      this.report(line, before);
      return;
    }
    const { ttl } = before.value;
    at = before.value.at;
    const word = (tokens[at]?.text ?? '').toUpperCase();
    // A type by its number says itself with its octets which it is (RFC 3597 5).
    const isNumbered = /^TYPE\d+$/.test(word);
    const type = isNumbered ? 'other' : word;
    if (!isKnown(type)) {
      this.report(
        line,
        bad(
          'zone.type',
          `Records of type “${tokens[at]?.text ?? ''}” are not held.`,
          `Known are SOA, ${recordTypes.filter((each) => each !== 'other').join(', ')}, and any by its number, such as TYPE65280 \\# 4 0A000001 (RFC 3597).`,
        ),
      );
      return;
    }
    const rdata = readRdata(type, tokens.slice(isNumbered ? at : at + 1), this.origin);
    if (!rdata.ok) {
      this.report(line, rdata);
      return;
    }
    this.take(line, this.owner, type, ttl, rdata.value);
  }

  private take(
    line: number,
    name: string,
    type: AnyType,
    given: number | undefined,
    { value, target }: Pick<Rr, 'value' | 'target'>,
  ): void {
    if (!isWithin(name, this.apex)) {
      this.report(
        line,
        bad(
          'zone.outside',
          `${name} is not in the zone ${this.apex}.`,
          'Put it into its own zone, or check $ORIGIN and the final dot.',
        ),
      );
      return;
    }
    if (type === 'SOA') {
      if (this.hasSoa || name !== this.apex) {
        this.report(
          line,
          bad(
            'zone.soa',
            this.hasSoa ? 'The zone has its SOA already.' : `The SOA is at ${name}, not at the apex ${this.apex}.`,
            'A zone has one SOA, at its apex.',
          ),
        );
        return;
      }
      this.hasSoa = true;
    }
    // Without one of its own a record has that of $TTL, else of the record before it (RFC 1035 5.1), else of the SOA.
    const ttl = given ?? this.ttl ?? this.lastTtl ?? (type === 'SOA' ? Number(value.split(' ').at(-1)) : USUAL_TTL);
    this.lastTtl = ttl;
    const key = `${name} ${type} ${value}`;
    if (this.seen.has(key)) {
      this.report(line, bad('zone.twice', `${name} ${type} ${value} is there twice.`, 'Keep one of the two.'));
      return;
    }
    this.seen.add(key);
    this.records.push({ name, type, ttl, value, target });
    this.lines.push(line);
  }
}

function isKnown(type: string): type is AnyType {
  return type === 'SOA' || (recordTypes as readonly string[]).includes(type);
}

function noTtl(text: string): Result<never> {
  return bad(
    'zone.ttl',
    `“${text}” is no TTL.`,
    `Write seconds from 0 to ${formatNumber(MAX_TTL)} (RFC 2181 8), or parts such as 1h30m.`,
  );
}

/** A text of $GENERATE for one number: $ is the number, ${offset,width,base} the number moved, padded, in d, o, x or X. */
function generated(text: string, n: number): string {
  return text.replace(/\\\$|\$(?:\{(-?\d{1,9})(?:,(\d{1,3})(?:,([doxX]))?)?\})?/g, (whole, offset, width, base) => {
    if (whole === '\\$') return '$';
    const value = n + Number(offset ?? 0);
    const digits = value.toString(base === 'o' ? 8 : base === 'x' || base === 'X' ? 16 : 10);
    return (base === 'X' ? digits.toUpperCase() : digits).padStart(Number(width ?? 0), '0');
  });
}

/** The lines of a file joined where brackets hold them together, without comments. */
function entriesOf(text: string): { readonly entries: readonly Entry[]; readonly problems: readonly ZoneProblem[] } {
  const entries: Entry[] = [];
  const problems: ZoneProblem[] = [];
  let tokens: Token[] = [];
  let begun = 1;
  let hasOwner = true;
  let depth = 0;
  let isBroken = false;
  text.split(/\r\n|\n|\r/).forEach((source, index) => {
    const line = index + 1;
    if (depth === 0) {
      begun = line;
      hasOwner = !/^\s/.test(source);
    }
    for (const [all, inQuotes, open, word] of source.matchAll(
      /"((?:\\.|[^"\\])*)"|(")|((?:\\.|[^\s;()"\\])+)|[();]|\\$/g,
    )) {
      if (all === ';') break;
      if (all === '(') depth++;
      else if (all === ')') {
        if (depth === 0)
          problems.push({
            line,
            code: 'zone.bracket',
            message: 'A bracket is closed that none opened.',
            fix: 'Remove it, or open one before.',
          });
        depth = Math.max(0, depth - 1);
      } else if (open !== undefined || all === '\\') {
        problems.push({
          line,
          code: 'zone.quote',
          message:
            open === undefined
              ? 'There is a backslash at the end of the line.'
              : 'A quotation mark is not closed on its line.',
          fix: 'Close it, or write \\" for the character.',
        });
        isBroken = true;
        break;
      } else tokens.push({ text: inQuotes ?? word ?? '', isQuoted: inQuotes !== undefined });
    }
    if (depth > 0) return;
    // What is broken is told and not taken as it is.
    if (tokens.length > 0 && !isBroken) entries.push({ line: begun, hasOwner, tokens });
    tokens = [];
    isBroken = false;
  });
  if (depth > 0)
    problems.push({
      line: begun,
      code: 'zone.bracket',
      message: 'A bracket is opened and never closed.',
      fix: 'Close it where the record ends.',
    });
  return { entries, problems };
}

/**
 * Writes a zone as a file that name servers read: SOA first, then NS of the apex, the rest by name. Source: RFC 1035 5.
 */
export function writeZoneFile(apex: string, records: readonly Rr[]): string {
  const rank = ({ name, type }: Rr) => (name !== apex ? 2 : type === 'SOA' ? 0 : type === 'NS' ? 1 : 2);
  const sorted = [...records].sort(
    (a, b) =>
      rank(a) - rank(b) || compareNames(a.name, b.name) || a.type.localeCompare(b.type) || (a.value < b.value ? -1 : 1),
  );
  const lines = sorted.map(({ name, type, ttl, value, target }) => {
    const said = type === 'SOA' ? soaValue(value) : withDot(type, value, target);
    return `${relativeTo(name, apex).padEnd(24)} ${String(ttl).padStart(7)} IN ${type === 'other' ? said : `${type.padEnd(5)} ${said}`}`;
  });
  return `$ORIGIN ${apex}.\n${lines.join('\n')}\n`;
}

/** The value with a final dot after the name in it: the last word, of a service binding the second. */
function withDot(type: AnyType, value: string, target: string | undefined): string {
  if (target === undefined) return value;
  if (type === 'HTTPS' || type === 'SVCB') {
    const [priority = '', name = '', ...params] = value.split(' ');
    return [priority, name === '.' ? name : `${name}.`, ...params].join(' ');
  }
  return value === '.' || value.endsWith(' .') ? value : `${value}.`;
}

function soaValue(value: string): string {
  const [server = '', mailbox = '', ...times] = value.split(' ');
  return `${server}. ${mailbox}. ${times.join(' ')}`;
}

/** Reads the one apex that a file names by its SOA, where the zone is not known yet; undefined where it names none. */
export function apexOf(text: string): Result<string> {
  let origin = '';
  for (const { tokens, hasOwner } of entriesOf(text).entries) {
    const words = tokens.map((token) => token.text);
    if (words[0]?.toUpperCase() === '$ORIGIN') {
      const name = readName(words[1] ?? '', origin);
      if (name.ok) origin = name.value;
    } else if (words.some((word) => word.toUpperCase() === 'SOA')) {
      const name = readName(hasOwner ? (words[0] ?? '@') : '@', origin);
      if (name.ok && name.value !== '') return name;
    }
  }
  return bad(
    'zone.apex',
    'The file names no zone.',
    'Choose the zone that it is for, or begin it with $ORIGIN and a SOA.',
  );
}

/** The TTL and the class before the type of a record, in either order and each left out at will, and where the type stands. */
function ttlAndClass(
  tokens: readonly Token[],
  from: number,
): Result<{ readonly ttl: number | undefined; readonly at: number }> {
  let at = from;
  let ttl: number | undefined;
  for (let more = 0; more < 2; more++) {
    const word = tokens[at]?.text ?? '';
    if (/^\d/.test(word) && ttl === undefined) {
      ttl = readTtl(word);
      if (ttl === undefined) return noTtl(word);
      at++;
    } else if (/^(IN|CH|HS|CS|ANY|CLASS\d+)$/i.test(word)) {
      if (word.toUpperCase() !== 'IN')
        return bad('zone.class', `The class ${word} is not that of the internet.`, 'Zones of a plan are of class IN.');
      at++;
    }
  }
  return good({ ttl, at });
}
