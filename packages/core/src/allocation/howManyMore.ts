import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { demandsOf } from './demand.js';
import { PoolSpace } from './poolSpace.js';

/** More copies than this are not counted: then the pools are no limit worth naming. */
export const MOST_COPIES = 1000;

/** How many more clusters like one fit in what is left. */
export interface MoreLikeThis {
  /** Whole clusters that find all their ranges; at most MOST_COPIES. */
  readonly count: number;
  /** What the next one would lack; undefined when the count stopped at MOST_COPIES. */
  readonly stoppedBy: string | undefined;
}

/** Places copies of a cluster one after the other, as a proposal would, until one lacks a range. */
export function howManyMore(plan: Plan, clusterId: string): MoreLikeThis | undefined {
  const cluster = byId(plan.clusters, clusterId);
  if (cluster === undefined) return undefined;
  const space = new PoolSpace(plan);
  const demands = demandsOf(plan, cluster);
  for (let count = 0; count < MOST_COPIES; count++) {
    for (const { need, demand } of demands) {
      // Each copy is a cluster of its own: its internal ranges avoid only one another.
      if (space.place({ ...demand, clusterId: `${clusterId} copy ${count}` }) === undefined) {
        return {
          count,
          stoppedBy: `a /${need.length.value} ${need.purpose} range${need.zone === '' ? '' : ` in zone ${need.zone}`}`,
        };
      }
    }
  }
  return { count: MOST_COPIES, stoppedBy: undefined };
}
