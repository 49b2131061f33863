import { contains } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Pool } from '../plan/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Ranges typed by hand that no pool for their purpose holds: told once for a cluster. */
export function rangeOutsidePools({ cluster, allocations }: ClusterResult, pools: readonly Pool[]): Finding[] {
  const outside = allocations.filter(
    (range) => !pools.some((pool) => pool.purposes.includes(range.purpose) && contains(rangeOf(pool), rangeOf(range))),
  );
  const [first, ...more] = outside;
  if (first === undefined) return [];
  return [
    finding(
      'range.outside-pools',
      'note',
      [
        { kind: 'allocations', id: first.id },
        ...more.map(({ id }) => ({ kind: 'allocations', id }) as const),
        { kind: 'clusters', id: cluster.id },
      ],
      { cluster: cluster.name, ranges: outside.map(({ purpose, prefix }) => ({ purpose, prefix })) },
      {
        fixes: outside
          .filter(({ isPinned }) => !isPinned && !cluster.isBuilt)
          .map(({ id }) => ({ kind: 'move', allocationId: id })),
      },
    ),
  ];
}
