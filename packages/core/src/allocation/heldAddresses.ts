import {
  addressFurther,
  addressValue,
  compareAddresses,
  containsAddress,
  formatAddress,
  lastAddress,
  parseAddress,
} from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { addressSpan, addTo, around, byId, grouped, overlapping, rangeOf } from '../plan/index.js';
import type { Plan, Profile, Stretch } from '../plan/index.js';
import { expectGood } from '../result.js';
import { isSameList } from '../section/index.js';

/** What tells who holds single addresses of subnets. */
export type AddressParts = Pick<
  Plan,
  'subnets' | 'clusters' | 'reservations' | 'inUse' | 'bastions' | 'endpoints' | 'balancers'
>;

/** A subnet, or a range of a cluster that is one. */
export interface SubnetPlace {
  readonly prefix: Prefix;
  readonly networkId: string;
  readonly profile: Profile;
}

/** Something that holds addresses in a subnet. */
export interface Held extends Stretch {
  readonly by: 'provider' | 'gateway' | 'reservation' | 'device' | 'in use';
  readonly what: string;
  /** The row that holds them; undefined for the provider and the gateway. */
  readonly id?: string;
}

/** The gateway of machines in a prefix: the one its subnet names, else the first address of the subnet (common practice). */
export function gatewayIn(subnets: Plan['subnets'], networkId: string, prefix: Prefix): Address {
  const subnet = around(grouped(subnets, 'networkId').get(networkId) ?? [], prefix).at(-1);
  if (subnet?.gateway != null) return expectGood(parseAddress(subnet.gateway));
  return addressFurther(subnet === undefined ? prefix : rangeOf(subnet), 1);
}

/**
 * All that holds addresses in a subnet, lowest first: the provider's reserved ones, the gateway, reserved addresses, ranges in use, bastions,
 * private endpoints, internal load balancers. The row `except` is left out.
 */
export function heldAddresses(parts: AddressParts, place: SubnetPlace, except?: string): Held[] {
  const { prefix, networkId } = place;
  const inside = rowsIn(parts, networkId).filter(
    ({ id, first, last }) => id !== except && (containsAddress(prefix, first) || containsAddress(prefix, last)),
  );
  const used = overlapping(parts.inUse, prefix)
    .filter((range) => (range.networkId ?? networkId) === networkId && rangeOf(range).length > prefix.length)
    .map((range): Held => {
      const { id, owner: what } = range;
      return { by: 'in use', first: rangeOf(range), last: lastAddress(rangeOf(range)), what, id };
    });
  const reserved = reservedIn(place);
  return [...reserved, ...gatewayHeld(parts, place, reserved), ...inside, ...used].sort((a, b) =>
    compareAddresses(a.first, b.first),
  );
}

function reservedIn(place: SubnetPlace): Held[] {
  const { prefix, profile } = place;
  const end = lastAddress(prefix);
  if (prefix.family === 6)
    return [
      { by: 'provider', first: prefix, last: prefix, what: 'the subnet-router anycast address (RFC 4291 2.6.1)' },
    ];
  if (isPointToPoint(place)) return [];
  return [
    {
      by: 'provider',
      first: prefix,
      last: addressFurther(prefix, profile.reservedFirst - 1),
      what: `the first ${profile.reservedFirst} of the subnet, which ${profile.name} keeps`,
    },
    {
      by: 'provider',
      first: addressFurther(end, 1 - profile.reservedLast),
      last: end,
      what: `the last ${profile.reservedLast} of the subnet, which ${profile.name} keeps`,
    },
  ];
}

/** Of a link of two (RFC 3021) both addresses are usable, where the provider keeps no more than network and broadcast address: as it is sized. */
function isPointToPoint({ prefix: { family, length }, profile }: SubnetPlace): boolean {
  return family === 4 && length === 31 && profile.reservedFirst + profile.reservedLast === 2;
}

/** The gateway as far as the provider does not keep its address anyway. */
function gatewayHeld(parts: AddressParts, place: SubnetPlace, reserved: readonly Held[]): Held[] {
  if (isPointToPoint(place)) return [];
  const address = gatewayIn(parts.subnets, place.networkId, place.prefix);
  if (!containsAddress(place.prefix, address)) return [];
  if (reserved.some((held) => isHeldBy(held, address))) return [];
  return [{ by: 'gateway', first: address, last: address, what: 'the gateway of the subnet' }];
}

