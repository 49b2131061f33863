import type { Allocation, Plan } from '../plan/index.js';

/** The collections that forwarding reads. */
export const forwardingReads = [
  'networks',
  'sites',
  'profiles',
  'clusters',
  'nodePools',
  'subnets',
  'blocks',
  'inUse',
  'links',
  'attachments',
  'routeTables',
  'routes',
  'natDevices',
  'firewalls',
  'firewallRules',
  'filters',
  'filterRules',
  'prefixSets',
  'endpoints',
  'bastions',
  'balancers',
  'reservations',
  'needs',
  'connections',
  'members',
] as const satisfies readonly (keyof Plan)[];

/** What forwarding reads of a plan. */
export type ForwardingParts = Pick<Plan, (typeof forwardingReads)[number]>;

/** Gives the ranges of a cluster. */
export type RangesOf = (clusterId: string) => readonly Allocation[];

const none: readonly never[] = [];

const rangesOfGroups = new WeakMap<object, RangesOf>();

/** The ranges of each cluster: the same function for the same groups, so that what follows from ranges is known to be the same. */
export function rangesIn(groups: ReadonlyMap<string, readonly Allocation[]>): RangesOf {
  const known = rangesOfGroups.get(groups) ?? ((id: string) => groups.get(id) ?? none);
  rangesOfGroups.set(groups, known);
  return known;
}
