import { compareEvaluations } from '@wide-lattice/core/evaluation';
import type { PlanComparison } from '@wide-lattice/core/evaluation';
import { findingMarks } from '@wide-lattice/core/findings';
import type { FindingMark, Severity } from '@wide-lattice/core/findings';
import type { Kind, Operation } from '@wide-lattice/core/plan';
import type { SliceHost } from '../sliceHost';
import { shownRenumberings } from './renumberings';

/** How many findings of each severity. */
export type FindingCounts = Readonly<Record<Severity, number>>;

/** Findings counted in the ways that frames and summaries show them. */
export interface CountedFindings {
  readonly all: FindingCounts;
  /** By the kind of what each is first about. */
  readonly byKind: Readonly<Partial<Record<Kind, FindingCounts>>>;
  readonly byCode: Readonly<Record<string, number>>;
}

/** Counts findings by severity. */
export function countFindings(findings: readonly { readonly severity: Severity }[]): FindingCounts {
  const counts = { error: 0, warning: 0, note: 0 };
  for (const { severity } of findings) counts[severity]++;
  return counts;
}

function counted(marks: readonly FindingMark[]): CountedFindings {
  const byKind: Partial<Record<Kind, Record<Severity, number>>> = {};
  const byCode: Record<string, number> = {};
  for (const { severity, kind, code } of marks) {
    byCode[code] = (byCode[code] ?? 0) + 1;
    if (kind !== undefined) (byKind[kind] ??= { error: 0, warning: 0, note: 0 })[severity]++;
  }
  return { all: countFindings(marks), byKind, byCode };
}

/** What is wrong, what a change would gain and lose, and the ways to end an overlap. */
export const findingSlices = {
  findings: ({ evaluation }: SliceHost) => evaluation.findings(),
  findingCounts: ({ evaluation }: SliceHost) => counted(evaluation.ask(findingMarks)),
  /** Undefined when the change cannot be applied. */
  effectOf: (host: SliceHost, operations: readonly Operation[]): PlanComparison | undefined => {
    const draft = host.draft(operations);
    return draft.ok ? compareEvaluations(host.evaluation, draft.evaluation) : undefined;
  },
  renumberings: (host: SliceHost, rangeIds: readonly string[]) => shownRenumberings(host, rangeIds),
};
