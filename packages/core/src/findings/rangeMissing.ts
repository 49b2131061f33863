import { familyName } from '../address/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** A range the cluster needs is not allocated. */
export function rangeMissing({ cluster, figures }: ClusterResult): Finding[] {
  const missing = figures.needs.filter(({ ranges }) => ranges.length === 0);
  if (missing.length === 0) return [];
  const words = missing.map(
    ({ need }) =>
      `${need.purpose} /${need.length.value}${need.zone === '' ? '' : ` in zone ${need.zone}`} (${familyName(need.family)})`,
  );
  return [
    finding(
      'range.missing',
      'warning',
      [{ kind: 'clusters', id: cluster.id }],
      {
        title: `${cluster.name} lacks ${missing.length === 1 ? 'a range' : `${missing.length} ranges`}`,
        detail: `Still to allocate: ${words.join(', ')}.`,
      },
      [{ kind: 'allocate', clusterId: cluster.id }],
    ),
  ];
}
