import type { Evaluation } from '../evaluation/index.js';
import type { Steps } from '../working/index.js';
import { ClusterParts, partKey, plannedNodes } from './clusterParts.js';
import type { NodesAt, PlannedNode } from './clusterParts.js';
import { EntryWaits } from './entryWaits.js';
import { Graph } from './graph.js';
import { BringUp } from './outcome.js';
import { addEntities, keyOf, waitForAccounts, waitForReferences } from './planObjects.js';
import { FindingsBySubject, refuseByFindings, Stores } from './refusals.js';
import { runGraph } from './run.js';
import { tasksInScope, tasksOf, withNeeds } from './scope.js';
import type { Scope } from './scope.js';
import { Times } from './times.js';

/** What a bring-up is asked for. */
export interface BringUpWish {
  readonly scope: Scope;
  /** The nodes of today, or of the horizon. */
  readonly nodes: NodesAt;
  /** Whether clusters that are built, and all that they rest on, are there from the beginning. */
  readonly isBuiltThere: boolean;
  /** A cluster in which a second pod network is tried; empty for none. */
  readonly secondPodNetworkIn: string;
}

/** The whole plan from nothing, with the nodes of today. */
export const usualWish: BringUpWish = {
  scope: { kind: 'plan' },
  nodes: 'today',
  isBuiltThere: false,
  secondPodNetworkIn: '',
};

/** Objects that a run may have: nodes of all clusters with everything else. */
export const MAX_OBJECTS = 1_000_000;

/** More is to come up than a run holds. */
export interface TooManyObjects {
  readonly ok: false;
  readonly objects: number;
}

/**
 * Brings a plan up in simulation: what waits for what follows from the plan, how long each step takes from its build times, and
 * what never comes to be from its findings and limits.
 */
export function* bringUp(evaluation: Evaluation, wish: BringUpWish): Steps<BringUp | TooManyObjects> {
  const { plan, clusters } = evaluation;
  yield { what: 'the findings', done: 0, of: 4 };
  const findings = new FindingsBySubject(evaluation.findings());
  yield { what: 'what is built', done: 1, of: 4 };
  const nodes = new Map<string, readonly PlannedNode[]>();
  for (const result of clusters) nodes.set(result.cluster.id, plannedNodes(result, wish.nodes));
  const total = [...nodes.values()].reduce((sum, { length }) => sum + length, 0);
  if (total > MAX_OBJECTS) return { ok: false, objects: total };
  const nodesOf = (id: string) => nodes.get(id) ?? [];
  const graph = new Graph();
  addEntities(graph, plan);
  for (const { id, networkId, prefix } of plan.subnets) {
    const subnet = graph.object(keyOf('subnets', id));
    if (subnet !== undefined) graph.alias(`${networkId} ${prefix}`, subnet);
  }
  const parts = new ClusterParts(graph, plan, (kind, id) => findings.of(kind, id));
  for (const result of clusters) parts.add(result, nodesOf(result.cluster.id));
  yield { what: 'what waits for what', done: 2, of: 4 };
  waitForReferences(graph, plan);
  for (const result of clusters) parts.wait(result, nodesOf(result.cluster.id));
  new EntryWaits(graph, plan, parts, nodesOf).add();
  waitForAccounts(graph);
  refuseByFindings(graph, plan, findings);
  new Stores(graph, plan, findings.found, nodesOf).add();
  trySecondPodNetwork(graph, evaluation, wish.secondPodNetworkIn);
  yield { what: 'the rehearsal', done: 3, of: 4 };
  const chosen = tasksInScope(graph, plan, wish.scope);
  const standing = standingOf(graph, evaluation, wish);
  const run = yield* runGraph(graph, new Times(plan), chosen, standing);
  return new BringUp(graph, run, chosen, standing);
}

/** What is there from the beginning: built clusters with all that they wait for. */
function standingOf(graph: Graph, { plan }: Evaluation, { isBuiltThere }: BringUpWish): ReadonlySet<number> {
  if (!isBuiltThere) return new Set();
  const built = new Set(plan.clusters.filter((cluster) => cluster.isBuilt).map(({ id }) => id));
  const own = graph.objects.filter(({ clusterId }) => built.has(clusterId));
  const there = new Set(
    withNeeds(
      graph,
      own.flatMap(({ index }) => tasksOf(graph, index)),
    ),
  );
  // What a finding rules out is not there, nor is what waits for it.
  for (let size = -1; size !== there.size;) {
    size = there.size;
    for (const task of there) {
      const { refusal, needs } = graph.tasks[task] as Graph['tasks'][number];
      if (refusal !== undefined || needs.some((need) => !there.has(need))) there.delete(task);
    }
  }
  return there;
}

/** A second pod network waits for the first, and is refused: only one may be installed (handbook 6, common practice). */
function trySecondPodNetwork(graph: Graph, { plan }: Evaluation, clusterId: string): void {
  const cluster = plan.clusters.find(({ id }) => id === clusterId);
  const first = graph.object(partKey.podNetwork(clusterId));
  if (cluster === undefined || first === undefined) return;
  const { key } = graph.add({ ...first, key: partKey.secondPodNetwork(clusterId) });
  graph.wait(graph.taskOf(key), graph.taskOf(first.key));
  graph.refuse(graph.taskOf(key), { why: 'second pod network', key: '' });
}
