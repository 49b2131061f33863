import { contains, formatPrefix, PrefixIndex } from '../address/index.js';
import type { Family, Prefix } from '../address/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Plan, Pool, Purpose } from '../plan/index.js';
import { useOfAllocation, useOfInUse } from '../verdicts/index.js';
import type { Use } from '../verdicts/index.js';
import { FreeSpace } from './freeSpace.js';

/** What one range asks of the pools. */
export interface Demand {
  readonly clusterId: string;
  readonly siteId: string;
  readonly purpose: Purpose;
  readonly family: Family;
  readonly length: number;
  /** Whether it stays inside its cluster, so that a shared pool may give it out again. */
  readonly isInternal: boolean;
}

/** A range found for a demand. */
export interface Placed {
  readonly prefix: Prefix;
  readonly pool: Pool;
}

/**
 * The pools of a plan and what is free in them while a proposal grows. Ranges that are destinations, and
 * all ranges from pools that are not shared, are kept distinct in the whole plan, so that a later join
 * finds no conflict; shared pools give cluster-internal ranges that avoid every destination.
 */
export class PoolSpace {
  private readonly pools: readonly Pool[];
  private readonly index: Record<Family, PrefixIndex>;
  private readonly uses: Use[];
  private readonly distinct = new Map<Pool, FreeSpace>();
  private readonly shared = new Map<Pool, FreeSpace>();
  private readonly ownRanges = new Map<string, Prefix[]>();
  private readonly lastAt = new Map<string, Prefix>();
  /** Given out by this proposal so far: pools may overlap, and each must see what another gave. */
  private readonly givenDistinct: Prefix[] = [];
  private readonly givenShared: Prefix[] = [];

  /** Ranges whose allocation ids are in `leaving` count as free. */
  constructor(plan: Plan, leaving: ReadonlySet<string> = new Set()) {
    this.pools = plan.pools;
    const allocated = plan.allocations.filter((allocation) => !leaving.has(allocation.id));
    this.uses = [
      ...allocated.flatMap((allocation) => {
        const cluster = byId(plan.clusters, allocation.clusterId);
        return cluster === undefined ? [] : [useOfAllocation(allocation, cluster)];
      }),
      ...plan.inUse.map(useOfInUse),
    ];
    const index = (family: Family) => {
      const slots = this.uses.flatMap((use, slot) => (use.prefix.family === family ? [slot] : []));
      return new PrefixIndex(
        family,
        slots.map((slot) => (this.uses[slot] as Use).prefix),
        (i) => slots[i] as number,
      );
    };
    this.index = { 4: index(4), 6: index(6) };
    for (const allocation of allocated) {
      this.own(allocation.clusterId).push(rangeOf(allocation));
      const site = byId(plan.clusters, allocation.clusterId)?.siteId ?? '';
      const range = rangeOf(allocation);
      const pool = this.pools.find((each) => contains(rangeOf(each), range));
      if (pool !== undefined) this.lastAt.set(placeKey(pool, site, allocation.purpose), range);
    }
  }

  /** The pools a demand may use, those of its site first, then shared ones for internal ranges (and others for the rest), then by name. */
  poolsFor(demand: Omit<Demand, 'length' | 'clusterId'>): Pool[] {
    const rank = (pool: Pool) => (pool.siteId === null ? 2 : 0) + (demand.isInternal === pool.isShared ? 0 : 1);
    return this.pools
      .filter(
        (pool) =>
          pool.purposes.includes(demand.purpose) &&
          rangeOf(pool).family === demand.family &&
          (pool.siteId === null || pool.siteId === demand.siteId),
      )
      .sort((a, b) => rank(a) - rank(b) || (a.name < b.name ? -1 : 1));
  }

  /** Takes a range for the demand from the first pool that has room, near what its site already has there. */
  place(demand: Demand): Placed | undefined {
    for (const pool of this.poolsFor(demand)) {
      const prefix = this.placeIn(pool, demand);
      if (prefix !== undefined) return { prefix, pool };
    }
    return undefined;
  }

