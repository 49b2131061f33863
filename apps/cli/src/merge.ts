import { writeFileSync } from 'node:fs';
import { readPlanFile, writePlanFile } from '@wide-lattice/core/exchange';
import { byId, kindNames, labelOf, mergePlans, rulesOf, writeField } from '@wide-lattice/core/plan';
import type { Entity, Plan } from '@wide-lattice/core/plan';
import { problemLines } from './commands.js';
import type { Outcome } from './commands.js';

/** The texts of a plan file as two sides began from it, as this side has it, and as the other has it. */
export interface Sides {
  readonly base: string;
  readonly ours: string;
  readonly theirs: string;
}

type Clash = Extract<ReturnType<typeof mergePlans>, { readonly ok: false }>['clashes'][number];

/**
 * Brings two edited plan files together, and writes the result where it is to be, in the syntax of this side. Exit code: 0, 1 where both changed the
 * same otherwise, so that nothing is written, 2 where a file cannot be used.
 */
export function merge({ base, ours, theirs }: Sides, out: string): Outcome {
  const read = [base, ours, theirs].map((text) => readPlanFile(text));
  const plans: Plan[] = [];
  for (const [at, each] of read.entries()) {
    if (!each.ok)
      return {
        exitCode: 2,
        output: '',
        errors: `${[`Of the ${names[at] ?? ''}:`, ...problemLines(each.problems)].join('\n')}\n`,
      };
    plans.push(each.plan);
  }
  const [began, here, there] = plans as [Plan, Plan, Plan];
  const merged = mergePlans(began, here, there);
  if (merged.ok) {
    writeFileSync(out, writePlanFile(merged.plan, ours.trimStart().startsWith('{') ? 'json' : 'yaml'));
    return { exitCode: 0, output: '', errors: '' };
  }
  const lines = [
    ...merged.clashes.map((clash) => clashLine([began, here, there], clash)),
    ...merged.problems.map(({ message, fix }) => `Together: ${message} ${fix}`.trimEnd()),
  ];
  return { exitCode: 1, output: '', errors: `${lines.join('\n')}\n` };
}

const names = ['base', 'file of this side', 'file of the other side'];

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
