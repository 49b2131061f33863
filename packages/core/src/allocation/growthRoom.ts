import { contains, formatPrefix, prefixAround, splitAround } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { byId, grouped, rangeOf } from '../plan/index.js';
import type { Allocation, Plan } from '../plan/index.js';
import { isFromSubnet, lengthInRow, rangesNeeded, rowOf, sizingOf } from '../sizing/index.js';
import type { Need, Sizing } from '../sizing/index.js';
import { advertisedIn, isInternalRange } from '../verdicts/index.js';

/** The addresses beside a range that it needs to grow in place to its size at the horizon. */
export interface GrowthRoom {
  readonly allocation: Allocation;
  /** The range once it has grown. */
  readonly grown: Prefix;
  /** What lies between the two, in order of size. */
  readonly room: readonly Prefix[];
}

/** Room that ranges smaller than their need at the horizon want kept free beside them; cluster-internal ranges want none. */
export function growthRooms(plan: Plan, allocations: readonly Allocation[] = plan.allocations): GrowthRoom[] {
  const known = new Map<string, { readonly sizing: Sizing; readonly needs: ReadonlyMap<string, Need> }>();
  const owned = grouped(plan.allocations, 'clusterId');
  return allocations.flatMap((allocation) => {
    const cluster = byId(plan.clusters, allocation.clusterId);
    if (cluster === undefined || isInternalRange(cluster, allocation.purpose)) return [];
    let own = known.get(cluster.id);
    if (own === undefined) {
      const sizing = sizingOf(plan, cluster);
      const needs = rangesNeeded(sizing).map((need) => [`${need.purpose} ${need.zone} ${need.family}`, need] as const);
      own = { sizing, needs: new Map(needs) };
      known.set(cluster.id, own);
    }
    const range = rangeOf(allocation);
    const need = own.needs.get(`${allocation.purpose} ${allocation.zone} ${range.family}`);
    if (need === undefined) return [];
    const row = rowOf(owned.get(cluster.id) ?? [], allocation);
    const length = lengthInRow({ sizing: own.sizing, range: allocation, row }, need);
    if (length >= range.length || length < 0) return [];
    const grown = prefixAround(range, length);
    return [{ allocation, grown, room: splitAround(grown, range) }];
  });
}

/** What stands in the way of a range growing in place; empty when it can. Its own network's blocks must hold it where there are any. */
export function inTheWay(plan: Plan, { allocation, grown }: GrowthRoom): string[] {
  const touches = (other: { readonly prefix: string }) =>
    contains(grown, rangeOf(other)) || contains(rangeOf(other), grown);
  const cluster = byId(plan.clusters, allocation.clusterId);
  const site = byId(plan.sites, cluster?.siteId ?? '');
  const largest = byId(plan.profiles, site?.profileId ?? '')?.largestSubnet ?? 0;
  const blocks = plan.blocks.filter(({ networkId }) => networkId === cluster?.networkId).map(rangeOf);
  const held = blocks.filter((block) => block.family === grown.family && contains(block, rangeOf(allocation)));
  return [
    ...plan.allocations
      .filter((other) => other.id !== allocation.id && touches(other))
      .filter((other) => {
        const owner = byId(plan.clusters, other.clusterId);
        return owner?.id === cluster?.id || owner === undefined || !isInternalRange(owner, other.purpose);
      })
      .map((other) => `${other.prefix} of ${byId(plan.clusters, other.clusterId)?.name ?? ''}`),
    ...plan.inUse.filter(touches).map((other) => `${other.prefix} of ${other.owner}`),
    ...advertisedIn(plan)
      .filter(({ prefix, networkId }) => networkId !== cluster?.networkId && contains(grown, prefix))
      .map(({ prefix, label }) => `${formatPrefix(prefix)} (${label})`),
    ...plan.subnets
      .filter((other) => touches(other) && !(other.networkId === cluster?.networkId && contains(rangeOf(other), grown)))
      .map((other) => `${other.prefix} (subnet ${other.name})`),
    ...(cluster !== undefined &&
    isFromSubnet(cluster, allocation.purpose) &&
    grown.family === 4 &&
    grown.length < largest
      ? [`the provider’s largest subnet, a /${largest}`]
      : []),
    ...(held.length > 0 && !held.some((block) => contains(block, grown)) ? ['the end of the address block'] : []),
  ];
}
