import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** What a cluster asks for and cannot have, or should not. Per-node prefixes have checks of their own. */
export function demandProblems({ cluster, figures }: ClusterResult): Finding[] {
  return figures.problems
    .filter(({ field }) => field !== 'perNodeLength')
    .map(({ field, poolId, isStopping, message, fix }) =>
      finding(
        isStopping ? 'demand.cannot' : 'demand.doubtful',
        isStopping ? 'error' : 'warning',
        [
          { kind: 'clusters', id: cluster.id },
          ...(poolId === null ? [] : [{ kind: 'nodePools', id: poolId } as const]),
        ],
        { cluster: cluster.name, message, fix },
        { part: `${cluster.id} ${poolId ?? ''} ${field}` },
      ),
    );
}
