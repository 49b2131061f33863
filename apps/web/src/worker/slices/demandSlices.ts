import { howManyMore, largestFits, placeReservation, smallerPerNode } from '@wide-lattice/core/allocation';
import { costDifference } from '@wide-lattice/core/money';
import { stampTemplate, templateEffects } from '@wide-lattice/core/templates';
import type { LargestFit, QuickStartRequest, SmallerPerNode } from '@wide-lattice/core/allocation';
import type { CostTime } from '@wide-lattice/core/money';
import type { Operation, OperationProblem, Plan, Template } from '@wide-lattice/core/plan';
import type { StampRow } from '@wide-lattice/core/templates';
import type { SliceHost } from '../sliceHost';
import { clusterSheet } from './clusterSheet';
import type { ClusterSheet } from './clusterSheet';
import { costSheet } from './costs';
import { shownStart } from './quickStart';

/** The consequences of a draft; with problems when the draft cannot be applied and has none. */
export interface DraftSheet {
  readonly sheet: ClusterSheet | undefined;
  readonly problems: readonly OperationProblem[];
}

/** Clusters and what follows from their decisions, as they are and as drafts. */
export const demandSlices = {
  cluster: (host: SliceHost, clusterId: string, operations: readonly Operation[]): DraftSheet => {
    const draft = host.draft(operations);
    return draft.ok
      ? { sheet: clusterSheet(draft.evaluation, clusterId), problems: [] }
      : { sheet: undefined, problems: draft.problems };
  },
  /** How many more clusters like this one fit in what is left. */
  howManyMore: ({ plan }: SliceHost, clusterId: string) => howManyMore(plan, clusterId),
  /** The largest block that still fits for each need of a cluster, and what longer per-node prefixes would free. */
  inverse: (
    { plan }: SliceHost,
    clusterId: string,
  ): { readonly largest: LargestFit[]; readonly perNode: SmallerPerNode[] } | undefined => {
    const largest = largestFits(plan, clusterId);
    return largest === undefined ? undefined : { largest, perNode: smallerPerNode(plan, clusterId) };
  },
  /** Where this many addresses in a row are free in a cluster's subnets. */
  placeReservation: ({ plan }: SliceHost, clusterId: string, count: number) => placeReservation(plan, clusterId, count),
  quickStart: ({ plan }: SliceHost, request: QuickStartRequest) => shownStart(plan, request),
  /** What the plan costs per month, now or at the horizon. */
  costs: ({ plan }: SliceHost, time: CostTime) => costSheet(plan, time),
  /** What two states of the plan cost and what drives the difference; the present one where none is given. */
  costDifference: ({ plan }: SliceHost, before: Plan | undefined, after: Plan | undefined, time: CostTime) =>
    costDifference(before ?? plan, after ?? plan, time),
  /** What a change of a template would do to each cluster made from it; the present template when none is given. */
  templateEffects: ({ plan }: SliceHost, templateId: string, changed?: Template) =>
    templateEffects(plan, templateId, changed),
  /** Clusters of a template at the sites of a list, with their ranges, as a change that nobody has made yet. */
  stamp: ({ plan }: SliceHost, templateId: string, rows: readonly StampRow[]) => stampTemplate(plan, templateId, rows),
};
