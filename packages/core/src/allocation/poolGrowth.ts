import { addressBits, contains, prefixSize } from '../address/index.js';
import type { Family } from '../address/index.js';
import { byId, grouped, rangeOf } from '../plan/index.js';
import type { Allocation, Cluster, Plan, Pool, Purpose } from '../plan/index.js';
import { countsInMonth, rangesNeeded, sizingOf } from '../sizing/index.js';
import type { Counts, Sizing } from '../sizing/index.js';
import { isInternalRange } from '../verdicts/index.js';
import type { Steps } from '../working/index.js';

/** What the clusters of a pool need in one month. */
export interface GrowthPoint {
  readonly month: number;
  /** Addresses, in ranges sized for the nodes of that month. */
  readonly required: number;
}

/** How the need for a pool grows against what is allocated and what there is. */
export interface PoolGrowth {
  readonly poolName: string;
  readonly size: number;
  /** Addresses held by the clusters' ranges in it now, each range once. */
  readonly allocated: number;
  readonly points: readonly GrowthPoint[];
  readonly horizonMonths: number;
  /** First month in which the need is larger than the pool; undefined when it is not within the shown months. */
  readonly exhausted: number | undefined;
}

const SHOWN_HORIZONS = 3;
const STEPS = 36;

/**
 * The need for a pool over time at the planned growth, three horizons far, cluster by cluster in steps. Ranges are powers of
 * two, so the need rises in steps. Counted are the ranges that clusters hold in the pool; a shared pool counts the largest once.
 */
export function* poolGrowth(plan: Plan, pool: Pool): Steps<PoolGrowth> {
  const whole = rangeOf(pool);
  const held = plan.allocations.filter((allocation) => contains(whole, rangeOf(allocation)));
  const { horizonMonths } = plan.settings;
  const until = SHOWN_HORIZONS * horizonMonths;
  const months = [...new Set(Array.from({ length: STEPS + 1 }, (_, i) => Math.round((i * until) / STEPS)))];
  const required = yield* requiredIn(plan, pool, held, months);
  const size = Number(prefixSize(whole));
  return {
    poolName: pool.name,
    size,
    allocated: sumAllocated(plan, pool, held),
    points: months.map((month, at) => ({ month, required: required[at] as number })),
    horizonMonths,
    exhausted: yield* firstOver(plan, pool, held, size, months, required),
  };
}

/** Need never falls while clusters grow, and shrinking clusters are held at their present need, so a bisection finds the month. */
function* firstOver(
  plan: Plan,
  pool: Pool,
  held: readonly Allocation[],
  size: number,
  months: readonly number[],
  required: readonly number[],
): Steps<number | undefined> {
  const at = required.findIndex((each) => each > size);
  if (at < 0) return undefined;
  let low = at === 0 ? 0 : (months[at - 1] as number) + 1;
  let high = months[at] as number;
  while (low < high) {
    const middle = (low + high) >>> 1;
    const [needed] = yield* requiredIn(plan, pool, held, [middle]);
    if ((needed as number) > size) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Addresses that are needed in some months; each cluster is sized once, and again only where its counts rise. */
function* requiredIn(
  plan: Plan,
  pool: Pool,
  held: readonly Allocation[],
  months: readonly number[],
): Steps<readonly number[]> {
  const sums = months.map(() => new Sum(pool));
  const ofCluster = grouped(held, 'clusterId');
  let done = 0;
  for (const [clusterId, ranges] of ofCluster) {
    yield { what: `growth of ${pool.name}`, done: done++, of: ofCluster.size };
    const cluster = byId(plan.clusters, clusterId);
    if (cluster === undefined) continue;
    const sizing = sizingOf(plan, cluster);
    let last = { key: '', sizes: new Map<string, number>() };
    for (const [at, month] of months.entries()) {
      const counts = countsInMonth(sizing, month);
      const key = `${counts.nodes.join()} ${counts.pods.join()}`;
      if (key !== last.key) last = { key, sizes: sizesFor(sizing, counts) };
      for (const range of ranges) {
        const { purpose, zone } = range;
        const size = last.sizes.get(placeOf(purpose, zone, rangeOf(range).family));
        sums[at]?.add(cluster, range, size ?? Number(prefixSize(rangeOf(range))));
      }
    }
  }
  return sums.map(({ whole }) => whole);
}

/** Addresses that a range of each purpose has for some counts. */
function sizesFor(sizing: Sizing, counts: Counts): Map<string, number> {
  return new Map(
    rangesNeeded(sizing, counts).map(({ purpose, zone, family, length }) => [
      placeOf(purpose, zone, family),
      2 ** (addressBits(family) - length.value),
    ]),
  );
}

function placeOf(purpose: Purpose, zone: string, family: Family): string {
  return `${purpose} ${zone} ${family}`;
}

function sumAllocated(plan: Plan, pool: Pool, held: readonly Allocation[]): number {
  const sum = new Sum(pool);
  for (const range of held) sum.add(byId(plan.clusters, range.clusterId), range, Number(prefixSize(rangeOf(range))));
  return sum.whole;
}

/** Distinct ranges add up; of the ranges that a shared pool repeats, only the largest takes space of its own. */
class Sum {
  private distinct = 0;
  private repeated = 0;

  constructor(private readonly pool: Pool) {}

  add(cluster: Cluster | undefined, { purpose }: Allocation, size: number): void {
    if (this.pool.isShared && cluster !== undefined && isInternalRange(cluster, purpose))
      this.repeated = Math.max(this.repeated, size);
    else this.distinct += size;
  }

  get whole(): number {
    return this.distinct + this.repeated;
  }
}
