import { addressBits, formatPrefix, parseAddress, parsePrefix, prefixAround } from '@wide-lattice/core/address';
import { poolGrowth, propose } from '@wide-lattice/core/allocation';
import { byId, kindRules } from '@wide-lattice/core/plan';
import type { PoolGrowth, ProposalRequest } from '@wide-lattice/core/allocation';
import type { Entity, Operation, Plan } from '@wide-lattice/core/plan';
import type { Steps } from '@wide-lattice/core/working';
import type { SliceHost } from '../sliceHost';
import { poolRows } from './pools';
import { rangeRows } from './ranges';
import { ribbonView } from './ribbon';
import type { RibbonView } from './ribbon';
import { utilisationRows } from './utilisation';

/** Pools, ranges, address space to scale, and proposals. */
export const rangeSlices = {
  pools: ({ evaluation }: SliceHost) => poolRows(evaluation),
  /** How the need for a pool grows; undefined when it is not in the plan. */
  *poolGrowth({ plan }: SliceHost, poolId: string): Steps<PoolGrowth | undefined> {
    const pool = byId(plan.pools, poolId);
    return pool === undefined ? undefined : yield* poolGrowth(plan, pool);
  },
  ranges: ({ evaluation }: SliceHost) => rangeRows(evaluation),
  /** How full ranges are by site and purpose. */
  utilisation: ({ plan }: SliceHost) => utilisationRows(plan),
  /** A stretch of address space to scale, with a draft of changes that nobody has made yet. */
  ribbon: (host: SliceHost, prefix: string, operations: readonly Operation[]): RibbonView | undefined => {
    const draft = host.draft(operations);
    return ribbonView(draft.ok ? draft.evaluation : host.evaluation, prefix);
  },
  /** The same stretch in two states of the plan; the present one where none is given. */
  ribbons: (host: SliceHost, prefix: string, before: Plan | undefined, after: Plan | undefined) =>
    [before, after].map((plan) => ribbonView(host.at(plan), prefix)),
  placeOf,
  propose: ({ plan }: SliceHost, request: ProposalRequest) => propose(plan, request),
};

/** The prefix that a search on the ribbon goes to: the one typed, or the first range, pool or subnet of that name. */
function placeOf({ plan, lookup }: SliceHost, query: string): string | undefined {
  const address = parseAddress(query);
  if (address.ok) return formatPrefix(prefixAround(address.value, addressBits(address.value.family)));
  const prefix = parsePrefix(query);
  if (prefix.ok) return formatPrefix(prefix.value);
  const [hit] = lookup.find(query).hits;
  const entity = hit === undefined ? undefined : byId<Entity>(plan[hit.kind], hit.id);
  if (hit === undefined || entity === undefined) return undefined;
  const [held] = kindRules(hit.kind).holds?.prefixes(entity) ?? [];
  if (held !== undefined) return formatPrefix(held);
  // A cluster is where its first range is, a network where its first block is.
  const range = plan.allocations.find(({ clusterId }) => clusterId === hit.id);
  return (range ?? plan.blocks.find(({ networkId }) => networkId === hit.id))?.prefix;
}
