import type { Prefix } from '../address/index.js';
import { attachedTo, changedLists } from '../forwarding/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { changedBetween, prefixList } from '../plan/index.js';

/** What rules of an edit concern. */
export interface ChangedRules {
  readonly lists: ReadonlySet<string>;
  /** What filters among them are attached to. */
  readonly attached: ReadonlySet<string>;
  readonly prefixes: readonly Prefix[];
}

/** The filters and firewalls whose rules differ between two states, and the prefixes those rules name; undefined when anything else differs. */
export function changedRules(before: Forwarding, after: Forwarding): ChangedRules | undefined {
  const lists = changedLists(before, after);
  if (lists === undefined) return undefined;
  return {
    lists,
    attached: new Set(after.parts.filters.filter(({ id }) => lists.has(id)).flatMap(attachedTo)),
    prefixes: changedPrefixes(before, after),
  };
}

/** The prefixes named by rules that a state has and the one before it had not. */
export function changedPrefixes(before: Forwarding, after: Forwarding): Prefix[] {
  const filters = changedBetween(before.parts.filterRules, after.parts.filterRules);
  const firewalls = changedBetween(before.parts.firewallRules, after.parts.firewallRules);
  return [
    ...filters.come.flatMap(({ peers, peerFilterIds }) => [
      ...prefixList(peers),
      ...peerFilterIds.flatMap((id) => after.lists.membersOf(id)),
    ]),
    ...firewalls.come.flatMap(({ sources, destinations }) => prefixList([...sources, ...destinations])),
  ];
}
