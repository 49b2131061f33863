import { familyName, prefixSize, rangeOf, saySize, worstVerdict } from '@wide-lattice/core';
import type { Allocation, Evaluation, VerdictState } from '@wide-lattice/core';

/** One allocated range in the sheet of ranges. */
export interface RangeRow {
  readonly id: string;
  readonly allocation: Allocation;
  readonly cluster: string;
  readonly site: string;
  readonly family: string;
  readonly size: string;
  readonly needed: string;
  readonly isLargeEnough: boolean;
  readonly verdict: VerdictState;
  readonly isLocked: boolean;
}

/** Every allocated range, cluster by cluster. */
export function rangeRows(evaluation: Evaluation): RangeRow[] {
  return evaluation.clusters.flatMap(({ cluster, site, allocations, figures }) =>
    allocations.map((allocation) => {
      const filled = figures.needs.find((each) => each.allocation === allocation);
      const verdicts = evaluation.verdictsOf(allocation.id);
      return {
        id: allocation.id,
        allocation,
        cluster: cluster.name,
        site: site.name,
        family: familyName(rangeOf(allocation).family),
        size: saySize(prefixSize(rangeOf(allocation))),
        needed: filled === undefined ? 'none' : `/${filled.need.length.value}`,
        isLargeEnough: filled?.isLargeEnough ?? false,
        verdict: worstVerdict(verdicts),
        isLocked: allocation.isFixed || cluster.isBuilt,
      };
    }),
  );
}
