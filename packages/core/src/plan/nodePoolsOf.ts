import type { Plan } from './entities.js';
import { grouped } from './grouped.js';
import type { NodePool } from './kinds/nodePools.js';

/** The node pools of a cluster, in the order of the plan. */
export function nodePoolsOf({ nodePools }: Pick<Plan, 'nodePools'>, clusterId: string): readonly NodePool[] {
  return grouped(nodePools, 'clusterId').get(clusterId) ?? [];
}
