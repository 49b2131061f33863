import { addressValue, comparePrefixes, contains, prefixSize } from '../address/index.js';
import { byId, grouped, overlapping, rangeOf } from '../plan/index.js';
import type { Plan, Profile, Subnet } from '../plan/index.js';
import { entryKept, isFromSubnet, rowOf, sizingOf, takenIn, usableAddresses } from '../sizing/index.js';
import { heldAddresses } from './heldAddresses.js';

/** Somebody who lives in a subnet. */
export interface Living {
  /** The name of a cluster, or what a device is. */
  readonly name: string;
  /** IPv4 addresses it takes, a cluster the more of today's and the horizon's; a part of the subnet that is set apart counts whole. */
  readonly addresses: number;
  /** Whether it is a cluster; devices and the gateway are not. */
  readonly isCluster: boolean;
}

/** How much of a subnet is taken. */
export interface SubnetUse {
  /** IPv4 addresses that the provider leaves; Infinity in IPv6, which does not run out. */
  readonly usable: number;
  readonly taken: number;
  readonly living: readonly Living[];
  /** Whether a part of it is set apart, by a subnet or by a range that is not all of it. */
  readonly isParted: boolean;
}

/** Who lives in a subnet of the ground, and what they take of it; ranges whose ids are in `leaving` count as gone. */
export function subnetUse(plan: Plan, subnet: Subnet, profile: Profile, leaving?: ReadonlySet<string>): SubnetUse {
  const prefix = rangeOf(subnet);
  const { networkId } = subnet;
  const living: Living[] = [];
  let kept = 0;
  let isParted = overlapping(plan.subnets, prefix).some(
    (other) => other.id !== subnet.id && other.networkId === networkId,
  );
  const byOwner = grouped(plan.allocations, 'clusterId');
  for (const range of overlapping(plan.allocations, prefix)) {
    const owner = byId(plan.clusters, range.clusterId);
    if (owner?.networkId !== networkId || leaving?.has(range.id) === true || !isFromSubnet(owner, range.purpose))
      continue;
    const own = rangeOf(range);
    const isWhole = comparePrefixes(own, prefix) === 0;
    if (!isWhole) isParted = true;
    if (!contains(prefix, own)) continue;
    const sizing = sizingOf(plan, owner);
    const addresses = isWhole
      ? takenIn({ sizing, range, row: rowOf(byOwner.get(owner.id) ?? [], range) })
      : Number(prefixSize(own));
    kept += entryKept(sizing, range);
    living.push({ name: owner.name, addresses: prefix.family === 6 ? 0 : addresses, isCluster: true });
  }
  for (const { by, what, id = '', first, last } of heldAddresses(plan, { prefix, networkId, profile }))
    // The gateway of a plain LAN is among what nobody gets; a load balancer takes of the entry addresses first, which the clusters there keep for it.
    if (
      by !== 'provider' &&
      (by !== 'gateway' || profile.reservedFirst > 1) &&
      (byId(plan.balancers, id) === undefined || kept-- <= 0)
    )
      living.push({ name: what, addresses: Number(addressValue(last) - addressValue(first)) + 1, isCluster: false });
  const usable = prefix.family === 6 ? Infinity : usableAddresses(prefix.length, profile).value;
  return { usable, taken: living.reduce((sum, { addresses }) => sum + addresses, 0), living, isParted };
}
