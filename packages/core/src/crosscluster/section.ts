import { forwarding } from '../forwarding/index.js';
import { exportReads } from '../naming/index.js';
import { section } from '../section/index.js';
import { useOfAllocation } from '../verdicts/index.js';
import type { Use, Verdict } from '../verdicts/index.js';
import { clashesOfMembers } from './clashes.js';
import { Joins } from './pairs.js';
import { SetMatrix } from './setMatrix.js';

/** The collections that joins are read from, beside what forwarding reads. */
const joinReads = [...exportReads, 'sites', 'networkPolicies'] as const;

/**
 * The ways between joined clusters, made as they are asked for; after an edit of exports they are the same, after one
 * of rules or members those that rested on it are made anew.
 */
export const joins = section({
  name: 'joins',
  reads: ['connections', 'members', 'clusters', 'sites', 'workloads', 'networkPolicies'],
  needs: { forwarding },
  build: (parts, needed) => new Joins(parts, needed.forwarding),
  follow: (last, parts, needed) => new Joins(parts, needed.forwarding, last.value),
});

/** What the ranges of members are to one another: those that overlap conflict by their connection, by the id of each. */
export const joinVerdicts = section({
  name: 'overlaps of members',
  reads: ['connections', 'members', 'clusters', 'allocations'],
  needs: {},
  build: (parts): ReadonlyMap<string, readonly Verdict[]> => {
    const found = new Map<string, Verdict[]>();
    for (const { id, way, isPlanned } of parts.connections)
      for (const { one, other } of clashesOfMembers(
        parts,
        way,
        parts.members.filter(({ connectionId }) => connectionId === id),
      )) {
        const [a, b] = [one, other].map(({ allocation, cluster }) => useOfAllocation(allocation, cluster)) as [
          Use,
          Use,
        ];
        const verdict: Verdict = { kind: 'conflict', a, b, isPlanned };
        for (const use of [a, b]) found.set(use.id, [...(found.get(use.id) ?? []), verdict]);
      }
    return found;
  },
});

/** Clusters by exported services. */
export const setMatrix = section({
  name: 'clusters by exported services',
  reads: joinReads,
  needs: { joins },
  build: (parts, needed) => SetMatrix.of(parts, needed.joins),
  follow: (last, parts, needed) => {
    // What network policies say of the pods of a service goes into its cells.
    if (parts.workloads !== last.parts.workloads || parts.networkPolicies !== last.parts.networkPolicies)
      return undefined;
    const changed =
      needed.joins === last.needed.joins
        ? new Map<string, ReadonlySet<string>>()
        : needed.joins.changedSince(last.needed.joins);
    return changed === undefined ? undefined : last.value.after(parts, needed.joins, changed);
  },
});
