import type { DrillFact } from '../../english/index.js';
import type { Evaluation } from '../../evaluation/index.js';
import { missing, placements, scaledIn } from '../../ingress/index.js';
import { plannedReplicas, sizeNow } from '../../naming/index.js';
import { grouped } from '../../plan/index.js';
import { countsRunning, countsToday } from '../../sizing/index.js';
import type { ClusterResult, Counts } from '../../sizing/index.js';
import { nodeLimits } from '../clusterParts.js';
import { Times } from '../times.js';
import { drillKey } from './planDrills.js';
import type { DrillOutcome, PlanDrill } from './planDrills.js';

type CapacityDrill = PlanDrill & {
  readonly kind: 'scale out' | 'scale in' | 'node drained' | 'upgrade' | 'DNS halved' | 'range exhausted';
};

/** What a drill of capacity finds in one cluster. */
type Found = (evaluation: Evaluation, result: ClusterResult) => DrillFact[];

const total = ({ nodes }: Counts) => nodes.reduce((sum, count) => sum + count, 0);

const finders: Readonly<Record<CapacityDrill['kind'], Found>> = {
  'scale out': (_, { cluster, sizing, figures }) => {
    const wanted = total(countsToday(sizing));
    return figures.limitsAtRestBelow(nodeLimits, wanted).map(({ name, nodes }) => ({
      fact: 'nodes beyond',
      cluster: cluster.name,
      limit: name,
      holds: nodes.value,
      wanted,
    }));
  },
  'scale in': ({ plan }, { cluster, sizing }) => {
    const workloads = grouped(plan.workloads, 'clusterId').get(cluster.id) ?? [];
    const pools = grouped(plan.nodePools, 'clusterId').get(cluster.id) ?? [];
    const least = workloads.length === 0 ? undefined : scaledIn(sizing, workloads, pools);
    if (least === undefined) return [];
    const now = placements(sizing, workloads, pools).find((each) => each.case === 'now');
    const waiting = missing(least) - (now === undefined ? 0 : missing(now));
    if (waiting <= 0) return [];
    const lack = least.workloads.find(({ placed, wanted }) => placed < wanted)?.lacks ?? '';
    return [{ fact: 'pods wait', cluster: cluster.name, pods: waiting, nodes: least.nodes, lack }];
  },
  upgrade: (evaluation, result) => {
    const { cluster, sizing, figures } = result;
    const wanted = total(countsRunning(sizing));
    const beyond = figures.limitsBelow(nodeLimits, wanted).map(({ name, nodes }): DrillFact => ({
      fact: 'nodes beyond',
      cluster: cluster.name,
      limit: `${name}, with the surge of an upgrade,`,
      holds: nodes.value,
      wanted,
    }));
    return [...beyond, ...seriesShort(evaluation, result)];
  },
  'node drained': ({ plan }, { cluster, sizing }) => {
    const workloads = grouped(plan.workloads, 'clusterId').get(cluster.id) ?? [];
    if (workloads.length === 0) return [];
    const tried = placements(sizing, workloads, grouped(plan.nodePools, 'clusterId').get(cluster.id) ?? []);
    const [now, drained] = (['now', 'upgrade'] as const).map((which) => tried.find((each) => each.case === which));
    // What has no room today has none before the drain.
    if (drained === undefined || now === undefined || missing(drained) <= missing(now)) return [];
    const lack = drained.workloads.find(({ placed, wanted }) => placed < wanted)?.lacks ?? '';
    return [{ fact: 'pods without room', cluster: cluster.name, pods: missing(drained) - missing(now), lack }];
  },
  'DNS halved': (_, { cluster, sizing }) => {
    const size = sizeNow(sizing);
    return size.nodes > 0 && plannedReplicas(cluster, size) === 1
      ? [{ fact: 'one DNS pod', cluster: cluster.name }]
      : [];
  },
  'range exhausted': (_, { cluster, sizing, figures }) => {
    const { nearestLimit } = figures;
    if (nearestLimit === undefined || nearestLimit.month.value > sizing.growth.horizonMonths) return [];
    return [{ fact: 'month full', cluster: cluster.name, limit: nearestLimit.name, month: nearestLimit.month.value }];
  },
};

/** A self-run control plane needs consecutive addresses for its nodes, a virtual one, and the spare of a rolling upgrade: 3 + 1 + 1 (common practice). */
function seriesShort({ plan }: Evaluation, { cluster, sizing: { control } }: ClusterResult): DrillFact[] {
  if (control.nodes === 0) return [];
  const series = grouped(plan.reservations, 'clusterId').get(cluster.id) ?? [];
  if (series.length === 0) return [];
  const has = Math.max(...series.map(({ count }) => count));
  const needs = control.nodes + 1 + control.spare;
  return has < needs ? [{ fact: 'series short', cluster: cluster.name, has, needs }] : [];
}

/** Runs a drill of capacity over all clusters. */
export function capacityDrill(evaluation: Evaluation, drill: CapacityDrill): DrillOutcome | undefined {
  const all = evaluation.clusters.length;
  if (all === 0) return undefined;
  const find = finders[drill.kind];
  const clusters: string[] = [];
  const facts: DrillFact[] = [];
  for (const result of evaluation.clusters) {
    const found = find(evaluation, result);
    if (found.length === 0) continue;
    clusters.push(result.cluster.name);
    facts.push(...found);
  }
  return {
    drill,
    key: drillKey(drill),
    state: clusters.length === 0 ? 'holds' : drill.kind === 'scale in' ? 'interrupted' : 'breaks',
    kept: 1 - clusters.length / all,
    lost: [],
    held: [],
    clusters,
    seconds: clusters.length === 0 ? 0 : drill.kind === 'scale in' ? nodesBackIn(evaluation, clusters) : undefined,
    facts,
  };
}

/** Seconds until the first further nodes of some clusters run, at the slowest of their sites: machines that scaled in come up again. */
function nodesBackIn(evaluation: Evaluation, names: readonly string[]): number {
  const times = new Times(evaluation.plan);
  const steps = ['node machine', 'node registration', 'node readiness'] as const;
  return Math.max(
    ...evaluation.clusters
      .filter(({ cluster }) => names.includes(cluster.name))
      .map(({ site }) => steps.reduce((sum, step) => sum + times.at(site.id, step).seconds, 0)),
  );
}
