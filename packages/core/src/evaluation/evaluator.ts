import { Domains } from '../domains/index.js';
import { checkCluster, inRank, planChecks, rank, reuseFinding, verdictFinding } from '../findings/index.js';
import type { ClusterResult, Finding, Ranked } from '../findings/index.js';
import { byId, changedBetween, purposes } from '../plan/index.js';
import type { Allocation, Block, Cluster, Plan } from '../plan/index.js';
import { clusterFigures, sizingOf } from '../sizing/index.js';
import { SiteNeighbours } from './siteNeighbours.js';
import { useOfAllocation, useOfBlock, useOfInUse, useOfSubnet, usesOfPlan, VerdictEngine } from '../verdicts/index.js';
import type { ReuseGroup, Use, Verdict } from '../verdicts/index.js';

/** Everything derived from one plan. Valid until its evaluator is given the next plan. */
export interface Evaluation {
  readonly plan: Plan;
  readonly domains: Domains;
  /** One result a cluster, in the order of plan.clusters. */
  readonly clusters: readonly ClusterResult[];
  readonly reuseGroups: readonly ReuseGroup[];
  readonly verdictCount: number;
  /** Conflicts and shadowed pairs of one allocated range or range in use. */
  verdictsOf(rangeId: string): readonly Verdict[];
  /** Every conflict and shadowed pair. */
  verdicts(): readonly Verdict[];
  /** Findings about one cluster, overlaps of its ranges included. */
  findingsOf(clusterId: string): readonly Finding[];
  /** Every finding: errors first, then warnings, then notes. */
  findings(): readonly Finding[];
}

/**
 * Evaluates plans and keeps what did not change: entities are immutable, so identity says what an edit
 * touched. The first plan costs a full evaluation, each edited successor only what the edit reaches.
 */
export class Evaluator {
  private plan: Plan | undefined;
  private allocationsOf = new Map<string, readonly Allocation[]>();
  private neighbours = new SiteNeighbours(undefined);
  private resultOf = new Map<string, ClusterResult>();
  private clusters: readonly ClusterResult[] = [];
  private domains = new Domains([], []);
  private engine = new VerdictEngine(this.domains, []);
  private useOf = new Map<string, Use>();
  private blockGroups: { of: readonly Block[]; groups: ReadonlyMap<string, readonly Block[]> } | undefined;
  private clusterFindings = new WeakMap<ClusterResult, readonly Finding[]>();
  private verdictFindings = new WeakMap<Verdict, Finding>();
  private readonly reuseFindings = new WeakMap<ReuseGroup, Finding>();
  /** What each check of the plan as a whole found, in the order of the checks. */
  private planFindings: readonly (readonly Finding[])[] = [];
  private verdictPart: { engine: VerdictEngine; version: number; ranked: Ranked } | undefined;

  /** Everything derived from the plan; a plan derived from the last one by edits is quick. */
  evaluate(plan: Plan): Evaluation {
    const before = this.plan;
    if (before === undefined || isGroundChanged(before, plan)) this.evaluateAll(plan);
    else this.evaluateEdit(before, plan);
    this.plan = plan;
    return this.present(plan);
  }

  private evaluateAll(plan: Plan): void {
    this.allocationsOf = groupByCluster(plan.allocations);
    this.neighbours = new SiteNeighbours(plan);
    this.resultOf = new Map(plan.clusters.map((cluster) => [cluster.id, this.compute(plan, cluster)]));
    this.domains = new Domains(plan.networks, plan.links, plan.attachments);
    const uses = usesOfPlan(plan);
    this.useOf = new Map(uses.map((use) => [use.id, use]));
    this.engine = new VerdictEngine(this.domains, uses);
    this.clusterFindings = new WeakMap();
    this.verdictFindings = new WeakMap();
    this.finish(plan);
  }

