import { comparePrefixes, contains, formatPrefix, overlaps, prefixAround, PrefixIndex } from '../address/index.js';
import type { Family, Prefix } from '../address/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Allocation, Plan, Purpose, Subnet } from '../plan/index.js';
import { subnetKey } from '../sizing/index.js';
import { advertisedIn, useOfAllocation, useOfInUse, useOfSubnet, usesOfMembers } from '../verdicts/index.js';
import type { Use } from '../verdicts/index.js';
import { FreeSpace } from './freeSpace.js';
import { growthRooms } from './growthRoom.js';
import type { GrowthRoom } from './growthRoom.js';
import { isOpenTo, sourcesOf } from './source.js';
import type { Source } from './source.js';

/** What one range asks of the pools. */
export interface Demand {
  readonly clusterId: string;
  readonly siteId: string;
  readonly networkId: string;
  readonly purpose: Purpose;
  readonly family: Family;
  readonly length: number;
  /** Length of the block to set aside, with room to grow; the same as the length when none is wanted. */
  readonly roomLength: number;
  /** Whether it stays inside its cluster, so that a shared pool may give it out again. */
  readonly isInternal: boolean;
  /** Whether it is a subnet of its network, cut from the network's blocks where it has any. */
  readonly isSubnet: boolean;
  /** The pools it may be taken from, where one of them gives ranges of its purpose; any when absent. */
  readonly poolIds?: readonly string[];
}

/** A range found for a demand. */
export interface Placed {
  readonly prefix: Prefix;
  readonly source: Source;
}

/** A new range is placed beside one of the last few of its site and purpose: more of them cost time and save few routes. */
const NEIGHBOURS = 8;

/** Somewhere to place the ranges of a group together, and how to give the rest back. */
interface Reserved {
  readonly place: (demand: Demand) => Placed | undefined;
  readonly release: () => void;
}

/** What every space over one plan starts from; nothing in it changes while ranges are placed. */
interface Ground {
  readonly sources: readonly Source[];
  readonly overlapping: ReadonlyMap<Source, readonly Source[]>;
  readonly uses: readonly Use[];
  readonly index: Readonly<Record<Family, PrefixIndex>>;
  readonly rooms: readonly GrowthRoom[];
  readonly advertised: readonly Use[];
  /** Pools as a network that advertises a part of them itself may use them, by pool and network. */
  readonly homes: ReadonlyMap<string, Source>;
}

// Several spaces are asked of one plan in a row: a proposal, what more would fit, each mode of a pod network.
const grounds = new WeakMap<Plan, Ground>();

function groundOf(plan: Plan): Ground {
  const known = grounds.get(plan);
  if (known !== undefined) return known;
  const sources = sourcesOf(plan);
  const advertised = advertisedIn(plan);
  const homes = new Map<string, Source>();
  for (const source of sources) {
    if (source.pool === undefined) continue;
    for (const { networkId, prefix } of advertised)
      if (networkId !== null && overlaps(prefix, source.whole))
        homes.set(homeKey(source, networkId), { ...source, homeId: networkId });
  }
  const all = [...sources, ...homes.values()];
  const uses = [
    ...plan.allocations.flatMap((allocation) => {
      const cluster = byId(plan.clusters, allocation.clusterId);
      return cluster === undefined ? [] : [useOfAllocation(allocation, cluster)];
    }),
    ...plan.inUse.map(useOfInUse),
    ...plan.subnets.map(useOfSubnet),
    ...usesOfMembers(plan),
  ];
  const index = (family: Family) => {
    const slots = uses.flatMap((use, slot) => (use.prefix.family === family ? [slot] : []));
    return new PrefixIndex(
      family,
      slots.map((slot) => (uses[slot] as Use).prefix),
      (i) => slots[i] as number,
    );
  };
  const ground: Ground = {
    sources,
    overlapping: new Map(
      all.map((one) => [one, all.filter((other) => other !== one && overlaps(one.whole, other.whole))]),
    ),
    uses,
    index: { 4: index(4), 6: index(6) },
    rooms: growthRooms(plan),
    advertised,
    homes,
  };
  grounds.set(plan, ground);
  return ground;
}

