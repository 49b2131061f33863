import { formatPrefix } from '../address/index.js';
import { byId, growsInPlace, rangeOf, setOperation } from '../plan/index.js';
import type { Allocation, Plan } from '../plan/index.js';
import { growthRooms, inTheWay } from './growthRoom.js';
import type { GrowthRoom } from './growthRoom.js';
import type { Proposal, ProposedRange, Refusal } from './proposal.js';
import { refuseLocked } from './refuse.js';
import { routeChanges } from './routes.js';

const NAMED = 5;

/** Grows ranges where they are to their size at the horizon; those that cannot grow say what is in the way. */
export function proposeGrowth(plan: Plan, ids: readonly string[]): Proposal {
  const refusals: Refusal[] = [];
  const growing: GrowthRoom[] = [];
  for (const allocation of ids.flatMap((id) => byId(plan.allocations, id) ?? [])) {
    const [room] = growthRooms(plan, [allocation]);
    const refusal =
      refuseLocked(plan, allocation, growsInPlace(allocation.purpose)) ?? refuseGrowth(plan, allocation, room);
    if (refusal === undefined && room !== undefined) growing.push(room);
    else if (refusal !== undefined) refusals.push(refusal);
  }
  const ranges = growing.map((room) => asRange(plan, room));
  return {
    ranges,
    refusals,
    operations: growing.map(({ allocation, grown }) =>
      setOperation('allocations', allocation.id, { prefix: formatPrefix(grown) }),
    ),
    routes: routeChanges(
      plan,
      growing.map(({ allocation, grown }) => ({
        siteId: byId(plan.clusters, allocation.clusterId)?.siteId ?? '',
        purpose: allocation.purpose,
        before: rangeOf(allocation),
        after: grown,
      })),
    ),
  };
}

function refuseGrowth(plan: Plan, allocation: Allocation, room: GrowthRoom | undefined): Refusal | undefined {
  const base = {
    clusterId: allocation.clusterId,
    clusterName: byId(plan.clusters, allocation.clusterId)?.name ?? '',
    purpose: allocation.purpose,
    zone: allocation.zone,
    length: room?.grown.length ?? rangeOf(allocation).length,
  };
  if (room === undefined)
    return {
      ...base,
      reason: `${allocation.prefix} is as large as the horizon needs, or stays inside its cluster.`,
      fix: 'Move it instead if it must change.',
    };
  const things = inTheWay(plan, room);
  if (things.length === 0) return undefined;
  const more = things.length > NAMED ? ` and ${things.length - NAMED} more` : '';
  return {
    ...base,
    reason: `${allocation.prefix} cannot grow to ${formatPrefix(room.grown)}: blocked by ${things.slice(0, NAMED).join(', ')}${more}.`,
    fix: 'Move the range to a larger place, or move what is in the way.',
  };
}

function asRange(plan: Plan, { allocation, grown }: GrowthRoom): ProposedRange {
  return {
    clusterId: allocation.clusterId,
    clusterName: byId(plan.clusters, allocation.clusterId)?.name ?? '',
    purpose: allocation.purpose,
    zone: allocation.zone,
    family: grown.family,
    before: allocation.prefix,
    after: formatPrefix(grown),
    poolName: 'grows in place',
    sharedWith: [],
  };
}
