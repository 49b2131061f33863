import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { section } from '../section/index.js';

/** The networks in which a cluster's nodes have additional interfaces, by cluster. */
export type FurtherNetworks = ReadonlyMap<string, readonly string[]>;

/** Further networks of clusters' nodes; the same object while no cluster's change. */
export const furtherNetworks = section({
  name: 'further networks',
  reads: ['nodePools', 'subnets'],
  needs: {},
  build: furtherNetworksOf,
  follow: (last, parts) => {
    const found = furtherNetworksOf(parts);
    return isSame(last.value, found) ? last.value : found;
  },
});

function furtherNetworksOf({ nodePools, subnets }: Pick<Plan, 'nodePools' | 'subnets'>): FurtherNetworks {
  const found = new Map<string, readonly string[]>();
  for (const { clusterId, additionalInterfaceSubnetIds } of nodePools) {
    if (additionalInterfaceSubnetIds.length === 0) continue;
    const ids = additionalInterfaceSubnetIds.flatMap((id) => byId(subnets, id)?.networkId ?? []);
    found.set(clusterId, [...new Set([...(found.get(clusterId) ?? []), ...ids])].sort());
  }
  return found;
}

function isSame(before: FurtherNetworks, after: FurtherNetworks): boolean {
  if (before.size !== after.size) return false;
  for (const [clusterId, ids] of after) if (before.get(clusterId)?.join() !== ids.join()) return false;
  return true;
}
