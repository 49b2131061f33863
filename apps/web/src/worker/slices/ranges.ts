import { worstVerdict } from '@wide-lattice/core/verdicts';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { VerdictState } from '@wide-lattice/core/verdicts';

/** What the plan does not say by itself of an allocated range: there are tens of thousands of them. */
export interface RangeRow {
  readonly id: string;
  readonly needed: string;
  readonly isLargeEnough: boolean;
  readonly verdict: VerdictState;
  /** Other clusters that live in the same subnet, by name. */
  readonly sharedWith: readonly string[];
}

/** Every allocated range, cluster by cluster. */
export function rangeRows(evaluation: Evaluation): RangeRow[] {
  return evaluation.clusters.flatMap(({ allocations, beside, figures }) =>
    allocations.map((allocation) => {
      const { id } = allocation;
      const filled = figures.needs.find((each) => each.ranges.includes(allocation));
      return {
        id,
        needed: filled === undefined ? 'none' : `/${filled.need.length.value}`,
        isLargeEnough: filled?.isLargeEnough ?? false,
        verdict: worstVerdict(evaluation.verdictsOf(id)),
        sharedWith: (beside.get(id) ?? []).filter(({ kind }) => kind === 'clusters').map(({ name }) => name),
      };
    }),
  );
}
