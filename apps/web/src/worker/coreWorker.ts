import {
  applyOperations,
  comparePlans,
  emptyPlan,
  Evaluator,
  howManyMore,
  importRows,
  Lookup,
  poolGrowth,
  propose,
} from '@wide-lattice/core';
import type {
  Evaluation,
  Finding,
  ImportPreview,
  Kind,
  LookupAnswer,
  MoreLikeThis,
  Operation,
  OperationProblem,
  Plan,
  PlanComparison,
  PoolGrowth,
  Proposal,
  ProposalRequest,
} from '@wide-lattice/core';
import { expose } from 'comlink';
import { boardRows, countFindings } from './slices/board';
import type { BoardRow, FindingCounts } from './slices/board';
import { clusterSheet } from './slices/clusterSheet';
import type { ClusterSheet } from './slices/clusterSheet';
import { poolRows } from './slices/pools';
import type { PoolRow } from './slices/pools';
import { rangeRows } from './slices/ranges';
import type { RangeRow } from './slices/ranges';
import { reachRows } from './slices/reach';
import type { ReachRow } from './slices/reach';
import { ribbonView } from './slices/ribbon';
import type { RibbonView } from './slices/ribbon';

/** The consequences of a draft; with problems when the draft cannot be applied and has none. */
export interface DraftSheet {
  readonly sheet: ClusterSheet | undefined;
  readonly problems: readonly OperationProblem[];
}

/** Holds the plan beside the page and answers in slices, so that the page never waits for a computation. */
class CoreWorker {
  private plan: Plan = emptyPlan();
  private readonly evaluator = new Evaluator();
  private evaluation: Evaluation = this.evaluator.evaluate(this.plan);
  private lookup: Lookup | undefined;

  /** Takes a plan whole; called when one is opened or was reloaded. */
  load(plan: Plan): void {
    this.take(plan);
  }

  /** Follows a change that the page has applied to its own copy. */
  advance(operations: readonly Operation[]): void {
    const applied = applyOperations(this.plan, operations);
    if (!applied.ok) throw new Error('The worker and the page hold different plans.');
    this.take(applied.plan);
  }

  board(): BoardRow[] {
    return boardRows(this.evaluation);
  }

  findings(): readonly Finding[] {
    return this.evaluation.findings();
  }

  findingCounts(): FindingCounts {
    return countFindings(this.evaluation.findings());
  }

  pools(): PoolRow[] {
    return poolRows(this.evaluation);
  }

  /** How the need for a pool grows; undefined when it is not in the plan. */
  poolGrowth(poolId: string): PoolGrowth | undefined {
    const pool = this.plan.pools.find(({ id }) => id === poolId);
    return pool === undefined ? undefined : poolGrowth(this.plan, pool);
  }

  /** How many more clusters like this one fit in what is left. */
  howManyMore(clusterId: string): MoreLikeThis | undefined {
    return howManyMore(this.plan, clusterId);
  }

  ranges(): RangeRow[] {
    return rangeRows(this.evaluation);
  }

  reach(): ReachRow[] {
    return reachRows(this.evaluation);
  }

  ribbon(prefix: string): RibbonView | undefined {
    return ribbonView(this.evaluation, prefix);
  }

  /** The consequences of a cluster as they would be with a draft of changes that nobody has made yet. */
  cluster(clusterId: string, draft: readonly Operation[]): DraftSheet {
    if (draft.length === 0) return { sheet: clusterSheet(this.evaluation, clusterId), problems: [] };
    const applied = applyOperations(this.plan, draft);
    if (!applied.ok) return { sheet: undefined, problems: applied.problems };
    const sheet = clusterSheet(this.evaluator.evaluate(applied.plan), clusterId);
    this.evaluation = this.evaluator.evaluate(this.plan);
    return { sheet, problems: [] };
  }

  propose(request: ProposalRequest): Proposal {
    return propose(this.plan, request);
  }

  /** The difference between two states of the plan; the present one where none is given. */
  compare(before: Plan | undefined, after: Plan | undefined): PlanComparison {
    return comparePlans(before ?? this.plan, after ?? this.plan);
  }

  /** What a change would gain and lose, without making it; undefined when it cannot be applied. */
  effectOf(operations: readonly Operation[]): PlanComparison | undefined {
    const applied = applyOperations(this.plan, operations);
    return applied.ok ? comparePlans(this.plan, applied.plan) : undefined;
  }

  importRows(kind: Kind, text: string): ImportPreview {
    return importRows(this.plan, kind, text);
  }

  find(query: string): LookupAnswer {
    this.lookup ??= new Lookup(this.plan);
    return this.lookup.find(query);
  }

  private take(plan: Plan): void {
    this.plan = plan;
    this.evaluation = this.evaluator.evaluate(plan);
    this.lookup = undefined;
  }
}

export type CoreWorkerApi = CoreWorker;

expose(new CoreWorker());
