import {
  addressBits,
  addressPlan,
  applyOperations,
  byId,
  comparePlans,
  compareStates,
  costDifference,
  emptyPlan,
  evaluate,
  Evaluator,
  formatPrefix,
  howManyMore,
  importRows,
  kindRules,
  largestFits,
  Lookup,
  moveSite,
  parseAddress,
  parsePrefix,
  placeRun,
  poolGrowth,
  prefixAround,
  propose,
  smallerPerNode,
  stampTemplate,
  templateEffects,
  withRebuilds,
} from '@wide-lattice/core';
import type {
  AddressPlan,
  CostDifference,
  CostTime,
  Entity,
  Evaluation,
  Finding,
  ImportOptions,
  ImportPreview,
  Kind,
  LargestFit,
  LookupAnswer,
  MoreLikeThis,
  MoveOfSite,
  Operation,
  OperationProblem,
  Plan,
  PlanComparison,
  PodMode,
  PoolGrowth,
  Proposal,
  ProposalRequest,
  QuickStartRequest,
  RunPlace,
  SmallerPerNode,
  Stamp,
  StampRow,
  Template,
  TemplateEffect,
} from '@wide-lattice/core';
import { expose } from 'comlink';
import { boardRows, countFindings } from './slices/board';
import type { BoardRow, FindingCounts } from './slices/board';
import { clusterSheet } from './slices/clusterSheet';
import type { ClusterSheet } from './slices/clusterSheet';
import { costSheet } from './slices/costs';
import type { CostSheet } from './slices/costs';
import { diagramView } from './slices/diagram';
import type { DiagramView } from './slices/diagram';
import { shownStart } from './slices/quickStart';
import type { ShownStart } from './slices/quickStart';
import { lockedDecisions, podNetworkSheet } from './slices/podNetwork';
import type { LockedDecision, PodNetworkSheet } from './slices/podNetwork';
import { poolRows } from './slices/pools';
import type { PoolRow } from './slices/pools';
import { shownRenumberings } from './slices/renumberings';
import type { ShownRenumbering } from './slices/renumberings';
import { tentative } from './slices/tentative';
import { utilisationRows } from './slices/utilisation';
import type { UtilisationRow } from './slices/utilisation';
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

  /** The address plan as a document. */
  addressPlan(): AddressPlan {
    return addressPlan(this.evaluation);
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

  diagram(): DiagramView {
    return diagramView(this.evaluation);
  }

  reach(): ReachRow[] {
    return reachRows(this.evaluation);
  }

  /** A stretch of address space to scale, with a draft of changes that nobody has made yet. */
  ribbon(prefix: string, draft: readonly Operation[]): RibbonView | undefined {
    return this.withDraft(draft, (evaluation) => ribbonView(evaluation, prefix)) ?? ribbonView(this.evaluation, prefix);
  }

  /** The same stretch in two states of the plan; the present one where none is given. */
  ribbons(prefix: string, before: Plan | undefined, after: Plan | undefined): (RibbonView | undefined)[] {
    return [before, after].map((plan) => ribbonView(plan === undefined ? this.evaluation : evaluate(plan), prefix));
  }

  /** The prefix that a search on the ribbon goes to: the one typed, or the first range, pool or subnet of that name. */
  placeOf(query: string): string | undefined {
    const address = parseAddress(query.trim());
    if (address.ok) return formatPrefix(prefixAround(address.value, addressBits(address.value.family)));
    const prefix = parsePrefix(query.trim());
    if (prefix.ok) return formatPrefix(prefix.value);
    const { plan } = this;
    const [hit] = this.find(query).hits;
    if (hit === undefined) return undefined;
    const entity = byId<Entity>(plan[hit.kind], hit.id) as Entity;
    const [held] = kindRules(hit.kind).holds?.prefixes(entity) ?? [];
    if (held !== undefined) return formatPrefix(held);
    // A cluster is where its first range is, a network where its first block is.
    const range = plan.allocations.find(({ clusterId }) => clusterId === hit.id);
    return (range ?? plan.blocks.find(({ networkId }) => networkId === hit.id))?.prefix;
  }

  /** Ways to end the overlaps of some ranges, the least disturbing first. */
  renumberings(rangeIds: readonly string[]): ShownRenumbering[] {
    const shown = shownRenumberings(this.plan, this.evaluator, rangeIds);
    this.evaluation = this.evaluator.evaluate(this.plan);
    return shown;
  }

  /** Overlay, routed and native side by side for one cluster. */
  podNetwork(clusterId: string): PodNetworkSheet | undefined {
    return podNetworkSheet(this.evaluation, clusterId);
  }

  /** What would change if every cluster at a site had its pods in one mode. */
  moveSite(siteId: string, mode: PodMode): MoveOfSite {
    return moveSite(this.plan, siteId, mode);
  }

  /** What the plan costs a month, now or at the horizon. */
  costs(time: CostTime): CostSheet {
    return costSheet(this.plan, time);
  }

  /** What two states of the plan cost and what drives the difference; the present one where none is given. */
  costDifference(before: Plan | undefined, after: Plan | undefined, time: CostTime): CostDifference {
    return costDifference(before ?? this.plan, after ?? this.plan, time);
  }

  /** What a change of a template would do to each cluster made from it; the present template when none is given. */
  templateEffects(templateId: string, changed?: Template): TemplateEffect[] {
    return templateEffects(this.plan, templateId, changed);
  }

  /** Clusters of a template at the sites of a list, with their ranges, as a change that nobody has made yet. */
  stamp(templateId: string, rows: readonly StampRow[]): Stamp {
    return stampTemplate(this.plan, templateId, rows);
  }

  lockedDecisions(): LockedDecision[] {
    return lockedDecisions(this.evaluation);
  }

  /** How full ranges are by site and purpose. */
  utilisation(): UtilisationRow[] {
    return utilisationRows(this.plan);
  }

  /** The largest block that still fits for each need of a cluster, and what longer per-node prefixes would free. */
  inverse(clusterId: string): { largest: LargestFit[]; perNode: SmallerPerNode[] } | undefined {
    const largest = largestFits(this.plan, clusterId);
    return largest === undefined ? undefined : { largest, perNode: smallerPerNode(this.plan, clusterId) };
  }

  /** Where this many addresses in a row are free in a cluster's subnets. */
  placeRun(clusterId: string, count: number): RunPlace {
    return placeRun(this.plan, clusterId, count);
  }

  /** The consequences of a cluster as they would be with a draft of changes that nobody has made yet. */
  cluster(clusterId: string, draft: readonly Operation[]): DraftSheet {
    if (draft.length === 0) return { sheet: clusterSheet(this.evaluation, clusterId), problems: [] };
    const applied = applyOperations(this.plan, withRebuilds(this.plan, draft, tentative));
    if (!applied.ok) return { sheet: undefined, problems: applied.problems };
    return { sheet: this.withDraft(draft, (evaluation) => clusterSheet(evaluation, clusterId)), problems: [] };
  }

  /** A whole network for a new cluster, as a change that nobody has made yet. */
  quickStart(request: QuickStartRequest): ShownStart {
    return shownStart(this.plan, request);
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
    const before = { plan: this.plan, findings: this.evaluation.findings() };
    return this.withDraft(operations, (after) =>
      compareStates(before, { plan: after.plan, findings: after.findings() }),
    );
  }

  importRows(kind: Kind, text: string, options: ImportOptions): ImportPreview {
    return importRows(this.plan, kind, text, options);
  }

  find(query: string): LookupAnswer {
    this.lookup ??= new Lookup(this.plan);
    return this.lookup.find(query);
  }

  /** Reads something off the plan as it would be with a draft; undefined when the draft cannot be applied. */
  private withDraft<T>(draft: readonly Operation[], read: (evaluation: Evaluation) => T): T | undefined {
    const applied = applyOperations(this.plan, withRebuilds(this.plan, draft, tentative));
    if (!applied.ok) return undefined;
    const found = read(this.evaluator.evaluate(applied.plan));
    this.evaluation = this.evaluator.evaluate(this.plan);
    return found;
  }

  private take(plan: Plan): void {
    this.plan = plan;
    this.evaluation = this.evaluator.evaluate(plan);
    this.lookup = undefined;
  }
}

export type CoreWorkerApi = CoreWorker;

expose(new CoreWorker());
