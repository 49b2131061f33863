import { freeAddressIn } from '../allocation/index.js';
import type { AddressParts } from '../allocation/index.js';
import type { Balancer, Plan } from '../plan/index.js';

/**
 * The first free address of an internal load balancer's subnet; undefined for a public one, whose address is of the
 * provider's space, and where none is free.
 */
export function freeAddressFor(
  plan: AddressParts & Pick<Plan, 'sites' | 'profiles'>,
  { subnetId, side }: Pick<Balancer, 'subnetId' | 'side'>,
): string | undefined {
  return side === 'public' ? undefined : freeAddressIn(plan, subnetId);
}
