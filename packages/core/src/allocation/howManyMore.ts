import { byId } from '../plan/index.js';
import type { Cluster, Plan } from '../plan/index.js';
import { publicAddressesToHold, sizingOf } from '../sizing/index.js';
import { formatCount } from '../working/index.js';
import { demandsOf } from './demand.js';
import { PoolSpace } from './poolSpace.js';

/** More copies than this are not counted: then the pools are no limit worth naming. */
export const MAX_COPIES = 1000;

/** How many more clusters like one fit in what is left. */
export interface MoreLikeThis {
  /** Whole clusters that find all their ranges within the quotas of their site; at most MAX_COPIES. */
  readonly count: number;
  /** What the next one would lack; undefined when the count stopped at MAX_COPIES. */
  readonly stoppedBy: string | undefined;
}

/** Places copies of a cluster one after the other, as a proposal would, until one lacks a range or the site's quotas are used up. */
export function howManyMore(plan: Plan, clusterId: string): MoreLikeThis | undefined {
  const cluster = byId(plan.clusters, clusterId);
  if (cluster === undefined) return undefined;
  const space = new PoolSpace(plan);
  const demands = demandsOf(plan, cluster);
  const quota = quotaLeft(plan, cluster);
  for (let count = 0; count < MAX_COPIES; count++) {
    if (count === quota.count) return quota;
    for (const { need, demand, largest } of demands) {
      if (largest !== undefined)
        return {
          count,
          stoppedBy: `a /${need.length.value} ${need.purpose} range: the largest subnet is a /${largest}`,
        };
      // Each copy is a cluster of its own: its internal ranges avoid only one another.
      if (space.place({ ...demand, clusterId: `${clusterId} copy ${count}` }) === undefined) {
        return {
          count,
          stoppedBy: `a /${need.length.value} ${need.purpose} range${need.zone === '' ? '' : ` in zone ${need.zone}`}`,
        };
      }
    }
  }
  return { count: MAX_COPIES, stoppedBy: undefined };
}

/** How many more clusters like one the quotas of its site leave, and which of them ends first. */
function quotaLeft(plan: Plan, cluster: Cluster): MoreLikeThis {
  const sizing = sizingOf(plan, cluster);
  const { profile, site } = sizing;
  const takes = (each: Cluster) => publicAddressesToHold(sizingOf(plan, each));
  const there = plan.clusters.filter(({ siteId }) => siteId === site.id);
  const clusters = Math.max(0, profile.clustersPerSite - there.length);
  const each = takes(cluster);
  const left = Math.max(0, profile.publicAddresses - there.reduce((sum, other) => sum + takes(other), 0));
  const byAddresses = each === 0 ? Infinity : Math.floor(left / each);
  return byAddresses < clusters
    ? {
        count: byAddresses,
        stoppedBy: `public addresses: it takes ${each}, and ${left - byAddresses * each} of the ${profile.publicAddresses} at ${site.name} would be left`,
      }
    : {
        count: clusters,
        stoppedBy: `a place at ${site.name}, where ${profile.name} allows ${formatCount(profile.clustersPerSite, 'cluster')}`,
      };
}
