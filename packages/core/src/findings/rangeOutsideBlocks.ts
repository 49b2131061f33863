import { contains } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import { isFromSubnet } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** A subnet of a cluster that lies in none of its network's address blocks: it cannot be made there. */
export function rangeOutsideBlocks({ cluster, network, blocks, allocations }: ClusterResult): Finding[] {
  return allocations.flatMap((range) => {
    const own = blocks.map(rangeOf).filter((block) => block.family === rangeOf(range).family);
    const isFine = own.length === 0 || own.some((block) => contains(block, rangeOf(range)));
    if (isFine || !isFromSubnet(cluster, range.purpose)) return [];
    return [
      finding(
        'range.outside-network',
        'error',
        [
          { kind: 'allocations', id: range.id },
          { kind: 'clusters', id: cluster.id },
        ],
        { cluster: cluster.name, purpose: range.purpose, prefix: range.prefix, network: network.name },
        { fixes: cluster.isBuilt || range.isPinned ? [] : [{ kind: 'move', allocationId: range.id }] },
      ),
    ];
  });
}