/**
 * The pools and blocks of a plan and what is free in them while a proposal grows. Ranges that are destinations, and
 * all ranges from pools that are not shared, are kept distinct in the whole plan, so that a later join
 * finds no conflict; shared pools give cluster-internal ranges that avoid every destination. What a network advertises is
 * a destination too and left to its own clusters; a pool that lies in a wider summary of another is used last. Room that
 * ranges want to grow into is left alone as long as there is other space.
 */
export class PoolSpace {
  private readonly sources: readonly Source[];
  private readonly overlappingSources: ReadonlyMap<Source, readonly Source[]>;
  private readonly index: Readonly<Record<Family, PrefixIndex>>;
  private readonly uses: readonly Use[];
  private readonly rooms: readonly Prefix[];
  private readonly advertised: readonly Use[];
  private readonly homes: ReadonlyMap<string, Source>;
  private readonly distinct = new Map<Source, FreeSpace>();
  private readonly shared = new Map<Source, FreeSpace>();
  private readonly heldBack = new Map<Source, Prefix[]>();
  private readonly ownRanges = new Map<string, Prefix[]>();
  private readonly lastAt = new Map<string, Prefix[]>();
  private readonly sourceLists = new Map<string, readonly Source[]>();
  /** Given out by this proposal so far: pools may overlap, and each must see what another gave. */
  private readonly givenDistinct: Prefix[] = [];
  private readonly givenShared: Prefix[] = [];
  private areRoomsOpen = false;

  /** Ranges whose allocation ids are in `leaving` count as free. */
  constructor(
    plan: Plan,
    private readonly leaving: ReadonlySet<string> = new Set(),
  ) {
    const { sources, overlapping, uses, index, rooms, advertised, homes } = groundOf(plan);
    this.advertised = advertised;
    this.homes = homes;
    this.sources = sources;
    this.overlappingSources = overlapping;
    this.uses = uses;
    this.index = index;
    this.rooms = rooms.filter(({ allocation }) => !leaving.has(allocation.id)).flatMap(({ room }) => room);
    for (const allocation of plan.allocations) if (!leaving.has(allocation.id)) this.noteAllocated(plan, allocation);
  }

  /**
   * The sources a demand may use. A subnet of a network that has blocks comes from those; else pools, those of its site
   * first, then shared ones for internal ranges (and others for the rest), then by name.
   */
  sourcesFor(demand: Demand): readonly Source[] {
    const { isSubnet, networkId, purpose, family, siteId, isInternal } = demand;
    const key = `${isSubnet} ${networkId} ${purpose} ${family} ${siteId} ${isInternal} ${demand.poolIds?.join() ?? ''}`;
    let list = this.sourceLists.get(key);
    if (list === undefined) {
      list = this.findSources(demand);
      this.sourceLists.set(key, list);
    }
    return list;
  }

  /** Takes a range for the demand from the first source that has room, near what its site already has there. */
  place(demand: Demand): Placed | undefined {
    for (const source of this.sourcesFor(demand)) {
      const prefix = this.placeIn(source, demand);
      if (prefix !== undefined) return { prefix, source };
    }
    return this.openRooms() ? this.place(demand) : undefined;
  }

  /**
   * Sets aside one block for all the distinct ranges of a site and purpose, so that one summary prefix
   * covers them; returns how to place inside it and how to give the rest back. Undefined when no source
   * has a block that large.
   */
  reserve(demand: Demand): Reserved | undefined {
    for (const source of this.sourcesFor(demand)) {
      const block = this.takeNear(source, demand);
      if (block === undefined) continue;
      this.hideFromOthers(block, source);
      const inside = FreeSpace.within(block);
      return {
        place: (each) => {
          const room = inside.take(each.roomLength);
          return room === undefined ? undefined : { prefix: this.note(room, source, each), source };
        },
        release: () => {
          this.space(source).giveBack(inside.free);
        },
      };
    }
    return undefined;
  }

