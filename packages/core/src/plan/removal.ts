import { applyOperations } from './applyOperations.js';
import { setOperation } from './operations.js';
import type { Operation } from './operations.js';
import type { Entity, Kind, Plan } from './entities.js';

/**
 * The change that removes an entity with what is part of it: a cluster takes its ranges, address runs, node pools and rebuilds along, a network its blocks, subnets and
 * attachments, and leaves the hubs it is on; a link takes its attachments, a profile its machine shapes.
 */
export function removalOf(plan: Plan, kind: Kind, id: string): Operation[] {
  return [...parts(plan, kind, id), { op: 'remove', kind, id }];
}

/** The change that removes several entities of one kind, each with what is part of it. */
export function removalOfAll(plan: Plan, kind: Kind, ids: readonly string[]): Operation[] {
  const operations: Operation[] = [];
  let left = plan;
  for (const id of ids) {
    const next = removalOf(left, kind, id);
    operations.push(...next);
    const applied = applyOperations(left, next);
    // What cannot be removed is said when the whole change is tried.
    if (applied.ok) left = applied.plan;
  }
  return operations;
}

function parts(plan: Plan, kind: Kind, id: string): Operation[] {
  switch (kind) {
    case 'clusters':
      return [
        ...all('allocations', plan.allocations, ({ clusterId }) => clusterId === id),
        ...all('runs', plan.runs, ({ clusterId }) => clusterId === id),
        ...all('nodePools', plan.nodePools, ({ clusterId }) => clusterId === id),
        ...all('rebuilds', plan.rebuilds, ({ clusterId }) => clusterId === id),
      ];
    case 'profiles':
      return all('shapes', plan.shapes, ({ profileId }) => profileId === id);
    case 'links':
      return all('attachments', plan.attachments, ({ linkId }) => linkId === id);
    case 'networks':
      return networkParts(plan, id);
    case 'shapes':
    case 'sites':
    case 'blocks':
    case 'subnets':
    case 'attachments':
    case 'pools':
    case 'inUse':
    case 'templates':
    case 'nodePools':
    case 'allocations':
    case 'runs':
    case 'rebuilds':
      return [];
  }
}

function networkParts(plan: Plan, id: string): Operation[] {
  const smaller = plan.links.filter((link) => link.networkIds.includes(id));
  const ending = new Set(smaller.filter((link) => link.networkIds.length <= 2).map((link) => link.id));
  const isGone = (attachment: { linkId: string; networkId: string }) =>
    attachment.networkId === id || ending.has(attachment.linkId);
  return [
    ...all('attachments', plan.attachments, isGone),
    ...plan.attachments
      .filter((attachment) => !isGone(attachment) && attachment.learnsFromIds.includes(id))
      .map((attachment) =>
        setOperation('attachments', attachment.id, {
          learnsFromIds: attachment.learnsFromIds.filter((other) => other !== id),
        }),
      ),
    ...all('subnets', plan.subnets, ({ networkId }) => networkId === id),
    ...all('blocks', plan.blocks, ({ networkId }) => networkId === id),
    ...smaller.map((link): Operation =>
      ending.has(link.id)
        ? { op: 'remove', kind: 'links', id: link.id }
        : setOperation('links', link.id, { networkIds: link.networkIds.filter((other) => other !== id) }),
    ),
  ];
}

function all<E extends Entity>(kind: Kind, items: readonly E[], isPart: (item: E) => boolean): Operation[] {
  return items.filter(isPart).map((item): Operation => ({ op: 'remove', kind, id: item.id }));
}
