import type { Family } from './family.js';

/** One address; `value` is the address as an unsigned integer of the family's width. */
export interface Address {
  readonly family: Family;
  readonly value: bigint;
}
