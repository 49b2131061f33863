import { templatePools } from '../plan/index.js';
import type { Cluster, Plan } from '../plan/index.js';
import { addressesIn, countsToday, isFromSubnet, rangesNeeded, sizingOf } from '../sizing/index.js';
import type { Need } from '../sizing/index.js';
import { isInternalRange } from '../verdicts/index.js';
import type { Demand } from './poolSpace.js';

/** One need of a cluster with what it asks of the pools. */
export interface ClusterDemand {
  readonly need: Need;
  readonly demand: Demand;
  /** IPv4 addresses of a subnet that it takes at its largest; 0 for what is no subnet. */
  readonly addresses: number;
  /** Length of the provider's largest subnet, where the need is larger: then nothing can be placed. */
  readonly largest?: number;
}

/** What ranges are sized for: the horizon at once, or today with room to grow beside. */
export type SizeFor = 'horizon' | 'now';

/**
 * Every range a cluster needs, as the pools are asked for it. Sized for now, subnets take what today's nodes need and keep
 * the rest of their horizon's size free beside them; pod and service ranges cannot grow later and take all at once.
 */
export function demandsOf(plan: Plan, cluster: Cluster, sizeFor: SizeFor = 'horizon'): ClusterDemand[] {
  const sizing = sizingOf(plan, cluster);
  const needs = rangesNeeded(sizing);
  const today = sizeFor === 'now' ? rangesNeeded(sizing, countsToday(sizing)) : needs;
  const poolIds = templatePools(plan, cluster);
  return needs.map((need, i) => {
    const isSubnet = isFromSubnet(cluster, need.purpose);
    const length = isSubnet ? (today[i] as Need).length.value : need.length.value;
    return {
      need,
      addresses: need.family === 6 ? 0 : addressesIn(sizing, need.purpose, need.zone),
      ...(isSubnet && need.family === 4 && need.length.value < sizing.profile.largestSubnet
        ? { largest: sizing.profile.largestSubnet }
        : {}),
      demand: {
        clusterId: cluster.id,
        siteId: cluster.siteId,
        networkId: cluster.networkId,
        purpose: need.purpose,
        family: need.family,
        length,
        roomLength: need.length.value,
        isInternal: isInternalRange(cluster, need.purpose),
        isSubnet,
        ...(poolIds.length === 0 ? {} : { poolIds }),
      },
    };
  });
}