  private evaluateEdit(before: Plan, plan: Plan): void {
    const allocations = changedBetween(before.allocations, plan.allocations);
    const clusters = changedBetween(before.clusters, plan.clusters);
    const inUse = changedBetween(before.inUse, plan.inUse);
    const subnets = changedBetween(before.subnets, plan.subnets);
    const blocks = changedBetween(before.blocks, plan.blocks);
    const pools = changedBetween(before.nodePools, plan.nodePools);
    const touched = new Set([...clusters.gone, ...clusters.come].map((cluster) => cluster.id));
    for (const pool of [...pools.gone, ...pools.come]) touched.add(pool.clusterId);
    for (const allocation of [...allocations.gone, ...allocations.come]) touched.add(allocation.clusterId);
    const reblocked = new Set([...blocks.gone, ...blocks.come].map(({ networkId }) => networkId));
    if (reblocked.size > 0)
      for (const { id, networkId } of plan.clusters) if (reblocked.has(networkId)) touched.add(id);
    for (const id of this.atChangedSites(plan, touched)) touched.add(id);
    this.regroup(allocations);
    const held = new Map<string, Use>();
    const remember = (id: string) => {
      const use = this.useOf.get(id);
      if (use !== undefined) held.set(id, use);
    };
    for (const range of [...inUse.gone, ...subnets.gone, ...blocks.gone, ...allocations.gone]) remember(range.id);
    const after = [
      ...inUse.come.map(useOfInUse),
      ...subnets.come.map(useOfSubnet),
      ...blocks.come.map((block) => useOfBlock(block, byId(plan.networks, block.networkId)?.name ?? '')),
    ];
    for (const id of touched) {
      for (const allocation of this.resultOf.get(id)?.allocations ?? []) remember(allocation.id);
      const cluster = byId(plan.clusters, id);
      if (cluster === undefined) {
        this.resultOf.delete(id);
        continue;
      }
      this.resultOf.set(id, this.compute(plan, cluster));
      after.push(...this.usesOf(cluster));
    }
    this.followUses(held, after);
    this.finish(plan);
  }

  /** Hands the engine only what changed for it: most edits of a cluster leave its ranges as they were. */
  private followUses(before: Map<string, Use>, after: readonly Use[]): void {
    const come = after.filter((use) => {
      const old = before.get(use.id);
      if (old === undefined || !isSameUse(old, use)) return true;
      before.delete(use.id);
      return false;
    });
    const gone = [...before.values()];
    this.engine.update(gone, come);
    for (const use of gone) this.useOf.delete(use.id);
    for (const use of come) this.useOf.set(use.id, use);
  }

  private finish(plan: Plan): void {
    if (this.plan?.pools !== plan.pools || this.plan.settings !== plan.settings) this.clusterFindings = new WeakMap();
    const old = this.plan;
    this.planFindings = planChecks.map(({ reads, check }, i) => {
      const known = this.planFindings[i];
      const isUnchanged = old !== undefined && reads.every((part) => old[part] === plan[part]);
      return known !== undefined && isUnchanged ? known : check(plan);
    });
    this.clusters = plan.clusters.map((cluster) => this.resultOf.get(cluster.id) as ClusterResult);
  }

  private regroup({ gone, come }: { gone: readonly Allocation[]; come: readonly Allocation[] }): void {
    const goneIds = new Set(gone.map((allocation) => allocation.id));
    for (const id of new Set([...gone, ...come].map((allocation) => allocation.clusterId))) {
      const kept = (this.allocationsOf.get(id) ?? []).filter((allocation) => !goneIds.has(allocation.id));
      this.allocationsOf.set(id, [...kept, ...come.filter((allocation) => allocation.clusterId === id)].sort(bySpot));
    }
  }

  private compute(plan: Plan, cluster: Cluster): ClusterResult {
    // The plan's integrity was checked when it was made: what a cluster refers to is there.
    const site = need(byId(plan.sites, cluster.siteId), 'site');
    const network = need(byId(plan.networks, cluster.networkId), 'network');
    const profile = need(byId(plan.profiles, site.profileId), 'profile');
    const allocations = this.allocationsOf.get(cluster.id) ?? [];
    const sizing = sizingOf(plan, cluster);
    const figures = clusterFigures({ sizing, allocations, neighbours: this.neighbours.of(sizing) });
    const blocks = this.blocksOf(plan).get(network.id) ?? [];
    return { cluster, site, network, profile, blocks, allocations, sizing, figures };
  }

  /** Clusters beside those that came, went, moved or hold other public addresses than before: what is left for them changed. */
  private atChangedSites(plan: Plan, touched: ReadonlySet<string>): string[] {
    const sites = this.neighbours.follow(plan, touched);
    return sites.size === 0 ? [] : plan.clusters.filter(({ siteId }) => sites.has(siteId)).map(({ id }) => id);
  }

  private blocksOf({ blocks }: Plan): ReadonlyMap<string, readonly Block[]> {
    if (this.blockGroups?.of !== blocks) this.blockGroups = { of: blocks, groups: groupBy(blocks, (b) => b.networkId) };
    return this.blockGroups.groups;
  }

  private usesOf(cluster: Cluster): Use[] {
    return (this.allocationsOf.get(cluster.id) ?? []).map((allocation) => useOfAllocation(allocation, cluster));
  }

