import { evaluate } from '@wide-lattice/core/evaluation';
import { handoverFiles, zipped } from '@wide-lattice/core/handover';
import { idNamed } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { isInScope } from '@wide-lattice/core/rehearsal';
import type { Scope } from '@wide-lattice/core/rehearsal';
import { formatProblem } from '@wide-lattice/core/result';
import { finished, formatCount } from '@wide-lattice/core/working';
import { unusable, withPlan } from './commands.js';
import type { Outcome } from './commands.js';
import { written } from './written.js';

/** What is asked for on the command line. */
export interface HandoverOptions {
  readonly cluster?: string;
  readonly site?: string;
  readonly template?: string;
  readonly out: string;
}

/** Writes the bundle of a plan, or of a part of it by its name. Exit code: 0, or 2 where the file, the name or the place cannot be used. */
export function handover(text: string, { out, ...wish }: HandoverOptions): Outcome {
  return withPlan(text, (plan) => {
    const scope = scopeOf(plan, wish);
    if (typeof scope === 'string') return unusable([scope]);
    const files = finished(handoverFiles(evaluate(plan), scope));
    return written(out, zipped(files, plan.settings.name), `${out}: ${formatCount(files.length, 'file')}\n`);
  });
}

const kindOfScope = { cluster: 'clusters', site: 'sites', template: 'templates' } as const;

/** The scope that is named, or why there is none. */
function scopeOf(plan: Plan, wish: Omit<HandoverOptions, 'out'>): Scope | string {
  const [named, ...more] = (['cluster', 'site', 'template'] as const).filter((kind) => wish[kind] !== undefined);
  if (named === undefined) return { kind: 'plan' };
  if (more.length > 0) return 'Give one of --cluster, --site and --template, not several.';
  const found = idNamed(plan, kindOfScope[named], wish[named]);
  if (!found.ok) return formatProblem(found.problem);
  const scope = { kind: named, id: found.value };
  return plan.clusters.some((each) => isInScope(scope, each))
    ? scope
    : `The ${named} ${wish[named] ?? ''} has no cluster.`;
}
