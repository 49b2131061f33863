import type { Names } from '../names.js';
import { connectionWords } from './connections.js';
import { egressWords } from './egress.js';
import { entryWords } from './entry.js';
import { limitWords } from './limits.js';
import { nameWords } from './names.js';
import { rangeWords } from './ranges.js';
import type { FindingWords } from './words.js';

type Table = typeof rangeWords &
  typeof limitWords &
  typeof egressWords &
  typeof entryWords &
  typeof nameWords &
  typeof connectionWords;

const words: Table = {
  ...rangeWords,
  ...limitWords,
  ...egressWords,
  ...entryWords,
  ...nameWords,
  ...connectionWords,
};

/** Every code that something is said of. */
export const factCodes = Object.keys(words) as readonly FactCode[];

/** What a finding says, by the code of its check and, after a colon, which of several things the check found. */
export type FactCode = keyof Table;

/** The code of a check. */
export type FindingCode<Code extends FactCode = FactCode> = Code extends `${infer Check}:${string}` ? Check : Code;

/** What is said of one code, as values. */
export type FactOf<Code extends FactCode> = Code extends FactCode
  ? Parameters<Table[Code]> extends [infer Fact, ...unknown[]]
    ? Fact
    : never
  : never;

/** A finding as values: what the check found, by its code. */
export type FindingFact = { readonly [Code in FactCode]: { readonly code: Code } & FactOf<Code> }[FactCode];

/** The sentences of a finding; names of links, tables and devices on a way are those of the plan that is handed. */
export function formatFinding(names: Names, fact: FindingFact): FindingWords {
  // What a code leads to takes the fact that has it, which the type of a look-up does not tell.
  return (words[fact.code] as (fact: FindingFact, names: Names) => FindingWords)(fact, names);
}
