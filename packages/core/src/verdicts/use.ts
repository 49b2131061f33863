import type { Prefix } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Allocation, Cluster, InUseRange } from '../plan/index.js';

/** One range that somebody uses, as verdicts see it. */
export interface Use {
  readonly kind: 'allocations' | 'inUse';
  readonly id: string;
  readonly prefix: Prefix;
  /** The network it lives in; null when it is attached to none. */
  readonly networkId: string | null;
  /** The cluster it belongs to; null for ranges of others. */
  readonly clusterId: string | null;
  /** Exists inside its cluster only: overlay pods and services are never destinations of the network. */
  readonly isInternal: boolean;
  /** Whether a proposal may move it: an allocated range that is not fixed, of a cluster that is not built. */
  readonly isMovable: boolean;
  readonly label: string;
}

/** Whether a cluster's range of this purpose stays inside the cluster (handbook 2). */
export function isInternalRange(cluster: Cluster, purpose: Allocation['purpose']): boolean {
  return purpose === 'service' || (purpose === 'pod' && cluster.podMode === 'overlay');
}

/** The use of an allocated range. */
export function useOfAllocation(allocation: Allocation, cluster: Cluster): Use {
  const zone = allocation.zone === '' ? '' : ` in zone ${allocation.zone}`;
  return {
    kind: 'allocations',
    id: allocation.id,
    prefix: rangeOf(allocation),
    networkId: cluster.networkId,
    clusterId: cluster.id,
    isInternal: isInternalRange(cluster, allocation.purpose),
    isMovable: !allocation.isFixed && !cluster.isBuilt,
    label: `${allocation.purpose} range of ${cluster.name}${zone}`,
  };
}

/** The use of a range that somebody else holds. */
export function useOfInUse(range: InUseRange): Use {
  return {
    kind: 'inUse',
    id: range.id,
    prefix: rangeOf(range),
    networkId: range.networkId,
    clusterId: null,
    isInternal: false,
    isMovable: false,
    label: `range of ${range.owner}`,
  };
}
