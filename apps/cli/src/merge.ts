import { readPlanFile, writePlanFile } from '@wide-lattice/core/exchange';
import { byId, kindNames, labelOf, mergePlans, rulesOf, writeField } from '@wide-lattice/core/plan';
import type { Clash, Entity, Plan } from '@wide-lattice/core/plan';
import { problemLines, unusable } from './commands.js';
import type { Outcome } from './commands.js';
import { written } from './written.js';

/** The texts of a plan file as two sides began from it, as this side has it, and as the other has it. */
export interface Sides {
  readonly base: string;
  readonly ours: string;
  readonly theirs: string;
}

/**
 * Brings two edited plan files together, and writes the result to a file, in the syntax of this side. Exit code: 0, 1 where both changed the same
 * otherwise, so that nothing is written, 2 where a file cannot be used.
 */
export function merge({ base, ours, theirs }: Sides, out: string): Outcome {
  return ofFile('base', base, (began) =>
    ofFile('file of this side', ours, (here) =>
      ofFile('file of the other side', theirs, (there) => {
        const merged = mergePlans(began, here, there);
        if (merged.ok)
          return written(out, writePlanFile(merged.plan, ours.trimStart().startsWith('{') ? 'json' : 'yaml'), '');
        const lines = [
          ...merged.clashes.map((clash) => clashLine([began, here, there], clash)),
          ...merged.problems.map(({ message, fix }) => `Together: ${message} ${fix}`.trimEnd()),
        ];
        return { exitCode: 1, output: '', errors: `${lines.join('\n')}\n` };
      }),
    ),
  );
}

/** Does something with the plan of one of several files; where it holds none, that file is named. */
function ofFile(name: string, text: string, work: (plan: Plan) => Outcome): Outcome {
  const read = readPlanFile(text);
  return read.ok ? work(read.plan) : unusable([`Of the ${name}:`, ...problemLines(read.problems)]);
}

/** One clash in words: what it is about, and the value at each side. */
function clashLine([base, ours, theirs]: readonly [Plan, Plan, Plan], clash: Clash): string {
  const { kind, id, field, began, theirs: there, mine, isRemoval } = clash;
  const holder = [theirs, ours, base].find(
    (plan) => kind !== 'settings' && byId<Entity>(plan[kind], id ?? '') !== undefined,
  );
  const what =
    kind === 'settings' || holder === undefined
      ? 'Plan settings'
      : `${kindNames[kind]} ${labelOf(holder, kind, byId<Entity>(holder[kind], id ?? ''))}`;
  const rule = field === null ? undefined : rulesOf(kind)[field];
  if (rule === undefined) return `${what}: one side removed or added it, and the other changed it.`;
  const say = (plan: Plan, value: typeof began) => writeField(plan, rule, value) || 'empty';
  const here = isRemoval ? 'removed with its row' : say(ours, mine);
  return `${what}, ${rule.label}: ${say(base, began)} at the base, ${here} on this side, ${say(theirs, there)} on the other.`;
}
