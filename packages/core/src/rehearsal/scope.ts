import type { Cluster, Plan } from '../plan/index.js';
import type { Graph, ObjectKind } from './graph.js';

/** What is brought up: the whole plan, or the clusters of one site or template, or one cluster, with all that they wait for. */
export type Scope = { readonly kind: 'plan' } | { readonly kind: 'cluster' | 'site' | 'template'; readonly id: string };

/** Whether a cluster is brought up. */
export function isInScope(scope: Scope, cluster: Cluster): boolean {
  switch (scope.kind) {
    case 'plan':
      return true;
    case 'cluster':
      return cluster.id === scope.id;
    case 'site':
      return cluster.siteId === scope.id;
    case 'template':
      return cluster.templateId === scope.id;
  }
}

/** What comes along with a cluster although the cluster does not wait for it: what leads clients to it. */
const following: ReadonlySet<ObjectKind> = new Set(['backend', 'listener', 'record', 'certificate']);

/** The tasks of a scope, with all that they wait for. */
export function tasksInScope(graph: Graph, plan: Plan, scope: Scope): ReadonlySet<number> {
  const { objects, tasks } = graph;
  if (scope.kind === 'plan') return new Set(tasks.keys());
  const clusters = new Set(plan.clusters.filter((cluster) => isInScope(scope, cluster)).map(({ id }) => id));
  const dependents = new Map<number, number[]>();
  for (const { object, needs } of tasks)
    for (const need of needs) {
      const other = tasks[need]?.object ?? -1;
      if (other === object) continue;
      const known = dependents.get(other);
      if (known === undefined) dependents.set(other, [object]);
      else known.push(object);
    }
  const chosen = new Set(objects.filter(({ clusterId }) => clusters.has(clusterId)).map(({ index }) => index));
  for (const index of chosen)
    for (const other of dependents.get(index) ?? []) {
      const { kind, clusterId } = objects[other] as (typeof objects)[number];
      if (following.has(kind) && (clusterId === '' || clusters.has(clusterId))) chosen.add(other);
    }
  const roots = [...chosen].flatMap((index) => tasksOf(graph, index));
  return withNeeds(graph, roots);
}

/** The steps of an object. */
export function tasksOf({ objects, tasks }: Graph, index: number): number[] {
  const first = objects[index]?.first ?? tasks.length;
  const next = objects[index + 1]?.first ?? tasks.length;
  return Array.from({ length: next - first }, (_, at) => first + at);
}

/** Tasks with all that they wait for, however far back. */
export function withNeeds({ tasks }: Graph, roots: readonly number[]): ReadonlySet<number> {
  const found = new Set(roots);
  for (const task of found) for (const need of tasks[task]?.needs ?? []) found.add(need);
  return found;
}
