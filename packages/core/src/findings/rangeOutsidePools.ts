import { contains } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Pool } from '../plan/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** A range typed by hand that no pool for its purpose holds. */
export function rangeOutsidePools({ cluster, allocations }: ClusterResult, pools: readonly Pool[]): Finding[] {
  return allocations.flatMap((range) => {
    const isHeld = pools.some(
      (pool) => pool.purposes.includes(range.purpose) && contains(rangeOf(pool), rangeOf(range)),
    );
    if (isHeld) return [];
    return [
      finding(
        'range.outside-pools',
        'note',
        [
          { kind: 'allocations', id: range.id },
          { kind: 'clusters', id: cluster.id },
        ],
        {
          title: `${cluster.name}: the ${range.purpose} range ${range.prefix} is in no pool`,
          detail: `No pool for ${range.purpose} ranges holds it, so nothing keeps it free of later use. Add a pool, or move the range into one.`,
        },
        range.isFixed || cluster.isBuilt ? [] : [{ kind: 'move', allocationId: range.id }],
      ),
    ];
  });
}
