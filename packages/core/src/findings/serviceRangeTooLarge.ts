import { addressBits } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import { MAX_SERVICE_HOST_BITS } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** A service range with more host bits than the API server takes. */
export function serviceRangeTooLarge({ cluster, allocations }: ClusterResult): Finding[] {
  return allocations.flatMap((range) => {
    const { family, length } = rangeOf(range);
    const longest = addressBits(family) - MAX_SERVICE_HOST_BITS;
    if (range.purpose !== 'service' || length >= longest) return [];
    return [
      finding(
        'service.too-large',
        'error',
        [
          { kind: 'allocations', id: range.id },
          { kind: 'clusters', id: cluster.id },
        ],
        { cluster: cluster.name, prefix: range.prefix, bits: MAX_SERVICE_HOST_BITS, longest },
        { fixes: range.isPinned || cluster.isBuilt ? [] : [{ kind: 'move', allocationId: range.id }] },
      ),
    ];
  });
}
