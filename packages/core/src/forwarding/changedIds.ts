import { changedBetween } from '../plan/index.js';
import type { Cluster, FilterRule } from '../plan/index.js';
import { once } from '../section/index.js';
import { forwardingReads } from './forwardingParts.js';
import type { ForwardingParts, RangesOf } from './forwardingParts.js';

interface Compiled {
  readonly parts: ForwardingParts;
  readonly rangesOf: RangesOf;
}

/** The filters and firewalls whose rules differ between two states; undefined when anything else that forwarding reads does. */
export function changedLists(before: Compiled, after: Compiled): ReadonlySet<string> | undefined {
  const isJoined = before.parts.connections === after.parts.connections && before.parts.members === after.parts.members;
  return isJoined ? changedIds(before, after) : undefined;
}

const followed: ReadonlySet<string> = new Set(['filterRules', 'firewallRules', 'connections', 'members']);

/** The same with the connections and members that differ. */
export function changedIds(before: Compiled, after: Compiled): ReadonlySet<string> | undefined {
  if (before.rangesOf !== after.rangesOf) return undefined;
  if (!isSameBut(before, after, followed)) return undefined;
  const connected = [
    changedBetween(before.parts.connections, after.parts.connections),
    changedBetween(before.parts.members, after.parts.members),
  ];
  const filters = changedBetween(before.parts.filterRules, after.parts.filterRules);
  const firewalls = changedBetween(before.parts.firewallRules, after.parts.firewallRules);
  return new Set([
    ...[...filters.gone, ...filters.come].map(({ filterId }) => filterId),
    ...[...firewalls.gone, ...firewalls.come].map(({ firewallId }) => firewallId),
    ...connected.flatMap(({ gone, come }) => [...gone, ...come].map(({ id }) => id)),
  ]);
}

/** Whether two states differ in nothing that forwarding reads but these collections. */
export function isSameBut(before: Compiled, after: Compiled, parts: ReadonlySet<string>): boolean {
  return forwardingReads.every((part) => parts.has(part) || before.parts[part] === after.parts[part]);
}

const clustersOnly: ReadonlySet<string> = new Set(['clusters']);

/** Fields of a cluster that no packet sees: how many nodes and services it has, and what they cost. */
const unseen: ReadonlySet<string> = new Set([
  'nodesNow',
  'nodesHorizon',
  'services',
  'surgePercent',
  'zoneGb',
  'egressGb',
] satisfies (keyof Cluster)[]);

/** Whether every packet goes as it did: nothing that forwarding reads differs but what it never asks of a cluster. */
export function isSameForPackets(before: Compiled, after: Compiled): boolean {
  if (before.rangesOf !== after.rangesOf || !isSameBut(before, after, clustersOnly)) return false;
  const { gone, come } = changedBetween(before.parts.clusters, after.parts.clusters);
  return gone.length === come.length && gone.every((cluster, at) => isSameSeen(cluster, come[at]));
}

function isSameSeen(a: Cluster, b: Cluster | undefined): boolean {
  return Object.entries(a).every(([field, value]) => unseen.has(field) || value === b?.[field as keyof Cluster]);
}

/** Whether any rule names other filters: then what it matches follows what these are attached to. */
export const nameFilters = once((rules: readonly FilterRule[]) =>
  rules.some(({ peerFilterIds }) => peerFilterIds.length > 0),
);
