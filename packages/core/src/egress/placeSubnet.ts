import { formatPrefix } from '../address/index.js';
import { FreeSpace, PoolSpace } from '../allocation/index.js';
import { grouped, rangeOf } from '../plan/index.js';
import type { Plan } from '../plan/index.js';

/** A free prefix for a small subnet of a network: in one of its address blocks, else in the pools; undefined when there is none. */
export function placeSubnet(plan: Plan, networkId: string, siteId: string, length: number): string | undefined {
  const blocks = (grouped(plan.blocks, 'networkId').get(networkId) ?? [])
    .map(rangeOf)
    .filter(({ family }) => family === 4);
  if (blocks.length === 0) {
    const placed = new PoolSpace(plan).place({
      clusterId: '',
      siteId,
      networkId,
      purpose: 'node',
      family: 4,
      length,
      roomLength: length,
      isInternal: false,
      isSubnet: false,
    });
    return placed === undefined ? undefined : formatPrefix(placed.prefix);
  }
  const clusters = new Set((grouped(plan.clusters, 'networkId').get(networkId) ?? []).map(({ id }) => id));
  const taken = [
    ...plan.subnets.filter((subnet) => subnet.networkId === networkId),
    ...plan.allocations.filter(({ clusterId }) => clusters.has(clusterId)),
    ...plan.inUse.filter((range) => range.networkId === networkId || range.networkId === null),
  ].map(rangeOf);
  for (const block of blocks) {
    const found = FreeSpace.within(
      block,
      taken.filter(({ family }) => family === 4),
    ).take(length);
    if (found !== undefined) return formatPrefix(found);
  }
  return undefined;
}
