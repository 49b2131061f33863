import type { Kind, Plan } from './entities.js';
import type { Operation } from './operations.js';

/** The change that removes an entity: a cluster takes its ranges along, a network leaves the hubs it is attached to. */
export function removalOf(plan: Plan, kind: Kind, id: string): Operation[] {
  const operations: Operation[] = [];
  if (kind === 'clusters') {
    for (const range of plan.allocations) {
      if (range.clusterId === id) operations.push({ op: 'remove', kind: 'allocations', id: range.id });
    }
  }
  if (kind === 'networks') {
    for (const link of plan.links) {
      if (!link.networkIds.includes(id)) continue;
      const rest = link.networkIds.filter((other) => other !== id);
      if (rest.length < 2) operations.push({ op: 'remove', kind: 'links', id: link.id });
      else operations.push({ op: 'set', kind: 'links', id: link.id, fields: { networkIds: rest } });
    }
  }
  operations.push({ op: 'remove', kind, id });
  return operations;
}
