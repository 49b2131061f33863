import { addressBits, contains, prefixSize } from '../address/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Allocation, Cluster, Plan, Pool } from '../plan/index.js';
import { countsInMonth, rangesNeeded, sizingOf } from '../sizing/index.js';
import type { Sizing } from '../sizing/index.js';
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
 * The need for a pool over time at the planned growth, three horizons far, in steps. Ranges are powers of two, so the
 * need rises in steps. Counted are the ranges that clusters hold in the pool; a shared pool counts the largest once.
 */
export function* poolGrowth(plan: Plan, pool: Pool): Steps<PoolGrowth> {
  const whole = rangeOf(pool);
  const held = plan.allocations.filter((allocation) => contains(whole, rangeOf(allocation)));
  const { horizonMonths } = plan.settings;
  const until = SHOWN_HORIZONS * horizonMonths;
  const sizes = new Sizes(plan);
  const requiredAt = (month: number) => total(plan, pool, held, sizes.in(month));
  const months = [...new Set(Array.from({ length: STEPS + 1 }, (_, i) => Math.round((i * until) / STEPS)))];
  const points: GrowthPoint[] = [];
  for (const [done, month] of months.entries()) {
    yield { what: `growth of ${pool.name}`, done, of: months.length };
    points.push({ month, required: requiredAt(month) });
  }
  const size = Number(prefixSize(whole));
  return {
    poolName: pool.name,
    size,
    allocated: sumAllocated(plan, pool, held),
    points,
    horizonMonths,
    exhausted: firstOver(requiredAt, size, until),
  };
}

/** Need never falls while clusters grow, and shrinking clusters are held at their present need, so a bisection finds the month. */
function firstOver(requiredAt: (month: number) => number, size: number, until: number): number | undefined {
  if (requiredAt(until) <= size) return undefined;
  let low = 0;
  let high = until;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (requiredAt(middle) > size) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Addresses of what a range must be in a month, each cluster sized once for each count of its nodes: most months leave it where it is. */
class Sizes {
  private readonly sizings = new Map<string, Sizing>();
  private readonly needs = new Map<string, ReadonlyMap<string, number>>();

  constructor(private readonly plan: Plan) {}

  in(month: number): (allocation: Allocation) => number {
    const ofCluster = new Map<string, ReadonlyMap<string, number>>();
    return (allocation) => {
      const { clusterId, purpose, zone } = allocation;
      const range = rangeOf(allocation);
      let own = ofCluster.get(clusterId);
      if (own === undefined) {
        const cluster = byId(this.plan.clusters, clusterId);
        own = cluster === undefined ? new Map<string, number>() : this.needsOf(cluster, month);
        ofCluster.set(clusterId, own);
      }
      return own.get(`${purpose} ${zone} ${range.family}`) ?? Number(prefixSize(range));
    };
  }

  private needsOf(cluster: Cluster, month: number): ReadonlyMap<string, number> {
    const sizing = this.sizings.get(cluster.id) ?? sizingOf(this.plan, cluster);
    this.sizings.set(cluster.id, sizing);
    const counts = countsInMonth(sizing, month);
    const key = `${cluster.id} ${counts.nodes.join()} ${counts.pods.join()}`;
    const known = this.needs.get(key);
    if (known !== undefined) return known;
    const made = new Map(
      rangesNeeded(sizing, counts).map((need) => [
        `${need.purpose} ${need.zone} ${need.family}`,
        2 ** (addressBits(need.family) - need.length.value),
      ]),
    );
    this.needs.set(key, made);
    return made;
  }
}

function sumAllocated(plan: Plan, pool: Pool, held: readonly Allocation[]): number {
  return total(plan, pool, held, (allocation) => Number(prefixSize(rangeOf(allocation))));
}

/** Distinct ranges add up; of the ranges that a shared pool repeats, only the largest takes space of its own. */
function total(
  plan: Plan,
  pool: Pool,
  held: readonly Allocation[],
  sizeOf: (allocation: Allocation) => number,
): number {
  let sum = 0;
  let repeated = 0;
  for (const allocation of held) {
    const cluster = byId(plan.clusters, allocation.clusterId);
    const size = sizeOf(allocation);
    if (pool.isShared && cluster !== undefined && isInternalRange(cluster, allocation.purpose))
      repeated = Math.max(repeated, size);
    else sum += size;
  }
  return sum + repeated;
}