  /**
   * Sets aside one block for all the distinct ranges of a site and purpose, so that one summary prefix
   * covers them; returns how to place inside it and how to give the rest back. Undefined when no pool
   * has a block that large.
   */
  reserve(demand: Demand): { place: (d: Demand) => Placed | undefined; release: () => void } | undefined {
    for (const pool of this.poolsFor(demand)) {
      const near = this.lastAt.get(placeKey(pool, demand.siteId, demand.purpose));
      const block = this.space(pool).take(demand.length, near);
      if (block === undefined) continue;
      this.hideFromOthers(block, pool);
      const inside = FreeSpace.within(block);
      return {
        place: (each) => {
          const prefix = inside.take(each.length);
          if (prefix !== undefined) this.note(prefix, pool, each);
          return prefix === undefined ? undefined : { prefix, pool };
        },
        release: () => this.space(pool).giveBack(inside.free),
      };
    }
    return undefined;
  }

  /** The largest free block among the pools a demand may use, with its pool. */
  largestFor(demand: Demand): Placed | undefined {
    let best: Placed | undefined;
    for (const pool of this.poolsFor(demand)) {
      const block = this.spaceFor(pool, demand).largest();
      if (block !== undefined && (best === undefined || block.length < best.prefix.length))
        best = { prefix: block, pool };
    }
    return best;
  }

  private placeIn(pool: Pool, demand: Demand): Prefix | undefined {
    const isRepeatable = pool.isShared && demand.isInternal;
    const near = isRepeatable ? undefined : this.lastAt.get(placeKey(pool, demand.siteId, demand.purpose));
    const prefix = this.spaceFor(pool, demand).take(demand.length, near);
    if (prefix !== undefined) this.note(prefix, pool, demand);
    return prefix;
  }

  private note(prefix: Prefix, pool: Pool, demand: Demand): void {
    this.own(demand.clusterId).push(prefix);
    this.lastAt.set(placeKey(pool, demand.siteId, demand.purpose), prefix);
    if (pool.isShared && demand.isInternal) {
      // It may be given again to another cluster, but never as a destination.
      this.givenShared.push(prefix);
      for (const space of this.distinct.values()) space.exclude(prefix);
    } else {
      this.givenDistinct.push(prefix);
      this.hideFromOthers(prefix, pool);
    }
  }

  /** Takes a prefix out of every free space but that of the pool it was taken from. */
  private hideFromOthers(prefix: Prefix, from: Pool): void {
    for (const space of this.shared.values()) space.exclude(prefix);
    for (const [pool, space] of this.distinct) if (pool !== from) space.exclude(prefix);
  }

  private own(clusterId: string): Prefix[] {
    const known = this.ownRanges.get(clusterId);
    if (known !== undefined) return known;
    const fresh: Prefix[] = [];
    this.ownRanges.set(clusterId, fresh);
    return fresh;
  }

  private spaceFor(pool: Pool, demand: Demand): FreeSpace {
    if (!(pool.isShared && demand.isInternal)) return this.space(pool);
    let space = this.shared.get(pool);
    if (space === undefined) {
      space = FreeSpace.within(rangeOf(pool), [
        ...this.overlapping(pool, (use) => !use.isInternal),
        ...this.givenDistinct,
      ]);
      this.shared.set(pool, space);
    }
    return space.without(this.own(demand.clusterId));
  }

  private space(pool: Pool): FreeSpace {
    let space = this.distinct.get(pool);
    if (space === undefined) {
      space = FreeSpace.within(rangeOf(pool), [
        ...this.overlapping(pool, () => true),
        ...this.givenDistinct,
        ...this.givenShared,
      ]);
      this.distinct.set(pool, space);
    }
    return space;
  }

  private overlapping(pool: Pool, keep: (use: Use) => boolean): Prefix[] {
    const found: Prefix[] = [];
    this.index[rangeOf(pool).family].forEachOverlapping(rangeOf(pool), (slot) => {
      const use = this.uses[slot] as Use;
      if (keep(use)) found.push(use.prefix);
    });
    return found;
  }
}

function placeKey(pool: Pool, siteId: string, purpose: Purpose): string {
  return `${pool.id} ${siteId} ${purpose}`;
}

/** "10.0.0.0/8 (Backbone)", as refusals name a place. */
export function sayPlaced({ prefix, pool }: Placed): string {
  return `${formatPrefix(prefix)} in ${pool.name}`;
}
