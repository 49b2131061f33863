import { formatPrefix, merge } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { byId, groupBy, purposes, rangeOf } from '../plan/index.js';
import type { Allocation, Plan, Purpose } from '../plan/index.js';
import { isInternalRange } from '../verdicts/index.js';
import type { RouteChange } from './proposal.js';

/** The ranges that leave their cluster, by site and purpose: what each site has to advertise. */
export function advertisedRanges(plan: Plan, allocations: readonly Allocation[]): Map<string, Prefix[]> {
  const leaving = allocations.flatMap((allocation) => {
    const cluster = byId(plan.clusters, allocation.clusterId);
    if (cluster === undefined || isInternalRange(cluster, allocation.purpose)) return [];
    return [{ key: `${cluster.siteId} ${allocation.purpose}`, range: rangeOf(allocation) }];
  });
  const groups = groupBy(leaving, ({ key }) => key);
  return new Map([...groups].map(([key, own]) => [key, own.map(({ range }) => range)]));
}

/** A range that leaves its cluster and is new, or changes. */
export interface Rerouted {
  readonly siteId: string;
  readonly purpose: Purpose;
  readonly before: Prefix | undefined;
  readonly after: Prefix;
}

/** The count of advertised prefixes for each site and purpose that the ranges touch, before and after them. */
export function routeChanges(plan: Plan, ranges: readonly Rerouted[]): RouteChange[] {
  const before = advertisedRanges(plan, plan.allocations);
  const after = new Map<string, { gone: Set<string>; come: Prefix[] }>();
  for (const range of ranges) {
    const key = `${range.siteId} ${range.purpose}`;
    let change = after.get(key);
    if (change === undefined) {
      change = { gone: new Set(), come: [] };
      after.set(key, change);
    }
    if (range.before !== undefined) change.gone.add(formatPrefix(range.before));
    change.come.push(range.after);
  }
  const changes = [...after].map(([key, { gone, come }]): RouteChange => {
    const [siteId = '', purpose = ''] = key.split(' ');
    const old = before.get(key) ?? [];
    const kept = gone.size === 0 ? old : old.filter((range) => !gone.has(formatPrefix(range)));
    return {
      siteName: byId(plan.sites, siteId)?.name ?? '',
      // The key was made from one just above.
      purpose: purpose as Purpose,
      before: merge(old).length,
      after: merge([...kept, ...come]).length,
    };
  });
  return changes.sort(
    (a, b) =>
      (a.siteName < b.siteName ? -1 : a.siteName > b.siteName ? 1 : 0) ||
      purposes.indexOf(a.purpose) - purposes.indexOf(b.purpose),
  );
}
