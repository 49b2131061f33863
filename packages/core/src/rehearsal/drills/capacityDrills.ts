import type { DrillFact } from '../../english/index.js';
import type { Evaluation } from '../../evaluation/index.js';
import { missing, placements } from '../../ingress/index.js';
import { plannedReplicas, sizeNow } from '../../naming/index.js';
import { grouped } from '../../plan/index.js';
import { countsRunning, countsToday } from '../../sizing/index.js';
import type { ClusterResult, Counts } from '../../sizing/index.js';
import { nodeLimits } from '../clusterParts.js';
import { drillKey } from './planDrills.js';
import type { DrillOutcome, PlanDrill } from './planDrills.js';

type CapacityDrill = PlanDrill & {
  readonly kind: 'scale out' | 'node drained' | 'upgrade' | 'DNS halved' | 'range exhausted';
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
    state: clusters.length > 0 ? 'breaks' : 'holds',
    kept: 1 - clusters.length / all,
    lost: [],
    held: [],
    clusters,
    seconds: clusters.length > 0 ? undefined : 0,
    facts,
  };
}
