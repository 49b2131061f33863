import { contains } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Allocation, Pool } from '../plan/index.js';
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
  const what = ({ purpose, prefix }: Allocation) => `${purpose} range ${prefix}`;
  return [
    finding(
      'range.outside-pools',
      'note',
      [
        { kind: 'allocations', id: first.id },
        ...more.map(({ id }) => ({ kind: 'allocations', id }) as const),
        { kind: 'clusters', id: cluster.id },
      ],
      {
        title:
          more.length === 0
            ? `${cluster.name}: the ${what(first)} is in no pool`
            : `${cluster.name}: ${outside.length} of its ranges are in no pool`,
        detail: [
          ...(more.length === 0 ? [] : [`The ${outside.map(what).join(', the ')}.`]),
          `No pool for ranges of the kind holds ${more.length === 0 ? 'it' : 'them'}, so nothing keeps ${more.length === 0 ? 'it' : 'them'} free of later use.`,
          `Add a pool, or move the ${more.length === 0 ? 'range' : 'ranges'} into one.`,
        ].join(' '),
      },
      outside
        .filter(({ isFixed }) => !isFixed && !cluster.isBuilt)
        .map(({ id }) => ({ kind: 'move', allocationId: id })),
    ),
  ];
}
