import { rangeOf } from '../plan/index.js';
import type { Allocation, Purpose } from '../plan/index.js';
import { bitsFor } from './bits.js';
import { countsToHold } from './counts.js';
import type { Counts } from './counts.js';
import type { Need } from './needs.js';
import type { Sizing } from './sizing.js';
import { nodeSubnetAddresses, podSubnetAddresses, reservedIn, usableAddresses } from './subnetDemand.js';

/** A cluster in one of its subnets. */
export interface Placement {
  readonly sizing: Sizing;
  readonly range: Allocation;
  /** Its subnets of the same purpose, zone and family, in their turn; the range is one of them. */
  readonly row: readonly Allocation[];
}

/** Of a cluster's ranges, by purpose, zone and turn, those that serve with this one what one need asks for. */
export function rowOf(own: readonly Allocation[], { purpose, zone, ...range }: Allocation): readonly Allocation[] {
  const { family } = rangeOf(range);
  return own
    .filter((each) => each.purpose === purpose && each.zone === zone && rangeOf(each).family === family)
    .sort((a, b) => a.turn - b.turn);
}

/** IPv4 addresses that a cluster takes in its subnets of a purpose and zone. Source: common practice. */
export function addressesIn(
  sizing: Sizing,
  purpose: Purpose,
  zone: string,
  counts: Counts = countsToHold(sizing),
): number {
  if (purpose === 'node') return nodeSubnetAddresses(sizing, counts, zone);
  if (purpose === 'pod') return podSubnetAddresses(sizing, counts, zone);
  return purpose === 'entry' ? sizing.cluster.entryAddresses : 0;
}

/** IPv4 addresses that a cluster takes in one of its subnets: each is filled before the next, and the last holds the rest. */
export function takenIn({ sizing, range, row }: Placement, counts: Counts = countsToHold(sizing)): number {
  if (rangeOf(range).family === 6) return 0;
  let left = addressesIn(sizing, range.purpose, range.zone, counts);
  for (const each of row) {
    if (each.id === range.id) break;
    left -= Math.min(left, usableIn(sizing, each));
  }
  return row.at(-1)?.id === range.id || row.length === 0 ? left : Math.min(left, usableIn(sizing, range));
}

/** IPv4 addresses that a row of subnets has no place for; 0 where it holds all. */
export function overflowOf(sizing: Sizing, row: readonly Allocation[]): number {
  const last = row.at(-1);
  if (last === undefined || rangeOf(last).family === 6) return 0;
  return Math.max(0, takenIn({ sizing, range: last, row }) - usableIn(sizing, last));
}

/** The longest prefix that holds what comes to one of a row of subnets: of the last, what those before it leave over; of the others, what they have. */
export function lengthInRow({ sizing, range, row }: Placement, need: Need): number {
  if (row.length < 2) return need.length.value;
  const { length, family } = rangeOf(range);
  if (family === 6 || row.at(-1)?.id !== range.id) return length;
  const wanted = 32 - bitsFor(takenIn({ sizing, range, row }) + reservedIn(sizing.profile));
  return Math.min(wanted, sizing.profile.smallestSubnet);
}

/** IPv4 addresses that one of a cluster’s subnets has to give. */
export function usableIn(sizing: Sizing, range: Allocation): number {
  return usableAddresses(rangeOf(range).length, sizing.profile).value;
}
