import { addressFurther, compareAddresses, formatAddress } from '../address/index.js';
import type { Address } from '../address/index.js';
import { byId, hostPrefix, rangeOf, stretchOf } from '../plan/index.js';
import type { Balancer, Plan } from '../plan/index.js';

/** Addresses of one subnet that are tried: more than any subnet of load balancers holds. */
const MOST_TRIED = 65_536;

/** What is read to find one. */
export type AddressHolders = Pick<
  Plan,
  'subnets' | 'sites' | 'profiles' | 'balancers' | 'bastions' | 'endpoints' | 'runs'
>;

/**
 * The first address of an internal load balancer's subnet that neither the provider, a device nor an address run holds; undefined for a public
 * one, whose address is of the provider's space, and where none is free.
 */
export function freeAddressFor(
  plan: AddressHolders,
  { subnetId, side }: Pick<Balancer, 'subnetId' | 'side'>,
): string | undefined {
  const subnet = byId(plan.subnets, subnetId);
  const profile = byId(plan.profiles, byId(plan.sites, subnet?.siteId ?? '')?.profileId ?? '');
  if (subnet === undefined || profile === undefined || side === 'public') return undefined;
  const range = rangeOf(subnet);
  const held = new Set([...plan.balancers, ...plan.bastions, ...plan.endpoints].flatMap(({ address }) => (address === null ? [] : [formatAddress(hostPrefix(address))]))); // prettier-ignore
  const runs = plan.runs.map(stretchOf);
  const isInRun = (address: Address) => runs.some(({ first, last }) => first.family === address.family && compareAddresses(first, address) <= 0 && compareAddresses(address, last) <= 0); // prettier-ignore
  const isV4 = range.family === 4;
  const size = Math.min(MOST_TRIED, 2 ** Math.min(30, (isV4 ? 32 : 128) - range.length));
  const end = isV4 ? size - profile.reservedLast : size;
  for (let at = isV4 ? profile.reservedFirst : 1; at < end; at++) {
    const address = addressFurther(range, at);
    if (!held.has(formatAddress(address)) && !isInRun(address)) return formatAddress(address);
  }
  return undefined;
}
