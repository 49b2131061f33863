import type { Allocation } from '../plan/index.js';
import type { ClusterResult } from './clusterResult.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** A range is allocated, and smaller than the horizon needs. */
export function rangeTooSmall({ cluster, figures }: ClusterResult): Finding[] {
  return figures.needs
    .filter(({ isLargeEnough }) => !isLargeEnough)
    .map(({ need, allocation }) => {
      // A need that is not served large enough has a range, or it would be missing.
      const range = allocation as Allocation;
      return finding(
        'range.too-small',
        'error',
        [
          { kind: 'allocations', id: range.id },
          { kind: 'clusters', id: cluster.id },
        ],
        {
          title: `${cluster.name}: the ${need.purpose} range ${range.prefix} is too small`,
          detail: `The horizon needs a /${need.length.value}${need.zone === '' ? '' : ` in zone ${need.zone}`}. ${cluster.isBuilt ? 'The cluster is built: a larger range is a rebuild.' : 'Move it to a larger range before the cluster is built.'}`,
        },
        range.isFixed || cluster.isBuilt ? [] : [{ kind: 'move', allocationId: range.id }],
      );
    });
}
