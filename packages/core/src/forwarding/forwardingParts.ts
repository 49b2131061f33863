import type { Allocation, Plan } from '../plan/index.js';
import { groupsIn } from '../section/index.js';

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

type Groups = ReadonlyMap<string, readonly Allocation[]>;

const rangesOfGroups = new WeakMap<Groups, RangesOf>();
const groupsOfRanges = new WeakMap<RangesOf, Groups>();

/** The ranges of each cluster: the same function for the same groups, so that what follows from ranges is known to be the same. */
export function rangesIn(groups: Groups): RangesOf {
  const known = rangesOfGroups.get(groups) ?? ((id: string) => groups.get(id) ?? none);
  rangesOfGroups.set(groups, known);
  groupsOfRanges.set(known, groups);
  return known;
}

/** The clusters that have other ranges than before; undefined where the ranges were not gathered by `rangesIn`. */
export function withOtherRanges(was: RangesOf, is: RangesOf): ReadonlySet<string> | undefined {
  const [before, after] = [groupsOfRanges.get(was), groupsOfRanges.get(is)];
  return before === undefined || after === undefined ? undefined : groupsIn(before, after);
}
