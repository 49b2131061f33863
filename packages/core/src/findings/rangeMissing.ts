import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** A range the cluster needs is not allocated. */
export function rangeMissing({ cluster, figures }: ClusterResult): Finding[] {
  const missing = figures.needs.filter(({ ranges }) => ranges.length === 0);
  if (missing.length === 0) return [];
  return [
    finding(
      'range.missing',
      'warning',
      [{ kind: 'clusters', id: cluster.id }],
      {
        cluster: cluster.name,
        missing: missing.map(({ need: { purpose, length, zone, family } }) => ({
          purpose,
          length: length.value,
          zone,
          family,
        })),
      },
      { fixes: [{ kind: 'allocate', clusterId: cluster.id }] },
    ),
  ];
}
