import { familyName, prefixSize } from '@wide-lattice/core/address';
import { rangeOf } from '@wide-lattice/core/plan';
import { worstVerdict } from '@wide-lattice/core/verdicts';
import { formatSize } from '@wide-lattice/core/working';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { Allocation } from '@wide-lattice/core/plan';
import type { VerdictState } from '@wide-lattice/core/verdicts';

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
  /** Other clusters that live in the same subnet, by name. */
  readonly sharedWith: readonly string[];
  readonly isLocked: boolean;
}

/** Every allocated range, cluster by cluster. */
export function rangeRows(evaluation: Evaluation): RangeRow[] {
  return evaluation.clusters.flatMap(({ cluster, site, allocations, beside, figures }) =>
    allocations.map((allocation) => {
      const filled = figures.needs.find((each) => each.ranges.includes(allocation));
      const verdicts = evaluation.verdictsOf(allocation.id);
      return {
        id: allocation.id,
        allocation,
        cluster: cluster.name,
        site: site.name,
        family: familyName(rangeOf(allocation).family),
        size: formatSize(prefixSize(rangeOf(allocation))),
        needed: filled === undefined ? 'none' : `/${filled.need.length.value}`,
        isLargeEnough: filled?.isLargeEnough ?? false,
        verdict: worstVerdict(verdicts),
        sharedWith: (beside.get(allocation.id) ?? []).filter(({ kind }) => kind === 'clusters').map(({ name }) => name),
        isLocked: allocation.isPinned || cluster.isBuilt,
      };
    }),
  );
}
