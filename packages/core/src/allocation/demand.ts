import { byId } from '../plan/index.js';
import type { Cluster, Plan, Profile, Site } from '../plan/index.js';
import { isFromSubnet, rangesNeeded } from '../sizing/index.js';
import type { Need } from '../sizing/index.js';
import { isInternalRange } from '../verdicts/index.js';
import type { Demand } from './poolSpace.js';

/** One need of a cluster with what it asks of the pools. */
export interface ClusterDemand {
  readonly need: Need;
  readonly demand: Demand;
}

/** What ranges are sized for: the horizon at once, or today with room to grow beside. */
export type SizeFor = 'horizon' | 'now';

/**
 * Every range a cluster needs, as the pools are asked for it. Sized for now, subnets take what today's nodes need and keep
 * the rest of their horizon's size free beside them; pod and service ranges cannot grow later and take all at once.
 */
export function demandsOf(plan: Plan, cluster: Cluster, sizeFor: SizeFor = 'horizon'): ClusterDemand[] {
  // The plan's integrity was checked when it was made: site and profile are there.
  const site = byId(plan.sites, cluster.siteId) as Site;
  const profile = byId(plan.profiles, site.profileId) as Profile;
  const needs = rangesNeeded(cluster, site, profile);
  const today =
    sizeFor === 'now'
      ? rangesNeeded({ ...cluster, nodesHorizon: Math.max(1, cluster.nodesNow) }, site, profile)
      : needs;
  return needs.map((need, i) => {
    const isSubnet = isFromSubnet(cluster, need.purpose);
    const length = isSubnet ? (today[i] as Need).length.value : need.length.value;
    return {
      need,
      demand: {
        clusterId: cluster.id,
        siteId: cluster.siteId,
        networkId: cluster.networkId,
        purpose: need.purpose,
        family: need.family,
        // Today's nodes can be more than the horizon's where a cluster shrinks.
        length: Math.max(length, need.length.value),
        roomLength: need.length.value,
        isInternal: isInternalRange(cluster, need.purpose),
        isSubnet,
      },
    };
  });
}
