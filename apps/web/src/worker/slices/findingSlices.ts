import { compareEvaluations } from '@wide-lattice/core/evaluation';
import type { PlanComparison } from '@wide-lattice/core/evaluation';
import { findingMarks, findings, inWords, isAnsweredBy } from '@wide-lattice/core/findings';
import type { Finding, FindingMark, Proposing, DescribedFinding, Severity } from '@wide-lattice/core/findings';
import { compareMatrices } from '@wide-lattice/core/reach';
import { forwarding } from '@wide-lattice/core/forwarding';
import type { CellChange } from '@wide-lattice/core/reach';
import type { Operation } from '@wide-lattice/core/plan';
import { stopOf } from '../../kinds/kindViews';
import type { SheetStop } from '../../kinds/kindView';
import type { Steps } from '@wide-lattice/core/working';
import type { SliceHost } from '../sliceHost';
import { shownRenumberings } from './renumberings';

/** How many findings of each severity. */
export type FindingCounts = Readonly<Record<Severity, number>>;

/** Findings counted in the ways that frames and summaries show them. */
export interface CountedFindings {
  readonly all: FindingCounts;
  /** By the stop at which each is told. */
  readonly byStop: Readonly<Partial<Record<SheetStop, FindingCounts>>>;
  readonly byCode: Readonly<Record<string, number>>;
}

/** Counts findings by severity. */
export function countFindings(findings: readonly { readonly severity: Severity }[]): FindingCounts {
  const counts = { error: 0, warning: 0, note: 0 };
  for (const { severity } of findings) counts[severity]++;
  return counts;
}

function counted(marks: readonly FindingMark[]): CountedFindings {
  const byStop: Partial<Record<SheetStop, Record<Severity, number>>> = {};
  const byCode: Record<string, number> = {};
  for (const mark of marks) {
    const { severity, code } = mark;
    byCode[code] = (byCode[code] ?? 0) + 1;
    const stop = stopOf(mark);
    if (stop !== undefined) (byStop[stop] ??= { error: 0, warning: 0, note: 0 })[severity]++;
  }
  return { all: countFindings(marks), byStop, byCode };
}

/** A proposal that was tried: errors and warnings it ends, brings and leaves of those it is there to end, and what it does to the matrix. */
export interface Tried {
  readonly mends: readonly string[];
  readonly brings: readonly DescribedFinding[];
  /** What it brings beside these: nothing that is wrong, but something to know. */
  readonly notes: readonly DescribedFinding[];
  readonly leaves: readonly DescribedFinding[];
  /** Cells of the matrix that pass more than before, and those that pass less; undefined where the plan is too large to count them. */
  readonly opens: number | undefined;
  readonly closes: readonly CellChange[] | undefined;
  /** Clusters up to which the matrix is compared. */
  readonly comparedUpTo: number;
}

/** Clusters up to which the matrix before and after is compared, since a person waits. */
const MAX_COMPARED = 250;

/** What is wrong, what a change would gain and lose, and the ways to end an overlap. */
export const findingSlices = {
  *findings({ evaluation }: SliceHost): Steps<readonly DescribedFinding[]> {
    yield* evaluation.inSteps(findings);
    return evaluation.findingsInWords();
  },
  *findingCounts({ evaluation }: SliceHost): Steps<CountedFindings> {
    return counted(yield* evaluation.inSteps(findingMarks));
  },
  /** Undefined when the change cannot be applied. */
  effectOf: (host: SliceHost, operations: readonly Operation[]): PlanComparison | undefined => {
    const draft = host.draft(operations);
    return draft.ok ? compareEvaluations(host.evaluation, draft.evaluation) : undefined;
  },
  /** What a proposal comes to before it is applied; undefined when it cannot be applied. */
  tried: (host: SliceHost, operations: readonly Operation[], proposing: Proposing): Tried | undefined => {
    const draft = host.draft(operations);
    if (!draft.ok) return undefined;
    const after = draft.evaluation;
    const { gained, lost } = compareEvaluations(host.evaluation, after);
    const had = new Set(host.evaluation.findings().map(({ key }) => key));
    const brought = new Set(gained.map(({ key }) => key));
    const said = (isMeant: (finding: Finding) => boolean) =>
      after
        .findings()
        .filter(isMeant)
        .map((each) => inWords(after.plan, each));
    const isOpen = ({ key, code, severity }: Finding) =>
      severity !== 'note' && !brought.has(key) && isAnsweredBy(proposing, code);
    const isCounted = operations.length > 0 && after.plan.clusters.length <= MAX_COMPARED;
    const reach = isCounted ? compareMatrices(host.evaluation.ask(forwarding), after.ask(forwarding)) : undefined;
    return {
      mends: lost.map(({ title }) => title),
      brings: gained,
      notes: said(({ key, severity }) => severity === 'note' && !had.has(key)),
      leaves: said(isOpen),
      opens: reach?.gained.length,
      closes: reach?.lost,
      comparedUpTo: MAX_COMPARED,
    };
  },
  renumberings: (host: SliceHost, rangeIds: readonly string[]) => shownRenumberings(host, rangeIds),
};
