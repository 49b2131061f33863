import { writeFileSync } from 'node:fs';
import { evaluate } from '@wide-lattice/core/evaluation';
import { readPlanFile } from '@wide-lattice/core/exchange';
import { handoverFiles, pathOf, zipped } from '@wide-lattice/core/handover';
import type { Plan } from '@wide-lattice/core/plan';
import { isInScope } from '@wide-lattice/core/rehearsal';
import type { Scope } from '@wide-lattice/core/rehearsal';
import { finished, formatCount } from '@wide-lattice/core/working';
import { problemLines } from './commands.js';
import type { Outcome } from './commands.js';

/** What is asked for on the command line. */
export interface HandoverOptions {
  readonly cluster?: string;
  readonly site?: string;
  readonly template?: string;
  readonly out: string;
}

/** Writes the bundle of a plan, or of a part of it by its name. Exit code: 0, or 2 where the file, the name or the place cannot be used. */
export function handover(text: string, { out, ...wish }: HandoverOptions): Outcome {
  const read = readPlanFile(text);
  if (!read.ok) return refused(problemLines(read.problems).join('\n'));
  const scope = scopeOf(read.plan, wish);
  if (typeof scope === 'string') return refused(scope);
  const files = finished(handoverFiles(evaluate(read.plan), scope));
  try {
    writeFileSync(out, zipped(files, pathOf(read.plan.settings.name)));
  } catch (error) {
    return refused(`${out} cannot be written: ${error instanceof Error ? error.message : String(error)}`);
  }
  return { exitCode: 0, output: `${out}: ${formatCount(files.length, 'file')}\n`, errors: '' };
}

/** The scope that is named, or why there is none. */
function scopeOf(plan: Plan, { cluster, site, template }: Omit<HandoverOptions, 'out'>): Scope | string {
  const wished = [
    { kind: 'cluster' as const, name: cluster, all: plan.clusters },
    { kind: 'site' as const, name: site, all: plan.sites },
    { kind: 'template' as const, name: template, all: plan.templates },
  ].filter((each) => each.name !== undefined);
  const [one, ...more] = wished;
  if (one === undefined) return { kind: 'plan' };
  if (more.length > 0) return 'Give one of --cluster, --site and --template, not several.';
  const { kind, name, all } = one;
  const found = all.find((each) => each.name.toLowerCase() === name?.trim().toLowerCase());
  if (found !== undefined) {
    const scope = { kind, id: found.id };
    return plan.clusters.some((each) => isInScope(scope, each)) ? scope : `The ${kind} ${found.name} has no cluster.`;
  }
  const some = all.slice(0, 8).map((each) => each.name);
  return `There is no ${kind} "${name ?? ''}". Known are ${some.join(', ')}${all.length > 8 ? ' and others' : ''}.`;
}

function refused(message: string): Outcome {
  return { exitCode: 2, output: '', errors: `${message}\n` };
}
