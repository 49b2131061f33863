import { isFromSubnet } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** A range that serves none of the cluster's needs: its zone, family or mode is gone. */
export function rangeStray({ cluster, figures }: ClusterResult): Finding[] {
  return figures.strays.map((range) =>
    finding(
      'range.stray',
      'warning',
      [
        { kind: 'allocations', id: range.id },
        { kind: 'clusters', id: cluster.id },
      ],
      {
        cluster: cluster.name,
        purpose: range.purpose,
        prefix: range.prefix,
        zone: range.zone,
        isSecond: range.turn > 1 && !isFromSubnet(cluster, range.purpose),
      },
    ),
  );
}
