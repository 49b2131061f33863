import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** A cluster lives in a subnet with others, and its provider lets only one into each. Told once, by the first of them. */
export function subnetShared({ cluster, profile, allocations, beside }: ClusterResult): Finding[] {
  if (profile.sharesSubnets) return [];
  return allocations.flatMap((range) => {
    const others = (beside.get(range.id) ?? []).filter(({ kind, id }) => kind === 'clusters' && id !== cluster.id);
    if (others.length === 0 || others.some(({ id }) => id < cluster.id)) return [];
    return [
      finding(
        'subnet.shared',
        'error',
        [
          { kind: 'allocations', id: range.id },
          { kind: 'clusters', id: cluster.id },
          ...others.map(({ id }) => ({ kind: 'clusters', id }) as const),
        ],
        { cluster: cluster.name, prefix: range.prefix, others: others.map(({ name }) => name), profile: profile.name },
        { fixes: range.isPinned || cluster.isBuilt ? [] : [{ kind: 'move', allocationId: range.id }] },
      ),
    ];
  });
}
