import { familyName } from '../address/index.js';
import type { Cluster } from '../plan/index.js';
import type { Need } from '../sizing/index.js';
import { sayNumber } from '../working/index.js';
import { sayPlaced } from './poolSpace.js';
import type { Demand, PoolSpace } from './poolSpace.js';
import type { Refusal } from './proposal.js';

/** Says why a demand found no place: the largest free block there is, and the way out that costs least. */
export function refuse(cluster: Cluster, need: Need, demand: Demand, space: PoolSpace): Refusal {
  const base = {
    clusterId: cluster.id,
    clusterName: cluster.name,
    purpose: need.purpose,
    zone: need.zone,
    length: need.length.value,
  };
  const wanted = `a /${need.length.value} ${need.purpose} range (${familyName(need.family)})`;
  const pools = space.poolsFor(demand);
  if (pools.length === 0) {
    return {
      ...base,
      reason: `${cluster.name} needs ${wanted}, and no pool gives ${need.purpose} ranges of that family at its site.`,
      mend: `Add a pool for ${need.purpose} ranges.`,
    };
  }
  const largest = space.largestFor(demand);
  const have =
    largest === undefined
      ? `nothing is free in ${pools.map((pool) => pool.name).join(', ')}`
      : `the largest free block is ${sayPlaced(largest)}`;
  return {
    ...base,
    reason: `${cluster.name} needs ${wanted}; ${have}.`,
    mend:
      largest === undefined
        ? 'Add a pool.'
        : `Add a pool, or shrink the demand to fit: ${shrink(cluster, need, largest.prefix.length)}`,
  };
}

function shrink(cluster: Cluster, need: Need, available: number): string {
  const factor = 2 ** (available - need.length.value);
  const fits = (count: number) => sayNumber(Math.max(1, Math.floor(count / factor)));
  switch (need.purpose) {
    case 'service':
      return `about ${fits(cluster.services)} services instead of ${sayNumber(cluster.services)}.`;
    case 'node':
      return `about ${fits(cluster.nodesHorizon)} nodes instead of ${sayNumber(cluster.nodesHorizon)}.`;
    case 'pod':
      return `about ${fits(cluster.nodesHorizon)} nodes instead of ${sayNumber(cluster.nodesHorizon)}, or ${fits(cluster.podsPerNode)} pods a node instead of ${cluster.podsPerNode}.`;
  }
}
