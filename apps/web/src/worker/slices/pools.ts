import { FreeSpace, formatPrefix, overlaps, prefixSize, rangeOf, totalSize } from '@wide-lattice/core';
import type { Evaluation, Pool } from '@wide-lattice/core';
import { saySize } from './clusterSheet';

/** One pool with what is taken and free in it. */
export interface PoolRow {
  readonly pool: Pool;
  readonly siteName: string;
  readonly size: string;
  readonly free: string;
  /** Share taken, 0 to 1. */
  readonly taken: number;
  readonly ranges: number;
  readonly largestFree: string;
}

/** Every pool by name. */
export function poolRows(evaluation: Evaluation): PoolRow[] {
  const { plan } = evaluation;
  const used = [...plan.allocations, ...plan.inUse].map(rangeOf);
  const siteNames = new Map(plan.sites.map((site) => [site.id, site.name]));
  return plan.pools
    .map((pool) => {
      const whole = rangeOf(pool);
      const inside = used.filter((range) => overlaps(whole, range));
      const space = FreeSpace.within(whole, inside);
      const free = totalSize(space.free);
      const largest = space.largest();
      return {
        pool,
        siteName: pool.siteId === null ? '' : (siteNames.get(pool.siteId) ?? ''),
        size: saySize(prefixSize(whole)),
        free: saySize(free),
        taken: 1 - Number((free * 10_000n) / prefixSize(whole)) / 10_000,
        ranges: inside.length,
        largestFree: largest === undefined ? 'none' : formatPrefix(largest),
      };
    })
    .sort((a, b) => (a.pool.name < b.pool.name ? -1 : 1));
}
