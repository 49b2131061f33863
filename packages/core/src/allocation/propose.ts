import { addressBits, formatPrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { addOperation, byId, groupBy, grouped, newId, rangeOf, setOperation, withFallbacks } from '../plan/index.js';
import type { Allocation, Cluster, Operation, Plan } from '../plan/index.js';
import { bitsFor, lengthInRow, overflowOf, reservedIn, rowOf, sizingOf, takenIn } from '../sizing/index.js';
import type { Need } from '../sizing/index.js';
import { figure } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { demandsOf } from './demand.js';
import type { ClusterDemand, SizeFor } from './demand.js';
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
  /** Subnets of a need that is larger than them, beside which a further one is wanted for the rest, instead of missing ones. */
  readonly further?: readonly string[];
  /** Whether new subnets take their size at the horizon at once (the usual), or today's with room to grow beside. */
  readonly sizeFor?: SizeFor;
  /** Ranges of built clusters may move too: a rebuild is planned. Pinned ones still do not. */
  readonly isRebuild?: boolean;
}

interface Wanted {
  readonly cluster: Cluster;
  readonly need: Need;
  readonly demand: Demand;
  readonly largest?: number;
  /** The range that moves; undefined when it is new. */
  readonly moving: Allocation | undefined;
  /** Which of the subnets of its zone it is. */
  readonly turn: number;
  /** IPv4 addresses that it has to hold. */
  readonly addresses: number;
  /** Cluster, purpose, zone and family: what puts equal ones in one order. */
  readonly spot: string;
}

/**
 * Proposes a range for everything that is wanted and missing (or is to move): in a subnet that stands and has room for
 * all at their largest, then cut anew from a block or pool. Nothing that is allocated
 * moves unless it is asked for, pinned ranges and ranges of built clusters never do. Same plan, same
 * answer but for the ids of new ranges.
 */
export function propose(plan: Plan, request: ProposalRequest = {}): Proposal {
  if (request.grow !== undefined) return proposeGrowth(plan, request.grow);
  const moving = (request.move ?? []).flatMap((id) => byId(plan.allocations, id) ?? []);
  const { movable, locked } = splitByLock(plan, moving, request.isRebuild === true);
  const wanted =
    request.further !== undefined
      ? request.further.flatMap((id) => toAdd(plan, id))
      : request.move === undefined
        ? missing(plan, request)
        : movable.flatMap((allocation) => toMove(plan, allocation));
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
    const home = homes.place(each, each.moving);
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
  const held = new Set(plan.allocations.map(spotOf));
  const wanted: Wanted[] = [];
  for (const cluster of plan.clusters) {
    if (chosen?.has(cluster.id) === false) continue;
    for (const each of demandsOf(plan, cluster, sizeFor)) {
      const own = spot(cluster.id, each.need.purpose, each.need.zone, each.need.family);
      if (!held.has(own)) wanted.push({ cluster, ...each, moving: undefined, turn: 1, spot: own });
    }
  }
  return wanted;
}

function toMove(plan: Plan, allocation: Allocation): Wanted[] {
  const found = demandFor(plan, allocation);
  if (found === undefined) return [];
  const { each, placement } = found;
  const length = lengthInRow(placement, each.need);
  const own = spotOf(allocation);
  return [{ ...resized(each, length, takenIn(placement)), moving: allocation, turn: allocation.turn, spot: own }];
}

/** A further subnet for what a row of them has no place for; none where they hold all. */
function toAdd(plan: Plan, id: string): Wanted[] {
  const allocation = byId(plan.allocations, id);
  const found = allocation === undefined ? undefined : demandFor(plan, allocation);
  if (allocation === undefined || found === undefined || !found.each.demand.isSubnet) return [];
  const { each, placement } = found;
  const { sizing, row } = placement;
  const over = overflowOf(sizing, row);
  if (over === 0) return [];
  const length = Math.min(sizing.profile.smallestSubnet, 32 - bitsFor(over + reservedIn(sizing.profile)));
  const turn = 1 + Math.max(...row.map((one) => one.turn));
  return [{ ...resized(each, length, over), moving: undefined, turn, spot: `${spotOf(allocation)} ${turn}` }];
}

/** What an allocated range is for, as it is asked of the pools, and the row of subnets that it is in. */
function demandFor(plan: Plan, allocation: Allocation) {
  const cluster = byId(plan.clusters, allocation.clusterId);
  if (cluster === undefined) return undefined;
  const { family } = rangeOf(allocation);
  const found = demandsOf(plan, cluster).find(
    ({ need }) => need.purpose === allocation.purpose && need.zone === allocation.zone && need.family === family,
  );
  if (found === undefined) return undefined;
  const row = rowOf(grouped(plan.allocations, 'clusterId').get(cluster.id) ?? [], allocation);
  return { each: { cluster, ...found }, placement: { sizing: sizingOf(plan, cluster), range: allocation, row } };
}

/** The same demand for a range of another length. */
function resized<D extends ClusterDemand>({ largest, ...each }: D, length: number, addresses: number) {
  const isTooLarge = largest !== undefined && length < largest;
  return {
    ...each,
    ...(isTooLarge ? { largest } : {}),
    addresses,
    need: { ...each.need, length: length === each.need.length.value ? each.need.length : givenLength(length) },
    demand: { ...each.demand, length, roomLength: length },
  };
}

function givenLength(length: number): Figure {
  return figure(length, 'bits', () => ({
    title: 'Length of one of several subnets',
    formula: '32 − ⌈log2(what those before it leave over + reserved)⌉',
    inputs: [],
    steps: [],
    result: `/${length}`,
    source: { mark: 'C', text: 'Common practice' },
  }));
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

function asOperation({ cluster, need, moving, turn }: Wanted, prefix: Prefix): Operation {
  const text = formatPrefix(prefix);
  if (moving !== undefined) return setOperation('allocations', moving.id, { prefix: text });
  const { purpose, zone } = need;
  const added = { id: newId(), clusterId: cluster.id, purpose, zone, prefix: text, turn };
  return addOperation('allocations', withFallbacks('allocations', added));
}

function spotOf({ clusterId, purpose, zone, ...range }: Allocation): string {
  return spot(clusterId, purpose, zone, rangeOf(range).family);
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
