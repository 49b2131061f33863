import { addressFurther, parseAddress } from '../address/index.js';
import type { Address } from '../address/index.js';
import { expectGood } from '../result.js';
import type { Reservation } from './kinds/reservations.js';

/** A stretch of addresses, first and last included. */
export interface Stretch {
  readonly first: Address;
  readonly last: Address;
}

/** The addresses of a reservation. */
export function addressSpan({ first, count }: Pick<Reservation, 'first' | 'count'>): Stretch {
  const from = expectGood(parseAddress(first));
  return { first: from, last: addressFurther(from, count - 1) };
}