/** Whether an address is one of a stretch. */
export function isHeldBy({ first, last }: Stretch, address: Address): boolean {
  return (
    first.family === address.family && compareAddresses(first, address) <= 0 && compareAddresses(address, last) <= 0
  );
}

interface Row extends Held {
  readonly id: string;
}

const holders = ['subnets', 'clusters', 'reservations', 'bastions', 'endpoints', 'balancers'] as const;

// The collections alone, so that nothing else of a plan is kept for them.
let known: { readonly of: readonly unknown[]; readonly rows: ReadonlyMap<string, readonly Row[]> } | undefined;

/** Reservations and devices by their network; gathered once for each state of what tells it. */
function rowsIn(parts: AddressParts, networkId: string): readonly Row[] {
  const of = holders.map((kind) => parts[kind]);
  if (known === undefined || !isSameList(known.of, of)) known = { of, rows: rowsOf(parts) };
  return known.rows.get(networkId) ?? [];
}

function rowsOf(parts: AddressParts): Map<string, Row[]> {
  const rows = new Map<string, Row[]>();
  const put = (networkId: string | undefined, row: Row) => {
    if (networkId === undefined) return;
    addTo(rows, networkId, row);
  };
  for (const reservation of parts.reservations)
    put(byId(parts.clusters, reservation.clusterId)?.networkId, {
      by: 'reservation',
      ...addressSpan(reservation),
      what: `the reservation ${reservation.name}`,
      id: reservation.id,
    });
  const device = (
    what: string,
    { id, name, subnetId }: Plan['bastions'][number] | Plan['balancers'][number],
    text: string,
  ) => {
    const address = expectGood(parseAddress(text));
    put(byId(parts.subnets, subnetId)?.networkId, {
      by: 'device',
      first: address,
      last: address,
      what: `the ${what} ${name}`,
      id,
    });
  };
  for (const bastion of parts.bastions) device('bastion', bastion, bastion.address);
  for (const endpoint of parts.endpoints) device('private endpoint', endpoint, endpoint.address);
  // The address of a public one is of the provider's space.
  for (const balancer of parts.balancers)
    if (balancer.side === 'internal' && balancer.address !== null) device('load balancer', balancer, balancer.address);
  return rows;
}

/** Free consecutive addresses: the lowest, else how many the longest stretch has. */
export type FreeStretch =
  | { readonly first: Address; readonly longest?: undefined }
  | { readonly first?: undefined; readonly longest: bigint };

/** The lowest place in a subnet where this many consecutive addresses are free. */
export function freeStretch(parts: AddressParts, place: SubnetPlace, count: number): FreeStretch {
  let longest = 0n;
  for (const { from, length } of gaps(parts, place)) {
    if (length >= BigInt(count)) return { first: from };
    if (length > longest) longest = length;
  }
  return { longest };
}

/** The nth address of a subnet, from 0, that nobody holds; undefined where there are fewer. */
export function nthFreeAddress(parts: AddressParts, place: SubnetPlace, nth: number): Address | undefined {
  let left = BigInt(nth);
  for (const { from, length } of gaps(parts, place)) {
    if (left < length) return addressFurther(from, Number(left));
    left -= length;
  }
  return undefined;
}

/** The lowest address of a subnet that nobody holds, as text; undefined where it is full or its site has no profile. */
export function freeAddressIn(
  plan: AddressParts & Pick<Plan, 'sites' | 'profiles'>,
  subnetId: string,
): string | undefined {
  const subnet = byId(plan.subnets, subnetId);
  const profile = byId(plan.profiles, byId(plan.sites, subnet?.siteId ?? '')?.profileId ?? '');
  if (subnet === undefined || profile === undefined) return undefined;
  const free = nthFreeAddress(plan, { prefix: rangeOf(subnet), networkId: subnet.networkId, profile }, 0);
  return free === undefined ? undefined : formatAddress(free);
}

/** The free stretches of a subnet, lowest first. */
function* gaps(parts: AddressParts, place: SubnetPlace): Generator<{ from: Address; length: bigint }> {
  const end = addressValue(lastAddress(place.prefix));
  let next = addressValue(place.prefix);
  let from: Address = place.prefix;
  for (const { first, last } of heldAddresses(parts, place)) {
    if (addressValue(first) > next) yield { from, length: addressValue(first) - next };
    if (addressValue(last) < next) continue;
    next = addressValue(last) + 1n;
    if (next > end) return;
    from = addressFurther(last, 1);
  }
  if (next <= end) yield { from, length: end - next + 1n };
}
