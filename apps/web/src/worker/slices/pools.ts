import { formatPrefix, prefixSize } from '@wide-lattice/core/address';
import { poolFigures } from '@wide-lattice/core/allocation';
import { rangeOf } from '@wide-lattice/core/plan';
import { formatSize } from '@wide-lattice/core/working';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import type { Pool } from '@wide-lattice/core/plan';
import { shown } from './figures';
import type { ShownFigure } from './figures';

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
  readonly fragmentation: ShownFigure;
  readonly routes: ShownFigure;
}

/** Every pool by name. */
export function poolRows({ plan }: Evaluation): PoolRow[] {
  const siteNames = new Map(plan.sites.map((site) => [site.id, site.name]));
  return poolFigures(plan)
    .map(({ pool, free, taken, ranges, largestFree, fragmentation, routes }) => ({
      pool,
      siteName: siteNames.get(pool.siteId ?? '') ?? '',
      size: formatSize(prefixSize(rangeOf(pool))),
      free: formatSize(free),
      taken,
      ranges,
      largestFree: largestFree === undefined ? 'none' : formatPrefix(largestFree),
      fragmentation: shown(fragmentation),
      routes: shown(routes),
    }))
    .sort((a, b) => (a.pool.name < b.pool.name ? -1 : 1));
}
