import { MAX_LEVELS, TOO_DEEP } from './depth.js';

/** Bytes of a list that are parsed at once: a millisecond’s work. */
const PART_BYTES = 64_000;
/** Bytes that are looked at before others get their turn. */
const LOOKED_AT_ONCE = 250_000;

const [QUOTE, COMMA, COLON, ESCAPE] = [0x22, 0x2c, 0x3a, 0x5c];
const [LIST, LIST_END, OBJECT, OBJECT_END] = [0x5b, 0x5d, 0x7b, 0x7d];

/** A long list that is a field of the body: its field, where its content is, and the commas at which it is cut. */
interface LongList {
  readonly field: string;
  readonly from: number;
  readonly to: number;
  readonly cuts: readonly number[];
}

/**
 * Reads the JSON of a body in steps, so that a long change does not delay other requests: the list of its operations is parsed part by
 * part. Levels are counted before anything goes down them by recursion. Throws a SyntaxError where it is not JSON, and an
 * error of the type TOO_DEEP where it has more than MAX_LEVELS levels.
 */
export function* jsonInSteps(body: Buffer, partBytes = PART_BYTES): Generator<undefined, unknown> {
  const list = yield* longestList(body, partBytes);
  const text = (from: number, to: number) => body.toString('utf8', from, to);
  if (list === undefined) return JSON.parse(body.toString('utf8')) as unknown;
  const whole = JSON.parse(text(0, list.from) + text(list.to, body.length)) as Record<string, unknown>;
  const rows = whole[list.field];
  // A field that is given twice is read as usual, the last one winning.
  if (!Array.isArray(rows) || rows.length > 0) return JSON.parse(body.toString('utf8')) as unknown;
  let from = list.from;
  for (const to of [...list.cuts, list.to]) {
    const part = JSON.parse(`[${text(from, to)}]`) as unknown[];
    // Nothing between two commas, or after the last one, is no JSON.
    if (part.length === 0) throw new SyntaxError('an element of a list is missing');
    for (const each of part) rows.push(each);
    from = to + 1;
    yield;
  }
  return whole;
}

/** The longest list among the fields of the body; undefined where none is long. */
function* longestList(body: Buffer, partBytes: number): Generator<undefined, LongList | undefined> {
  let level = 0;
  let isInText = false;
  /** The text that was read last on the first level, and the one before the last colon there: a field. */
  let [textFrom, textTo, fieldFrom, fieldTo] = [0, 0, 0, 0];
  let from = -1;
  let cuts: number[] = [];
  let longest: LongList | undefined;
  for (let at = 0; at < body.length; at++) {
    if (at % LOOKED_AT_ONCE === LOOKED_AT_ONCE - 1) yield;
    const sign = body[at];
    if (isInText) {
      if (sign === ESCAPE) at++;
      else if (sign === QUOTE) {
        isInText = false;
        textTo = at + 1;
      }
    } else if (sign === QUOTE) {
      isInText = true;
      if (level === 1) textFrom = at;
    } else if (sign === LIST || sign === OBJECT) {
      if (++level > MAX_LEVELS) throw Object.assign(new Error('too deep'), { type: TOO_DEEP });
      if (level === 2 && sign === LIST) [from, cuts] = [at + 1, []];
    } else if (sign === LIST_END || sign === OBJECT_END) {
      if (level === 2 && sign === LIST_END && cuts.length > 0 && from >= 0 && isLonger(from, at, longest))
        longest = { field: fieldAt(body, fieldFrom, fieldTo), from, to: at, cuts };
      if (level === 2) [from, cuts] = [-1, []];
      level--;
    } else if (level === 1 && sign === COLON) [fieldFrom, fieldTo] = [textFrom, textTo];
    else if (level === 2 && sign === COMMA && from >= 0 && at - (cuts.at(-1) ?? from) > partBytes) cuts.push(at);
  }
  return longest;
}

function isLonger(from: number, to: number, longest: LongList | undefined): boolean {
  return longest === undefined || to - from > longest.to - longest.from;
}

function fieldAt(body: Buffer, from: number, to: number): string {
  return String(JSON.parse(body.toString('utf8', from, to)));
}