  private present(plan: Plan): Evaluation {
    const { domains, engine, clusters } = this;
    return {
      plan,
      domains,
      clusters,
      reuseGroups: engine.reuseGroups(),
      verdictCount: engine.verdictCount,
      verdictsOf: (rangeId) => engine.verdictsOf(rangeId),
      verdicts: () => [...engine.verdicts()],
      findingsOf: (clusterId) => this.findingsOf(plan, clusterId),
      findings: () => this.allFindings(plan),
    };
  }

  private ownFindings(plan: Plan, result: ClusterResult): readonly Finding[] {
    const known = this.clusterFindings.get(result);
    if (known !== undefined) return known;
    const found = checkCluster(result, plan.pools, plan.settings.expectsJoins);
    this.clusterFindings.set(result, found);
    return found;
  }

  private overlapFinding(plan: Plan, verdict: Verdict): Finding {
    const known = this.verdictFindings.get(verdict);
    if (known !== undefined) return known;
    const found = verdictFinding(verdict, plan, this.domains);
    this.verdictFindings.set(verdict, found);
    return found;
  }

  private reuseFinding(group: ReuseGroup): Finding {
    const known = this.reuseFindings.get(group);
    if (known !== undefined) return known;
    const found = reuseFinding(group, this.engine.usesWithin(group.outermost));
    this.reuseFindings.set(group, found);
    return found;
  }

  private findingsOf(plan: Plan, clusterId: string): Finding[] {
    const result = this.resultOf.get(clusterId);
    if (result === undefined) return [];
    const verdicts = new Set(result.allocations.flatMap((allocation) => this.engine.verdictsOf(allocation.id)));
    return inRank([
      rank([...[...verdicts].map((verdict) => this.overlapFinding(plan, verdict)), ...this.ownFindings(plan, result)]),
    ]);
  }

  private allFindings(plan: Plan): Finding[] {
    return inRank([
      this.rankedVerdicts(plan),
      rank(this.planFindings.flat()),
      rank(this.eachOwnFinding(plan)),
      rank(this.engine.reuseGroups().map((group) => this.reuseFinding(group))),
    ]);
  }

  /** Overlap findings can be many, and most edits leave every range where it is. */
  private rankedVerdicts(plan: Plan): Ranked {
    const { engine } = this;
    if (this.verdictPart?.engine !== engine || this.verdictPart.version !== engine.version) {
      const found: Finding[] = [];
      for (const verdict of engine.verdicts()) found.push(this.overlapFinding(plan, verdict));
      this.verdictPart = { engine, version: engine.version, ranked: rank(found) };
    }
    return this.verdictPart.ranked;
  }

  private *eachOwnFinding(plan: Plan): Generator<Finding> {
    for (const result of this.clusters) yield* this.ownFindings(plan, result);
  }
}

/** Evaluates one plan from nothing; an Evaluator is quicker for a plan that is edited. */
export function evaluate(plan: Plan): Evaluation {
  return new Evaluator().evaluate(plan);
}

function isGroundChanged(before: Plan, after: Plan): boolean {
  const isHorizonChanged = before.settings.horizonMonths !== after.settings.horizonMonths;
  return (
    isHorizonChanged ||
    before.profiles !== after.profiles ||
    before.shapes !== after.shapes ||
    before.sites !== after.sites ||
    before.networks !== after.networks ||
    before.links !== after.links ||
    before.attachments !== after.attachments
  );
}

function groupByCluster(allocations: readonly Allocation[]): Map<string, readonly Allocation[]> {
  const groups = groupBy(allocations, ({ clusterId }) => clusterId);
  for (const group of groups.values()) group.sort(bySpot);
  return groups;
}

function groupBy<T>(items: readonly T[], keyOf: (item: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const group = groups.get(keyOf(item));
    if (group === undefined) groups.set(keyOf(item), [item]);
    else group.push(item);
  }
  return groups;
}

function bySpot(a: Allocation, b: Allocation): number {
  return (
    purposes.indexOf(a.purpose) - purposes.indexOf(b.purpose) ||
    (a.zone < b.zone ? -1 : a.zone > b.zone ? 1 : 0) ||
    (a.id < b.id ? -1 : 1)
  );
}

function need<T>(value: T | undefined, what: string): T {
  if (value === undefined) throw new Error(`evaluate: a cluster's ${what} is not in the plan`);
  return value;
}

function isSameUse(a: Use, b: Use): boolean {
  return (
    a.prefix === b.prefix &&
    a.networkId === b.networkId &&
    a.clusterId === b.clusterId &&
    a.isInternal === b.isInternal &&
    a.isMovable === b.isMovable &&
    a.label === b.label
  );
}
