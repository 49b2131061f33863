import { renumberings } from '@wide-lattice/core/allocation';
import { compareEvaluations } from '@wide-lattice/core/evaluation';
import type { Renumbering } from '@wide-lattice/core/allocation';
import type { DescribedFinding } from '@wide-lattice/core/findings';
import type { SliceHost } from '../sliceHost';

/** A way to end an overlap with what it would gain and lose. */
export interface ShownRenumbering extends Renumbering {
  readonly gained: readonly DescribedFinding[];
  readonly lost: readonly DescribedFinding[];
}

/** The ways to end the overlaps of some ranges, each tried on the plan. */
export function shownRenumberings(host: SliceHost, rangeIds: readonly string[]): ShownRenumbering[] {
  const { plan, evaluation } = host;
  const links = rangeIds.some((id) => evaluation.verdictsOf(id).some(({ isPlanned }) => isPlanned))
    ? plan.links.filter(({ isPlanned }) => isPlanned).map(({ id }) => id)
    : [];
  const shown = renumberings(plan, rangeIds, links).flatMap((way): ShownRenumbering[] => {
    const draft = host.draft(way.operations);
    if (!draft.ok) return [];
    const { gained, lost } = compareEvaluations(evaluation, draft.evaluation);
    return [{ ...way, gained, lost }];
  });
  // A link that has nothing to do with the overlap ends nothing.
  return shown.filter(({ lost }) => lost.some(({ subjects }) => subjects.some(({ id }) => rangeIds.includes(id))));
}
