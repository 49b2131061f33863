import { byId } from '../plan/index.js';
import type { Cluster, Plan, Profile, Site } from '../plan/index.js';
import { rangesNeeded } from '../sizing/index.js';
import type { Need } from '../sizing/index.js';
import { isInternalRange } from '../verdicts/index.js';
import type { Demand } from './poolSpace.js';

/** One need of a cluster with what it asks of the pools. */
export interface ClusterDemand {
  readonly need: Need;
  readonly demand: Demand;
}

/** Every range a cluster needs, as the pools are asked for it. */
export function demandsOf(plan: Plan, cluster: Cluster): ClusterDemand[] {
  // The plan's integrity was checked when it was made: site and profile are there.
  const site = byId(plan.sites, cluster.siteId) as Site;
  const profile = byId(plan.profiles, site.profileId) as Profile;
  return rangesNeeded(cluster, site, profile).map((need) => ({
    need,
    demand: {
      clusterId: cluster.id,
      siteId: cluster.siteId,
      purpose: need.purpose,
      family: need.family,
      length: need.length.value,
      isInternal: isInternalRange(cluster, need.purpose),
    },
  }));
}
