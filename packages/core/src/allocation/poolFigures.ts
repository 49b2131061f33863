import { contains, merge, overlaps, prefixSize, totalSize } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Plan, Pool } from '../plan/index.js';
import { figure, formatNumber, formatSize } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { FreeSpace } from './freeSpace.js';
import { advertisedRanges } from './routes.js';

/** What is taken and free in one pool. */
export interface PoolFigures {
  readonly pool: Pool;
  /** Ranges of clusters and of others that lie in it or over it. */
  readonly ranges: number;
  readonly free: bigint;
  /** Share taken, 0 to 1. */
  readonly taken: number;
  readonly largestFree: Prefix | undefined;
  /** 1 − largest free ÷ all free, in percent: 0 when what is free is one block. */
  readonly fragmentation: Figure;
  /** Prefixes that must be advertised for the clusters' ranges in it, merged by site and purpose. */
  readonly routes: Figure;
}

/** Figures of every pool, in the plan's order. */
export function poolFigures(plan: Plan): PoolFigures[] {
  const used = [...plan.allocations, ...plan.inUse].map(rangeOf);
  return plan.pools.map((pool) => {
    const whole = rangeOf(pool);
    const inside = used.filter((range) => overlaps(whole, range));
    const space = FreeSpace.within(whole, inside);
    const free = totalSize(space.free);
    const largestFree = space.largest();
    return {
      pool,
      ranges: inside.length,
      free,
      taken: 1 - Number((free * 10_000n) / prefixSize(whole)) / 10_000,
      largestFree,
      fragmentation: fragmentation(free, largestFree === undefined ? 0n : prefixSize(largestFree)),
      routes: routes(plan, pool),
    };
  });
}

function fragmentation(free: bigint, largest: bigint): Figure {
  const value = free === 0n ? 0 : (10_000 - Number((largest * 10_000n) / free)) / 100;
  return figure(value, '%', () => ({
    title: 'Fragmentation of the free space',
    formula: '1 − largest free block ÷ all free addresses',
    inputs: [
      { name: 'Free addresses', value: formatSize(free) },
      { name: 'Largest free block', value: formatSize(largest) },
    ],
    steps: [free === 0n ? 'Nothing is free.' : 'In percent; 0 when all that is free is one block.'],
    result: `${value} %`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}

/** Cluster-internal ranges are advertised nowhere, so shared ones are left out. */
function routes(plan: Plan, pool: Pool): Figure {
  const whole = rangeOf(pool);
  const inside = plan.allocations.filter((allocation) => contains(whole, rangeOf(allocation)));
  const groups = advertisedRanges(plan, inside);
  const ranges = [...groups.values()].reduce((sum, group) => sum + group.length, 0);
  const counts = [...groups].map(([key, prefixes]) => ({ key, count: merge(prefixes).length }));
  const value = counts.reduce((sum, { count }) => sum + count, 0);
  return figure(value, 'routes', () => ({
    title: 'Routes to advertise',
    formula: 'for each site and purpose, the fewest prefixes that hold exactly its ranges; summed',
    inputs: [
      { name: 'Ranges of clusters in the pool that leave their cluster', value: formatNumber(ranges) },
      { name: 'Sites and purposes', value: formatNumber(groups.size) },
    ],
    steps: counts.map(({ key, count }) => {
      const [siteId = '', purpose = ''] = key.split(' ');
      return `${byId(plan.sites, siteId)?.name ?? ''}, ${purpose} ranges: ${count}`;
    }),
    result: `${formatNumber(value)} routes`,
    source: { mark: 'C', text: 'Common practice: neighbouring ranges are advertised as one' },
  }));
}
