import type { Plan, Pool } from '../plan/index.js';
import type { ClusterResult } from './clusterResult.js';
import type { Finding } from './finding.js';
import { nodePartTooWide } from './nodePartTooWide.js';
import { perNodeTooSmall } from './perNodeTooSmall.js';
import { poolOverlap } from './poolOverlap.js';
import { rangeMissing } from './rangeMissing.js';
import { rangeOutsidePools } from './rangeOutsidePools.js';
import { specialSpace, widelyUsed } from './rangeSpace.js';
import { rangeStray } from './rangeStray.js';
import { rangeTooSmall } from './rangeTooSmall.js';
import { routesOverLimit } from './routesOverLimit.js';
import { serviceRangeTooLarge } from './serviceRangeTooLarge.js';

const clusterChecks = [
  rangeMissing,
  rangeTooSmall,
  rangeStray,
  perNodeTooSmall,
  routesOverLimit,
  serviceRangeTooLarge,
  nodePartTooWide,
];

/** Everything found about one cluster and its own ranges, overlaps apart. */
export function checkCluster(result: ClusterResult, pools: readonly Pool[], expectsJoins: boolean): Finding[] {
  const { cluster, allocations } = result;
  return [
    ...clusterChecks.flatMap((check) => check(result)),
    ...rangeOutsidePools(result, pools),
    ...allocations.flatMap((range) => {
      const label = `${cluster.name}: the ${range.purpose} range`;
      return [...specialSpace('allocations', range, label), ...widelyUsed('allocations', range, label, expectsJoins)];
    }),
  ];
}

/** Everything found about the plan's ground: pools. */
export function checkPlan({ pools, settings }: Pick<Plan, 'pools' | 'settings'>): Finding[] {
  return [
    ...poolOverlap(pools),
    ...pools.flatMap((pool) => {
      const label = `Pool ${pool.name}`;
      return [...specialSpace('pools', pool, label), ...widelyUsed('pools', pool, label, settings.expectsJoins)];
    }),
  ];
}
