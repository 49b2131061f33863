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
        title: `${cluster.name}: the ${range.purpose} range ${range.prefix} serves nothing`,
        detail:
          range.turn > 1 && !isFromSubnet(cluster, range.purpose)
            ? `A cluster has one ${range.purpose} range; only subnets can be several. Remove it.`
            : [
                `No ${range.purpose} range${range.zone === '' ? ' for the whole cluster' : ` in zone ${range.zone}`} is needed in this family and mode.`,
                'Remove it, or correct its zone.',
              ].join(' '),
      },
    ),
  );
}
