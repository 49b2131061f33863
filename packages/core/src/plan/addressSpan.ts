import { addressFurther, parseAddress } from '../address/index.js';
import type { Address } from '../address/index.js';
import { expectGood } from '../result.js';
import type { Run } from './kinds/runs.js';

/** A stretch of addresses, first and last included. */
export interface Stretch {
  readonly first: Address;
  readonly last: Address;
}

/** The addresses of a run. */
export function addressSpan({ first, count }: Pick<Run, 'first' | 'count'>): Stretch {
  const from = expectGood(parseAddress(first));
  return { first: from, last: addressFurther(from, count - 1) };
}
