import { formatAddress } from '../address/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Allocation, Cluster, Plan } from '../plan/index.js';
import { isFromSubnet } from '../sizing/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { freeStretch } from './heldAddresses.js';

/** A place for a reservation, or why there is none. */
export type ReservationPlace =
  | { readonly ok: true; readonly first: string; readonly subnet: string }
  | { readonly ok: false; readonly reason: string; readonly fix: string };

/**
 * Consecutive addresses that a self-run control plane needs: its nodes, one virtual address for the API, and one more for the
 * node that joins while an upgrade rolls. Source: common practice; three nodes need five.
 */
export function controlPlaneReservation(nodes: number): Figure {
  const value = nodes + 2;
  return figure(value, 'addresses', () => ({
    title: 'Consecutive addresses for the control plane',
    formula: 'control nodes + 1 virtual address + 1 for the rolling upgrade',
    inputs: [{ name: 'Control nodes', value: formatNumber(nodes) }],
    steps: [`${nodes} + 1 + 1 = ${value}`],
    result: `${value} addresses`,
    source: { mark: 'C', text: 'Common practice: three control nodes need five consecutive addresses' },
  }));
}

/** The subnets of a cluster that reservations can lie in: those for nodes and for entry. */
export function subnetsForReservations(cluster: Cluster, allocations: readonly Allocation[]): Allocation[] {
  return allocations.filter(
    ({ clusterId, purpose }) => clusterId === cluster.id && purpose !== 'pod' && isFromSubnet(cluster, purpose),
  );
}

/** The lowest place in a cluster's subnets where this many consecutive addresses are free. */
export function placeReservation(plan: Plan, clusterId: string, count: number): ReservationPlace {
  const cluster = byId(plan.clusters, clusterId);
  const site = cluster === undefined ? undefined : byId(plan.sites, cluster.siteId);
  const profile = site === undefined ? undefined : byId(plan.profiles, site.profileId);
  const subnets = cluster === undefined ? [] : subnetsForReservations(cluster, plan.allocations);
  if (profile === undefined || subnets.length === 0)
    return { ok: false, reason: 'The cluster has no node or entry range yet.', fix: 'Allocate its ranges first.' };
  let longest = 0n;
  for (const { prefix } of subnets) {
    const free = freeStretch(
      plan,
      { prefix: rangeOf({ prefix }), networkId: cluster?.networkId ?? '', profile },
      count,
    );
    if (free.first !== undefined) return { ok: true, first: formatAddress(free.first), subnet: prefix };
    if (free.longest > longest) longest = free.longest;
  }
  return {
    ok: false,
    reason: `No ${count} consecutive addresses are free; the longest free run has ${longest}.`,
    fix: 'Ask for fewer, or enlarge the node range.',
  };
}
