import { addressBits, formatPrefix, parseAddress, prefixAround } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { addTo, byId, purposes, rangeOf } from '../plan/index.js';
import type { Allocation, Cluster, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { inGroups, isSameList, followGroups, section } from '../section/index.js';
import type { Alongside, Groups } from '../section/index.js';
import { demand } from './demandSection.js';
import { isFromSubnet } from './needs.js';
import { rowOf, takenIn } from './row.js';
import type { Placement } from './row.js';
import type { Sizing } from './sizing.js';
import { entryInNodeSubnet, usableAddresses } from './subnetDemand.js';

/** Somebody who takes addresses of a subnet beside one cluster's range in it. */
export interface Resident {
  readonly kind: 'clusters' | 'endpoints' | 'bastions' | 'balancers';
  readonly id: string;
  readonly name: string;
  /** Where a cluster lives, and with what demand; undefined for a device. */
  readonly placement?: Placement;
  /** IPv4 addresses it takes, a cluster the more of today's and the horizon's; 0 in IPv6, which does not run out. */
  readonly addresses: number;
}

/** The subnet that a range of a cluster is: ranges with the same key are one subnet, in which all of them live. */
export function subnetKey({ networkId, siteId }: Pick<Cluster, 'networkId' | 'siteId'>, zone: string): string {
  return `${networkId} ${siteId} ${zone}`;
}

/** IPv4 addresses that some take together. */
export function addressesOf(others: readonly Resident[]): number {
  return others.reduce((sum, { addresses }) => sum + addresses, 0);
}

/** IPv4 addresses that others leave of a subnet. */
export function roomBeside(sizing: Sizing, { length }: Prefix, others: readonly Resident[]): number {
  return Math.max(0, usableAddresses(length, sizing.profile).value - addressesOf(others));
}

/** "booking-north and 2 more". */
export function formatResidents(others: readonly Resident[]): string {
  const [first, ...rest] = [...new Set(others.map(({ name }) => name))];
  return rest.length === 0 ? (first ?? '') : `${first} and ${rest.length === 1 ? rest[0] : `${rest.length} more`}`;
}

/** The start of a range's prefix: few groups, so that an edit copies few, and of those it touches one. */
const startOf = ({ prefix }: Allocation) => startOfText(prefix);

function startOfText(prefix: string): string {
  return prefix.split(/[.:]/, 2).join(' ');
}

/** The ranges of each cluster: by purpose, zone and turn. */
export const rangesByCluster = section({
  name: 'ranges by cluster',
  reads: ['allocations'],
  needs: {},
  build: ({ allocations }) => inGroups(allocations, ownerOf, bySpot),
  follow: (last, { allocations }) => followGroups(last.value, [last.parts.allocations, allocations], ownerOf, bySpot),
});

const ownerOf = ({ clusterId }: Allocation) => clusterId;

function bySpot(a: Allocation, b: Allocation): number {
  return (
    purposes.indexOf(a.purpose) - purposes.indexOf(b.purpose) ||
    (a.zone < b.zone ? -1 : a.zone > b.zone ? 1 : 0) ||
    a.turn - b.turn ||
    (a.id < b.id ? -1 : 1)
  );
}

/** All ranges by the start of their prefix. */
const rangesByStart = section({
  name: 'ranges by start',
  reads: ['allocations'],
  needs: {},
  build: ({ allocations }) => inGroups(allocations, startOf),
  follow: (last, { allocations }) => followGroups(last.value, [last.parts.allocations, allocations], startOf),
});

// By the group, which is the same object until an edit touches it.
const prefixesOf = new WeakMap<readonly Allocation[], Groups<Allocation>>();

/** Of a group with one start, those that may be subnets, by their whole prefix. */
function byPrefix(group: readonly Allocation[]): Groups<Allocation> {
  let groups = prefixesOf.get(group);
  if (groups === undefined) {
    groups = inGroups(
      group.filter(({ purpose }) => purpose !== 'service'),
      ({ prefix }) => prefix,
    );
    prefixesOf.set(group, groups);
  }
  return groups;
}

// The same, as far as more than one has the prefix.
const repeatedOf = new WeakMap<readonly Allocation[], readonly (readonly Allocation[])[]>();

function repeatedIn(group: readonly Allocation[]): readonly (readonly Allocation[])[] {
  let found = repeatedOf.get(group);
  if (found === undefined) {
    found = [...byPrefix(group).values()].filter((each) => each.length > 1);
    repeatedOf.set(group, found);
  }
  return found;
}

const none: readonly Resident[] = [];
const nowhere: readonly Allocation[] = [];

/** Who lives in the subnets of ranges beside their own cluster, by the id of the range; ranges that are alone are not in it. */
export type Residents = ReadonlyMap<string, readonly Resident[]>;

/** Who lives beside whom: the same as before while nobody comes, goes or takes more. */
export const residents = section({
  name: 'residents of subnets',
  reads: ['clusters', 'subnets', 'endpoints', 'bastions', 'balancers'],
  needs: { demand, ranges: rangesByStart, own: rangesByCluster },
  build: (parts, needed): Residents => gather(parts, needed),
  follow: (last, parts, needed) => {
    const next = gather(parts, needed);
    let isSame = next.size === last.value.size;
    for (const [id, list] of next) {
      const known = last.value.get(id);
      if (known !== undefined && isAlike(known, list)) next.set(id, known);
      else isSame = false;
    }
    return isSame ? last.value : next;
  },
});

/** Who else lives where a range is. */
export function residentsBeside(all: Residents, { id }: Allocation): readonly Resident[] {
  return all.get(id) ?? none;
}

type Parts = Pick<Plan, 'clusters' | 'subnets' | 'endpoints' | 'bastions' | 'balancers'>;

interface Known {
  readonly demand: Alongside<Cluster, Sizing>;
  readonly ranges: Groups<Allocation>;
  readonly own: Groups<Allocation>;
}

function gather(parts: Parts, { demand: demands, ranges, own }: Known) {
  const sizingOf = (clusterId: string) => demands.of(clusterId);
  const placementOf = (range: Allocation): Placement | undefined => {
    const sizing = sizingOf(range.clusterId);
    return sizing === undefined ? undefined : { sizing, range, row: rowOf(own.get(range.clusterId) ?? nowhere, range) };
  };
  const found = new Map<string, readonly Resident[]>();
  const hasNative = parts.clusters.some(({ podMode }) => podMode === 'native');
  for (const start of ranges.values())
    for (const group of repeatedIn(start))
      // Where no pods are native, a pod range that repeats is no subnet; there can be thousands.
      if (hasNative || group.some(({ purpose }) => purpose !== 'pod')) ofGroup(parts, group, placementOf, found);
  ofDevices(parts, ranges, sizingOf, found);
  return found;
}

interface Lives {
  readonly range: Allocation;
  readonly resident: Resident;
}

function ofGroup(
  { clusters }: Parts,
  group: readonly Allocation[],
  placementOf: (range: Allocation) => Placement | undefined,
  found: Map<string, readonly Resident[]>,
): void {
  const places = new Map<string, Lives[]>();
  for (const range of group) {
    const cluster = byId(clusters, range.clusterId);
    if (cluster === undefined || !isFromSubnet(cluster, range.purpose)) continue;
    const placement = placementOf(range);
    if (placement === undefined) continue;
    const { id, name: itsName } = cluster;
    const resident: Resident = { kind: 'clusters', id, name: itsName, placement, addresses: takenIn(placement) };
    const key = subnetKey(cluster, range.zone);
    addTo(places, key, { range, resident });
  }
  for (const list of places.values()) {
    if (list.length < 2) continue;
    for (const { range } of list)
      found.set(
        range.id,
        list.filter((other) => other.range !== range).map(({ resident }) => resident),
      );
  }
}

type Device = Plan['endpoints'][number] | Plan['bastions'][number] | Plan['balancers'][number];

/** Devices that have an address in a subnet of a cluster; of load balancers those beyond the entry addresses that the clusters there keep for them. */
function ofDevices(
  parts: Parts,
  ranges: Groups<Allocation>,
  sizingOf: (clusterId: string) => Sizing | undefined,
  found: Map<string, readonly Resident[]>,
): void {
  const add = (kind: Resident['kind'], { id, name }: Device, range: Allocation) => {
    const addresses = rangeOf(range).family === 6 ? 0 : 1;
    found.set(range.id, [...(found.get(range.id) ?? none), { kind, id, name, addresses }]);
  };
  for (const endpoint of parts.endpoints)
    for (const range of rangesAround(parts, ranges, endpoint)) add('endpoints', endpoint, range);
  for (const bastion of parts.bastions)
    for (const range of rangesAround(parts, ranges, bastion)) add('bastions', bastion, range);
  const balancers = new Map<Allocation, Device[]>();
  for (const balancer of parts.balancers)
    if (balancer.side === 'internal')
      for (const range of rangesAround(parts, ranges, balancer)) {
        addTo(balancers, range, balancer);
      }
  for (const [range, list] of balancers) {
    const others = (found.get(range.id) ?? none).flatMap(({ placement }) =>
      placement === undefined ? [] : [placement],
    );
    const kept = [range, ...others.map((other) => other.range)].reduce(
      (sum, each) => sum + entryKept(sizingOf(each.clusterId), each),
      0,
    );
    for (const balancer of list.slice(kept)) add('balancers', balancer, range);
  }
}

/** Addresses that a cluster keeps in its subnet of a purpose for load balancers. */
export function entryKept(sizing: Sizing | undefined, { purpose, turn }: Allocation): number {
  if (sizing === undefined || turn > 1) return 0;
  return purpose === 'node' ? entryInNodeSubnet(sizing) : purpose === 'entry' ? sizing.cluster.entryAddresses : 0;
}

/** The ranges of clusters that are subnets around a device's address. */
function* rangesAround(
  { subnets, clusters }: Parts,
  ranges: Groups<Allocation>,
  { subnetId, address: text }: Device,
): Generator<Allocation> {
  const subnet = byId(subnets, subnetId);
  if (subnet === undefined || text === null) return;
  const address = expectGood(parseAddress(text));
  for (let length = addressBits(address.family); length > 0; length--) {
    const prefix = formatPrefix(prefixAround(address, length));
    for (const range of byPrefix(ranges.get(startOfText(prefix)) ?? nowhere).get(prefix) ?? []) {
      const cluster = byId(clusters, range.clusterId);
      if (cluster?.networkId === subnet.networkId && isFromSubnet(cluster, range.purpose)) yield range;
    }
  }
}

function isAlike(one: readonly Resident[], other: readonly Resident[]): boolean {
  return (
    one.length === other.length &&
    one.every(({ id, name, addresses, placement }, at) => {
      const same = other[at];
      return (
        same?.id === id &&
        same.name === name &&
        same.addresses === addresses &&
        same.placement?.sizing === placement?.sizing &&
        same.placement?.range === placement?.range &&
        isSameList(same.placement?.row ?? nowhere, placement?.row ?? nowhere)
      );
    })
  );
}
