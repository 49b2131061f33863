import { familyName } from '../address/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Allocation, Cluster, Plan } from '../plan/index.js';
import { mostNodes, sizingOf } from '../sizing/index.js';
import type { Need } from '../sizing/index.js';
import { formatNumber } from '../working/index.js';
import { formatPlaced } from './poolSpace.js';
import type { Demand, PoolSpace } from './poolSpace.js';
import type { Refusal } from './proposal.js';

/** Holders of a full place that are named. */
const NAMED = 3;

/** Says why a demand found no place: the largest free block there is, and the way out that costs least. */
export function refuse(plan: Plan, cluster: Cluster, need: Need, demand: Demand, space: PoolSpace): Refusal {
  const base = {
    clusterId: cluster.id,
    clusterName: cluster.name,
    purpose: need.purpose,
    zone: need.zone,
    length: need.length.value,
  };
  const wanted = `a /${need.length.value} ${need.purpose} range (${familyName(need.family)})`;
  const sources = space.sourcesFor(demand);
  if (sources.length === 0) {
    return {
      ...base,
      reason: `${cluster.name} needs ${wanted}, and no pool gives ${need.purpose} ranges of that family at its site.`,
      fix: `Add a pool for ${need.purpose} ranges.`,
    };
  }
  const largest = space.largestFor(demand);
  const holders = space.holdersFor(demand);
  const heldBy =
    holders.length === 0
      ? ''
      : `, held by ${holders.slice(0, NAMED).join(', ')}${holders.length > NAMED ? ` and ${holders.length - NAMED} more` : ''}`;
  const have =
    largest === undefined
      ? `nothing is free in ${sources.map(({ name }) => name).join(', ')}${heldBy}`
      : `the largest free block is ${formatPlaced(largest)}`;
  const advertised = space.advertisedFor(demand);
  const keptFree =
    advertised.length === 0 ? '' : ` Kept free, since a link makes it reachable: ${advertised.slice(0, 3).join(', ')}.`;
  const more = sources.some(({ networkId }) => networkId !== undefined) ? blockToAdd(plan, demand, space) : 'a pool';
  return {
    ...base,
    reason: `${cluster.name} needs ${wanted}; ${have}.${keptFree}`,
    fix:
      largest === undefined
        ? `Add ${more}.`
        : `Add ${more}, or shrink the demand to fit: ${shrink(plan, cluster, need, largest.prefix.length)}`,
  };
}

/** An address block that would serve: one that a pool has free, where there is one; no other refusal is offered the same. */
function blockToAdd(plan: Plan, demand: Demand, space: PoolSpace): string {
  const network = byId(plan.networks, demand.networkId)?.name ?? 'the network';
  const profile = byId(plan.profiles, byId(plan.sites, demand.siteId)?.profileId ?? '');
  // A block is no smaller than the provider makes one.
  const length = demand.family === 4 ? Math.min(demand.roomLength, profile?.smallestBlock ?? 32) : demand.roomLength;
  const found = space.place({ ...demand, isSubnet: false, length, roomLength: length });
  return found === undefined
    ? `an address block to ${network}`
    : `the address block ${formatPlaced(found)}, which is free, to ${network}`;
}

/** Says that a need is larger than any subnet the provider makes. */
export function refuseTooLarge(plan: Plan, cluster: Cluster, need: Need, largest: number): Refusal {
  return {
    clusterId: cluster.id,
    clusterName: cluster.name,
    purpose: need.purpose,
    zone: need.zone,
    length: need.length.value,
    reason: [
      `${cluster.name} needs a /${need.length.value} ${need.purpose} range (${familyName(need.family)}),`,
      `and the largest subnet its provider makes is a /${largest}.`,
    ].join(' '),
    fix: `Spread it over more zones, or shrink the demand to fit: ${shrink(plan, cluster, need, largest)}`,
  };
}

/** Why a range must stay as it is; undefined when it may change. With `isRebuild`, being built is no reason. */
export function refuseLocked(plan: Plan, allocation: Allocation, isRebuild: boolean): Refusal | undefined {
  const cluster = byId(plan.clusters, allocation.clusterId);
  if (!allocation.isPinned && (isRebuild || cluster?.isBuilt !== true)) return undefined;
  return {
    clusterId: allocation.clusterId,
    clusterName: cluster?.name ?? '',
    purpose: allocation.purpose,
    zone: allocation.zone,
    length: rangeOf(allocation).length,
    reason: allocation.isPinned
      ? `${allocation.prefix} is pinned.`
      : `${cluster?.name} is built, so its ranges cannot change without a rebuild.`,
    fix: allocation.isPinned ? 'Clear Pinned first if it may move.' : 'Move the other range, or plan the rebuild.',
  };
}

function shrink(plan: Plan, cluster: Cluster, need: Need, available: number): string {
  const nodes = mostNodes(sizingOf(plan, cluster).growth);
  const factor = 2 ** (available - need.length.value);
  const fits = (count: number) => formatNumber(Math.max(1, Math.floor(count / factor)));
  switch (need.purpose) {
    case 'entry':
      return `about ${fits(cluster.entryAddresses)} entry addresses instead of ${formatNumber(cluster.entryAddresses)}.`;
    case 'service':
      return `about ${fits(cluster.services)} services instead of ${formatNumber(cluster.services)}.`;
    case 'node':
      return `about ${fits(nodes)} nodes instead of ${formatNumber(nodes)}.`;
    case 'pod':
      return `about ${fits(nodes)} nodes instead of ${formatNumber(nodes)}, or ${fits(cluster.podsPerNode)} pods per node instead of ${cluster.podsPerNode}.`;
  }
}
