import { applyOperations, compareStates, renumberings, withRebuilds } from '@wide-lattice/core';
import type { Evaluator, Finding, Plan, Renumbering } from '@wide-lattice/core';

import { tentative } from './tentative';

/** A way to end an overlap with what it would gain and lose. */
export interface ShownRenumbering extends Renumbering {
  readonly gained: readonly Finding[];
  readonly lost: readonly Finding[];
}

/** The ways to end the overlaps of some ranges, each tried on the plan; the evaluator is handed back at the plan as it is. */
export function shownRenumberings(plan: Plan, evaluator: Evaluator, rangeIds: readonly string[]): ShownRenumbering[] {
  const evaluation = evaluator.evaluate(plan);
  const findings = evaluation.findings();
  const links = rangeIds.some((id) => evaluation.verdictsOf(id).some(({ isPlanned }) => isPlanned))
    ? plan.links.filter(({ isPlanned }) => isPlanned).map(({ id }) => id)
    : [];
  const shown = renumberings(plan, rangeIds, links).flatMap((way): ShownRenumbering[] => {
    const applied = applyOperations(plan, withRebuilds(plan, way.operations, tentative));
    if (!applied.ok) return [];
    const after = { plan: applied.plan, findings: evaluator.evaluate(applied.plan).findings() };
    const { gained, lost } = compareStates({ plan, findings }, after);
    return [{ ...way, gained, lost }];
  });
  evaluator.evaluate(plan);
  // A link that has nothing to do with the overlap ends nothing.
  return shown.filter(({ lost }) => lost.some(({ subjects }) => subjects.some(({ id }) => rangeIds.includes(id))));
}
