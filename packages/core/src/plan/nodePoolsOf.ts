import type { NodePool, Plan } from './entities.js';

const groups = new WeakMap<readonly NodePool[], ReadonlyMap<string, readonly NodePool[]>>();

/** The node pools of a cluster, in the order of the plan. Grouped once for each state of the plan's pools. */
export function nodePoolsOf({ nodePools }: Plan, clusterId: string): readonly NodePool[] {
  let grouped = groups.get(nodePools);
  if (grouped === undefined) {
    const built = new Map<string, NodePool[]>();
    for (const pool of nodePools) {
      const own = built.get(pool.clusterId);
      if (own === undefined) built.set(pool.clusterId, [pool]);
      else own.push(pool);
    }
    grouped = built;
    groups.set(nodePools, grouped);
  }
  return grouped.get(clusterId) ?? [];
}
