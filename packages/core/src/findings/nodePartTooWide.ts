import { rangeOf } from '../plan/index.js';
import { MAX_NODE_BITS, perNodeOf } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** A pod range so large, against the per-node prefix, that part of it can never be used; or smaller than one node's prefix. */
export function nodePartTooWide({ cluster, allocations, sizing }: ClusterResult): Finding[] {
  if (cluster.podMode === 'native') return [];
  return allocations.flatMap((range) => {
    if (range.purpose !== 'pod') return [];
    const { family, length } = rangeOf(range);
    const perNode = perNodeOf(sizing, family).value;
    if (perNode - length <= MAX_NODE_BITS) return [];
    return [
      finding(
        'pod.node-part-too-wide',
        'error',
        [
          { kind: 'allocations', id: range.id },
          { kind: 'clusters', id: cluster.id },
        ],
        { cluster: cluster.name, prefix: range.prefix, length, perNode, most: MAX_NODE_BITS },
      ),
    ];
  });
}
