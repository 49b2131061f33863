import { addressBits, formatPrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { addOperation, byId, groupBy, newId, rangeOf, setOperation } from '../plan/index.js';
import type { Allocation, Cluster, Operation, Plan } from '../plan/index.js';
import type { Need } from '../sizing/index.js';
import { demandsOf } from './demand.js';
import type { SizeFor } from './demand.js';
import { PoolSpace } from './poolSpace.js';
import type { Demand, Placed } from './poolSpace.js';
import type { Proposal, ProposedRange, Refusal } from './proposal.js';
import { proposeGrowth } from './proposeGrowth.js';
import { refuse, refuseLocked, refuseTooLarge } from './refuse.js';
import { routeChanges } from './routes.js';
import { SubnetHomes } from './subnetHomes.js';
import type { Rerouted } from './routes.js';

/** What to propose ranges for. */
export interface ProposalRequest {
  /** Clusters whose missing ranges are wanted; all clusters when absent. */
  readonly clusterIds?: readonly string[];
  /** Ranges to move to a new place, instead of missing ones. */
  readonly move?: readonly string[];
  /** Ranges to grow where they are to their size at the horizon, instead of missing ones. */
  readonly grow?: readonly string[];
  /** Whether new subnets take their size at the horizon at once (the usual), or today's with room to grow beside. */
  readonly sizeFor?: SizeFor;
  /** Ranges of built clusters may move too: a rebuild is planned. Fixed ones still do not. */
  readonly isRebuild?: boolean;
}

interface Wanted {
  readonly cluster: Cluster;
  readonly need: Need;
  readonly demand: Demand;
  readonly largest?: number;
  /** The range that moves; undefined when it is new. */
  readonly moving: Allocation | undefined;
  /** Cluster, purpose, zone and family: what puts equal ones in one order. */
  readonly spot: string;
}

/**
 * Proposes a range for everything that is wanted and missing (or is to move): in a subnet that stands and has room for
 * all at their largest, then cut anew from a block or pool. Nothing that is allocated
 * moves unless it is asked for, fixed ranges and ranges of built clusters never do. Same plan, same
 * answer but for the ids of new ranges.
 */
export function propose(plan: Plan, request: ProposalRequest = {}): Proposal {
  if (request.grow !== undefined) return proposeGrowth(plan, request.grow);
  const moving = (request.move ?? []).flatMap((id) => byId(plan.allocations, id) ?? []);
  const { movable, locked } = splitByLock(plan, moving, request.isRebuild === true);
  const wanted =
    request.move === undefined ? missing(plan, request) : movable.flatMap((allocation) => toMove(plan, allocation));
  const leaving = new Set(movable.map((allocation) => allocation.id));
  const space = new PoolSpace(plan, leaving);
  const ranges: ProposedRange[] = [];
  const rerouted: Rerouted[] = [];
  const refusals: Refusal[] = [...locked];
  const operations: Operation[] = [];
  const give = (each: Wanted, prefix: Prefix, from: string, withWhom: readonly string[] = []) => {
    ranges.push(asRange(each, prefix, from, withWhom));
    const before = each.moving === undefined ? undefined : rangeOf(each.moving);
    if (!each.demand.isInternal) rerouted.push({ ...each.demand, before, after: prefix });
    operations.push(asOperation(each, prefix));
  };
  const unplaced: Wanted[] = [];
  const settle = (each: Wanted, placed: Placed | undefined) => {
    if (placed === undefined) unplaced.push(each);
    else give(each, placed.prefix, placed.source.name);
  };
  const homes = new SubnetHomes(plan, space, leaving);
  const homeless = [...wanted].sort(largestFirst).filter((each) => {
    const { cluster, need, moving } = each;
    const home = homes.place({ cluster, need }, moving === undefined ? undefined : rangeOf(moving));
    if (home !== undefined) give(each, home.prefix, `subnet ${home.subnet.name}`, home.withWhom);
    return home === undefined;
  });
  const possible = homeless.filter(({ largest }) => largest === undefined);
  for (const each of homeless)
    if (each.largest !== undefined) refusals.push(refuseTooLarge(plan, each.cluster, each.need, each.largest));
  for (const group of groupsToPlace(possible)) placeGroup(group, space, settle);
  // Told once all is placed, so that what is called free still is.
  for (const { cluster, need, demand } of unplaced) refusals.push(refuse(plan, cluster, need, demand, space));
  return { ranges: inClusterOrder(ranges), refusals, operations, routes: routeChanges(plan, rerouted) };
}

function missing(plan: Plan, { clusterIds, sizeFor }: ProposalRequest): Wanted[] {
  const chosen = clusterIds === undefined ? undefined : new Set(clusterIds);
  const held = new Set(plan.allocations.map((a) => spot(a.clusterId, a.purpose, a.zone, rangeOf(a).family)));
  const wanted: Wanted[] = [];
  for (const cluster of plan.clusters) {
    if (chosen?.has(cluster.id) === false) continue;
    for (const each of demandsOf(plan, cluster, sizeFor)) {
      const own = spot(cluster.id, each.need.purpose, each.need.zone, each.need.family);
      if (!held.has(own)) wanted.push({ cluster, ...each, moving: undefined, spot: own });
    }
  }
  return wanted;
}

function toMove(plan: Plan, allocation: Allocation): Wanted[] {
  const cluster = byId(plan.clusters, allocation.clusterId);
  if (cluster === undefined) return [];
  const family = rangeOf(allocation).family;
  const found = demandsOf(plan, cluster).find(
    ({ need }) => need.purpose === allocation.purpose && need.zone === allocation.zone && need.family === family,
  );
  const own = spot(cluster.id, allocation.purpose, allocation.zone, family);
  return found === undefined ? [] : [{ cluster, ...found, moving: allocation, spot: own }];
}

function splitByLock(
  plan: Plan,
  moving: readonly Allocation[],
  isRebuild: boolean,
): { movable: Allocation[]; locked: Refusal[] } {
  const movable: Allocation[] = [];
  const locked: Refusal[] = [];
  for (const allocation of moving) {
    const refusal = refuseLocked(plan, allocation, isRebuild);
    if (refusal === undefined) movable.push(allocation);
    else locked.push(refusal);
  }
  return { movable, locked };
}

/** Destinations first, since shared ranges must avoid them; within, the groups with the largest sum first. */
function groupsToPlace(wanted: readonly Wanted[]): Wanted[][] {
  const groups = groupBy(wanted, ({ demand }) => {
    const { siteId, networkId, purpose, family, isInternal, isSubnet, poolIds } = demand;
    // Ranges cut from a network's blocks are placed together by network.
    return `${isInternal ? 1 : 0} ${purpose} ${family} ${siteId} ${isSubnet ? networkId : ''} ${poolIds?.join() ?? ''}`;
  });
  for (const group of groups.values())
    group.sort((a, b) => a.demand.roomLength - b.demand.roomLength || (a.spot < b.spot ? -1 : 1));
  return [...groups.values()].sort((a, b) => {
    const [first, second] = [a[0] as Wanted, b[0] as Wanted];
    return (
      Number(first.demand.isInternal) - Number(second.demand.isInternal) ||
      summaryLength(a) - summaryLength(b) ||
      (first.spot < second.spot ? -1 : 1)
    );
  });
}

function placeGroup(
  group: readonly Wanted[],
  space: PoolSpace,
  settle: (each: Wanted, placed: Placed | undefined) => void,
): void {
  const first = group[0] as Wanted;
  // Beside what the site has already, each finds its nearest place by itself, gaps included.
  const isTogether = group.length > 1 && !first.demand.isInternal && !space.hasNeighbour(first.demand);
  const reserved = isTogether ? space.reserve({ ...first.demand, roomLength: summaryLength(group) }) : undefined;
  for (const each of group) settle(each, reserved?.place(each.demand) ?? space.place(each.demand));
  reserved?.release();
}

/** Length of the smallest prefix that could hold the whole group: sizes are powers of two, so the sum rounded up. */
function summaryLength(group: readonly Wanted[]): number {
  const { family } = (group[0] as Wanted).demand;
  const bits = addressBits(family);
  const sum = group.reduce((total, { demand }) => total + (1n << BigInt(bits - demand.roomLength)), 0n);
  return Math.max(0, bits - (sum - 1n).toString(2).length);
}

/** What needs most is given a place first; equal ones in one order. */
function largestFirst(a: Wanted, b: Wanted): number {
  return a.need.length.value - b.need.length.value || (a.spot < b.spot ? -1 : 1);
}

function asRange(
  { cluster, need, moving }: Wanted,
  prefix: Prefix,
  poolName: string,
  sharedWith: readonly string[],
): ProposedRange {
  return {
    clusterId: cluster.id,
    clusterName: cluster.name,
    purpose: need.purpose,
    zone: need.zone,
    family: need.family,
    before: moving?.prefix ?? '',
    after: formatPrefix(prefix),
    poolName,
    sharedWith,
  };
}

function asOperation({ cluster, need, moving }: Wanted, prefix: Prefix): Operation {
  const text = formatPrefix(prefix);
  if (moving !== undefined) return setOperation('allocations', moving.id, { prefix: text });
  return addOperation('allocations', {
    id: newId(),
    clusterId: cluster.id,
    purpose: need.purpose,
    zone: need.zone,
    prefix: text,
    isFixed: false,
  });
}

function spot(clusterId: string, purpose: string, zone: string, family: number): string {
  return `${clusterId} ${purpose} ${zone} ${family}`;
}

function inClusterOrder(ranges: readonly ProposedRange[]): ProposedRange[] {
  const keyed = ranges.map((range) => ({
    range,
    key: `${range.clusterName} ${range.purpose} ${range.zone} ${range.family}`,
  }));
  return keyed.sort((a, b) => (a.key < b.key ? -1 : 1)).map(({ range }) => range);
}
