import { addTo } from '../plan/index.js';
import { section } from '../section/index.js';
import { clashesOfMembers } from './clashes.js';
import type { Verdict } from './judge.js';
import { useOfAllocation } from './use.js';
import type { Use } from './use.js';

/** A conflict that only a connection brings about. */
export interface ConnectionVerdict extends Verdict {
  readonly connectionId: string;
}

/** What the ranges of members are to one another: those that overlap conflict by their connection, by the id of each. */
export const connectionVerdicts = section({
  name: 'overlaps of members',
  reads: ['connections', 'members', 'clusters', 'allocations'],
  needs: {},
  build: (parts): ReadonlyMap<string, readonly ConnectionVerdict[]> => {
    const found = new Map<string, ConnectionVerdict[]>();
    for (const { id, method, isPlanned } of parts.connections)
      for (const { one, other } of clashesOfMembers(
        parts,
        method,
        parts.members.filter(({ connectionId }) => connectionId === id),
      )) {
        const [a, b] = [one, other].map(({ allocation, cluster }) => useOfAllocation(allocation, cluster)) as [
          Use,
          Use,
        ];
        const verdict: ConnectionVerdict = { kind: 'conflict', a, b, isPlanned, connectionId: id };
        for (const use of [a, b]) addTo(found, use.id, verdict);
      }
    return found;
  },
});