  /** Whether the site has ranges of the purpose already in the source that a demand is offered first. */
  hasNeighbour(demand: Demand): boolean {
    const [first] = this.sourcesFor(demand);
    return first !== undefined && this.lastAt.has(placeKey(first, demand));
  }

  /** The largest free block among the sources a demand may use, room to grow included, with its source. */
  largestFor(demand: Demand): Placed | undefined {
    this.openRooms();
    let best: Placed | undefined;
    for (const source of this.sourcesFor(demand)) {
      const block = this.largestIn(source, demand);
      if (block !== undefined && (best === undefined || block.length < best.prefix.length))
        best = { prefix: block, source };
    }
    return best;
  }

  /**
   * Whether nothing is in the addresses of a subnet, in any network, but those who live in all of it: what stands there
   * already, or is advertised from elsewhere, would meet whoever comes to live there.
   */
  isClear(subnet: Subnet): boolean {
    const prefix = rangeOf(subnet);
    const key = subnetKey(subnet, subnet.zone);
    if (
      this.advertised.some(
        (use) => use.networkId !== subnet.networkId && overlaps(use.prefix, prefix) && !isAround(use.prefix, prefix),
      )
    )
      return false;
    // Who lives in the block of another network would be met by a later join.
    if (
      this.sources.some(
        ({ networkId, whole }) => networkId !== undefined && networkId !== subnet.networkId && overlaps(whole, prefix),
      )
    )
      return false;
    let isClear = true;
    this.index[prefix.family].forEachOverlapping(prefix, (slot) => {
      const use = this.uses[slot] as Use;
      const isLiving = use.subnetAt === key && comparePrefixes(use.prefix, prefix) === 0;
      if (use.id !== subnet.id && !isLiving && !this.leaving.has(use.id)) isClear = false;
    });
    return isClear;
  }

  /** "10.0.0.0/25 (subnet a)": what holds the sources that a demand may use, the largest first. */
  holdersFor(demand: Demand): readonly string[] {
    const held = new Map<string, Use>();
    for (const { whole } of this.sourcesFor(demand))
      this.index[whole.family].forEachOverlapping(whole, (slot) => {
        const use = this.uses[slot] as Use;
        if (!this.leaving.has(use.id)) held.set(use.id, use);
      });
    return [...held.values()]
      .sort((a, b) => a.prefix.length - b.prefix.length || comparePrefixes(a.prefix, b.prefix))
      .map(({ prefix, label }) => `${formatPrefix(prefix)} (${label})`);
  }

  private noteAllocated(plan: Plan, allocation: Allocation): void {
    const range = rangeOf(allocation);
    this.own(allocation.clusterId).push(range);
    const siteId = byId(plan.clusters, allocation.clusterId)?.siteId ?? '';
    // A block lies in a pool as a rule, and either may be asked.
    for (const source of this.sources)
      if (contains(source.whole, range))
        this.remember(placeKey(source, { siteId, purpose: allocation.purpose }), range);
  }

  private findSources({ isSubnet, networkId, purpose, family, siteId, isInternal, poolIds }: Demand): Source[] {
    const own = isSubnet
      ? this.sources.filter((source) => source.networkId === networkId && source.whole.family === family)
      : [];
    if (own.length > 0) return own.sort((a, b) => comparePrefixes(a.whole, b.whole));
    const rank = (source: Source) =>
      (this.isInSummary(source, networkId) ? 4 : 0) +
      (source.pool?.siteId === null ? 2 : 0) +
      (isInternal === source.isShared ? 0 : 1);
    const open = this.sources.filter(
      ({ pool, whole }) => pool !== undefined && whole.family === family && isOpenTo(pool, purpose, siteId),
    );
    const chosen = open.filter(({ id }) => poolIds?.includes(id) === true);
    const list = (chosen.length > 0 ? chosen : open).sort((a, b) => rank(a) - rank(b) || (a.name < b.name ? -1 : 1));
    return isInternal ? list : list.map((source) => this.homes.get(homeKey(source, networkId)) ?? source);
  }

