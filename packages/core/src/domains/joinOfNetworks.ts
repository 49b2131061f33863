import { merge } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { byId, groupBy, rangeOf } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import type { Domains, Join } from './domains.js';

const known = new WeakMap<Plan, ReadonlyMap<string, readonly Prefix[]>>();

/** How one network reaches another at all: over a link they share, or for some range that is there and that a network between passes on. */
export function joinOfNetworks(plan: Plan, domains: Domains, from: string, to: string): Join | undefined {
  const direct = domains.join(from, to);
  if (direct !== undefined) return direct;
  for (const range of rangesByNetwork(plan).get(to) ?? []) {
    const join = domains.join(from, to, range);
    if (join !== undefined) return join;
  }
  return undefined;
}

/** What answers in each network: its blocks and subnets, ranges in use there, node ranges of its clusters; merged. */
function rangesByNetwork(plan: Plan): ReadonlyMap<string, readonly Prefix[]> {
  const found = known.get(plan);
  if (found !== undefined) return found;
  const nodeRanges = plan.allocations
    .filter(({ purpose }) => purpose === 'node')
    .map(({ clusterId, prefix }) => ({ networkId: byId(plan.clusters, clusterId)?.networkId ?? null, prefix }));
  const attached = [...plan.blocks, ...plan.subnets, ...plan.inUse, ...nodeRanges].filter(
    ({ networkId }) => networkId !== null,
  );
  const lists = groupBy(attached, ({ networkId }) => networkId ?? '');
  const merged = new Map([...lists].map(([id, list]) => [id, merge(list.map(rangeOf))]));
  known.set(plan, merged);
  return merged;
}
