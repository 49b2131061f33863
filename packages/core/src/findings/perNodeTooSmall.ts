import { perNodePrefix } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** The decided per-node prefix holds fewer than twice the pods, or fewer than the pods themselves. */
export function perNodeTooSmall({ cluster, sizing }: ClusterResult): Finding[] {
  const decided = cluster.perNodeLength;
  if (decided === null || cluster.podMode === 'native' || cluster.family === 'ipv6') return [];
  const held = 2 ** (32 - decided);
  const { podsPerNode } = sizing;
  if (held >= 2 * podsPerNode) return [];
  const cannotHold = held < podsPerNode;
  const needed = perNodePrefix(4, podsPerNode, null).value;
  return [
    finding('per-node.too-small', cannotHold ? 'error' : 'warning', [{ kind: 'clusters', id: cluster.id }], {
      cluster: cluster.name,
      length: decided,
      addresses: held,
      pods: podsPerNode,
      needed,
    }),
  ];
}