  /** "10.150.0.0/16 (prefix advertised by onprem)": what networks advertise of the sources a demand may use, and it may not. */
  advertisedFor(demand: Demand): readonly string[] {
    const kept = new Set<string>();
    for (const source of this.sourcesFor(demand))
      for (const { prefix, label } of this.advertisedIn(source, demand.isInternal))
        kept.add(`${formatPrefix(prefix)} (${label})`);
    return [...kept];
  }

  /** Whether every cluster-internal range of a source would hide a wider prefix that is advertised. */
  private isHiding({ whole }: Source, { isInternal }: Demand): boolean {
    return isInternal && this.advertised.some(({ prefix }) => isAround(prefix, whole));
  }

  /** Whether a pool lies in a wider prefix that another network advertises. */
  private isInSummary({ whole }: Source, networkId: string): boolean {
    return this.advertised.some((use) => use.networkId !== networkId && isAround(use.prefix, whole));
  }

  /**
   * What networks advertise of a source: all of it where ranges stay inside their clusters and would hide it, else what
   * others advertise but for a summary around the whole source, which says nothing about who uses it.
   */
  private advertisedIn({ whole, homeId }: Source, isInternal: boolean): readonly Use[] {
    return this.advertised.filter(
      ({ prefix, networkId }) =>
        overlaps(prefix, whole) && (isInternal || (networkId !== homeId && !isAround(prefix, whole))),
    );
  }

  private placeIn(source: Source, demand: Demand): Prefix | undefined {
    if (this.isHiding(source, demand)) return undefined;
    if (source.isShared && demand.isInternal) {
      const prefix = this.sharedSpace(source).fit(demand.length, this.own(demand.clusterId));
      return prefix === undefined ? undefined : this.note(prefix, source, demand);
    }
    const room = this.takeNear(source, demand);
    return room === undefined ? undefined : this.note(room, source, demand);
  }

  /** Beside what the site has for the purpose already, else apart from what others have. */
  private takeNear(source: Source, demand: Demand): Prefix | undefined {
    const near = this.lastAt.get(placeKey(source, demand));
    const space = this.space(source);
    return near === undefined ? space.takeApart(demand.roomLength) : space.take(demand.roomLength, near);
  }

  private remember(key: string, range: Prefix): void {
    const known = this.lastAt.get(key);
    if (known === undefined) this.lastAt.set(key, [range]);
    else if (known.push(range) > NEIGHBOURS) known.shift();
  }

  private largestIn(source: Source, demand: Demand): Prefix | undefined {
    if (this.isHiding(source, demand)) return undefined;
    if (!(source.isShared && demand.isInternal)) return this.space(source).largest();
    for (let length = source.whole.length; length <= demand.length; length++) {
      const found = this.sharedSpace(source).fit(length, this.own(demand.clusterId));
      if (found !== undefined) return found;
    }
    return undefined;
  }

  /** Remembers what a demand got: its range at the start of the room that was set aside. */
  private note(room: Prefix, source: Source, demand: Demand): Prefix {
    const prefix = room.length === demand.length ? room : prefixAround(room, demand.length);
    this.own(demand.clusterId).push(prefix);
    this.remember(placeKey(source, demand), room);
    if (source.isShared && demand.isInternal) {
      // It may be given again to another cluster, but never as a destination.
      this.givenShared.push(prefix);
      for (const other of [source, ...this.overlapping(source)]) this.distinct.get(other)?.exclude(prefix);
    } else {
      this.givenDistinct.push(room);
      this.hideFromOthers(room, source);
    }
    return prefix;
  }

