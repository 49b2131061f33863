import type { Cluster, NodePool } from '../plan/index.js';
import type { DemandProblem, Sizing } from './sizing.js';

/** The most nodes that are counted for one cluster. */
export const MAX_NODES = 20_000;

export function zoneProblems(pools: readonly NodePool[], zones: readonly string[], { name }: Cluster): DemandProblem[] {
  return pools.flatMap((pool) => {
    const lost = pool.zones.find((zone) => !zones.includes(zone));
    if (lost === undefined) return [];
    return [
      {
        ...stop(
          'zones',
          `the pool ${pool.name} is in zone ${lost}, and ${name} is only in ${zones.join(', ')}`,
          'Take the zone out of the pool, or spread the cluster over it.',
        ),
        poolId: pool.id,
      },
    ];
  });
}

export function groupProblems({ groups, control, lonePods, cluster }: Sizing): DemandProblem[] {
  const nodes = groups.reduce((sum, { horizon }) => sum + horizon, 0);
  const pods = lonePods.reduce((sum, { horizon }) => sum + horizon, 0);
  const found: DemandProblem[] = [];
  if (nodes + pods === 0)
    found.push(stop('nodesHorizon', 'it has no nodes at the horizon', 'Enter nodes, or add a node pool.'));
  for (const { shape, podsPerNode, name, poolId, additionalInterfaceSubnetIds } of groups) {
    if (shape === undefined) continue;
    if (podsPerNode > shape.podCap)
      found.push({
        ...stop(
          'podsPerNode',
          `a node of shape ${shape.name} runs at most ${shape.podCap} pods; ${podsPerNode} are required${poolId === null ? '' : ` in the pool ${name}`}`,
          'Choose another shape, or fewer pods per node.',
        ),
        poolId,
      });
    if (additionalInterfaceSubnetIds.length + 1 > shape.interfaces)
      found.push({
        ...stop(
          'additionalInterfaceSubnetIds',
          `a node of the pool ${name} needs ${additionalInterfaceSubnetIds.length + 1} interfaces, and shape ${shape.name} has ${shape.interfaces}`,
          'Choose a shape with more interfaces, or remove additional interfaces.',
        ),
        poolId,
      });
  }
  const { perNodeLength, podMode, family } = cluster;
  if (perNodeLength !== null && podMode !== 'native' && family !== 'ipv6') {
    const held = 2 ** (32 - perNodeLength);
    const wanted = Math.max(...groups.map(({ podsPerNode }) => podsPerNode));
    if (held < 2 * wanted)
      found.push({
        ...stop(
          'perNodeLength',
          `a /${perNodeLength} has ${held} addresses, and ${held < wanted ? `${wanted} pods per node` : `twice ${wanted} pods`} need more`,
          'Decide a shorter prefix, or leave it empty to follow the pods.',
        ),
        isStopping: held < wanted,
      });
  }
  if (control.nodes > 0 && control.nodes % 2 === 0)
    found.push({
      ...stop(
        'controlNodes',
        `${control.nodes} control nodes tolerate no more failures than ${control.nodes - 1}`,
        'Use an odd number.',
      ),
      isStopping: false,
    });
  return found;
}

export function stop(field: string, message: string, fix: string): DemandProblem {
  return { field, poolId: null, isStopping: true, message, fix };
}

/** Something that can be computed and is doubtful. */
export function doubt(field: string, message: string, fix: string): DemandProblem {
  return { field, poolId: null, isStopping: false, message, fix };
}
