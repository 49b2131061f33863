import { PoolSpace } from '../allocation/index.js';
import type { Cluster, Network, Plan } from '../plan/index.js';
import type { Sizing } from '../sizing/index.js';

/** What one mode of a cluster is judged by: the cluster as it would be in that mode and family. */
export interface Context {
  readonly plan: Plan;
  readonly cluster: Cluster;
  readonly sizing: Sizing;
  readonly network: Network;
  /** Free space with the cluster's own pod ranges given back; asked, never taken from. */
  readonly space: PoolSpace;
}

/** The pools' free space as it is without a cluster's pod ranges. */
export function withoutOwnPods(plan: Plan, cluster: Cluster): PoolSpace {
  const own = plan.allocations.filter((range) => range.clusterId === cluster.id && range.purpose === 'pod');
  return new PoolSpace(plan, new Set(own.map(({ id }) => id)));
}