  /** Takes a prefix out of every free space but that of the source it was taken from. */
  private hideFromOthers(prefix: Prefix, from: Source): void {
    this.shared.get(from)?.exclude(prefix);
    for (const other of this.overlapping(from)) {
      this.shared.get(other)?.exclude(prefix);
      this.distinct.get(other)?.exclude(prefix);
    }
  }

  private overlapping(source: Source): readonly Source[] {
    return this.overlappingSources.get(source) ?? [];
  }

  private own(clusterId: string): Prefix[] {
    const known = this.ownRanges.get(clusterId);
    if (known !== undefined) return known;
    const fresh: Prefix[] = [];
    this.ownRanges.set(clusterId, fresh);
    return fresh;
  }

  private sharedSpace(source: Source): FreeSpace {
    let space = this.shared.get(source);
    if (space === undefined) {
      space = FreeSpace.within(source.whole, [
        ...this.within(source, (use) => !use.isInternal),
        ...this.advertisedIn(source, true).map(({ prefix }) => prefix),
        ...this.blocksIn(source),
        ...this.givenDistinct,
      ]);
      this.shared.set(source, space);
    }
    return space;
  }

  private space(source: Source): FreeSpace {
    let space = this.distinct.get(source);
    if (space === undefined) {
      space = FreeSpace.within(source.whole, [
        ...this.within(source, () => true),
        ...this.advertisedIn(source, false).map(({ prefix }) => prefix),
        ...this.blocksIn(source),
        ...this.givenDistinct,
        ...this.givenShared,
      ]);
      const held: Prefix[] = [];
      if (!this.areRoomsOpen) for (const room of this.rooms) held.push(...excluded(space, source, room));
      this.heldBack.set(source, held);
      this.distinct.set(source, space);
    }
    return space;
  }

  /** Blocks belong to their networks' subnets, so neither a pool nor another network gives anything from them. */
  private blocksIn(source: Source): Prefix[] {
    return this.overlapping(source).flatMap(({ networkId, whole }) =>
      networkId === undefined || networkId === source.networkId ? [] : [whole],
    );
  }

  /** Gives free the room that ranges want to grow into, once nothing else is left; false when it is open already. */
  private openRooms(): boolean {
    if (this.areRoomsOpen || this.rooms.length === 0) return false;
    this.areRoomsOpen = true;
    for (const [source, held] of this.heldBack) {
      const space = this.space(source);
      space.giveBack(held);
      // Another source may have given away a part meanwhile.
      for (const given of [...this.givenDistinct, ...this.givenShared]) if (held.length > 0) space.exclude(given);
    }
    this.heldBack.clear();
    return true;
  }

  private within(source: Source, keep: (use: Use) => boolean): Prefix[] {
    const found: Prefix[] = [];
    this.index[source.whole.family].forEachOverlapping(source.whole, (slot) => {
      const use = this.uses[slot] as Use;
      if (keep(use) && !this.leaving.has(use.id)) found.push(use.prefix);
    });
    return found;
  }
}

function excluded(space: FreeSpace, source: Source, room: Prefix): Prefix[] {
  return room.family === source.whole.family && overlaps(source.whole, room) ? space.exclude(room) : [];
}

function isAround(outer: Prefix, inner: Prefix): boolean {
  return outer.length < inner.length && contains(outer, inner);
}

function homeKey({ id }: Source, networkId: string): string {
  return `${id} ${networkId}`;
}

function placeKey(source: Source, { siteId, purpose }: Pick<Demand, 'siteId' | 'purpose'>): string {
  return `${source.id} ${siteId} ${purpose}`;
}

/** "10.0.0.0/8 in Backbone", as refusals name a place. */
export function formatPlaced({ prefix, source }: Placed): string {
  return `${formatPrefix(prefix)} in ${source.name}`;
}
