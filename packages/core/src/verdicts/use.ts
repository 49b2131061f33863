import { comparePrefixes, contains } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { byId, grouped, rangeOf, readTranslation } from '../plan/index.js';
import { isFromSubnet, subnetKey } from '../sizing/index.js';
import type { Allocation, Block, Cluster, InUseRange, Plan, Subnet, SubnetPurpose } from '../plan/index.js';

/** One range that somebody uses, as verdicts see it. */
export interface Use {
  readonly kind: 'allocations' | 'inUse' | 'subnets' | 'blocks' | 'attachments' | 'members';
  /** The entity's id; of a prefix that an attachment advertises, that and the prefix. */
  readonly id: string;
  readonly prefix: Prefix;
  /** The network it lives in; null when it is attached to none. */
  readonly networkId: string | null;
  /** Networks in which its cluster's nodes have additional interfaces; none as a rule. */
  readonly furtherIds?: readonly string[];
  /** The cluster it belongs to; null for ranges of others. */
  readonly clusterId: string | null;
  /** Exists inside its cluster only: overlay pods and services are never destinations of the network. */
  readonly isInternal: boolean;
  /** Where it is a subnet of its network in which others may live too: network, site and zone. Absent for all else. */
  readonly subnetAt?: string;
  /** What it is for; undefined for ranges of others and for address blocks. */
  readonly purpose: SubnetPurpose | Allocation['purpose'] | undefined;
  /** Whether a proposal may move it: an allocated range that is not pinned, of a cluster that is not built. */
  readonly isMovable: boolean;
  /** Why an allocated range may not be moved; undefined for those that may, and for ranges of others. */
  readonly lock?: 'pinned' | 'built';
  /** For a prefix that a network advertises: which attachment says so, and over which links. */
  readonly advertised?: Advertised;
  readonly label: string;
}

/** Where a prefix is advertised. */
interface Advertised {
  readonly attachmentId: string;
  readonly linkIds: readonly string[];
}

/** Whether a cluster's range of this purpose stays inside the cluster (handbook 2). */
export function isInternalRange(cluster: Cluster, purpose: Allocation['purpose']): boolean {
  return purpose === 'service' || (purpose === 'pod' && cluster.podMode === 'overlay');
}

/** The use of an allocated range; `furtherIds` are the networks of additional interfaces of the cluster's nodes. */
export function useOfAllocation(allocation: Allocation, cluster: Cluster, furtherIds?: readonly string[]): Use {
  const zone = allocation.zone === '' ? '' : ` in zone ${allocation.zone}`;
  return {
    kind: 'allocations',
    id: allocation.id,
    prefix: rangeOf(allocation),
    networkId: cluster.networkId,
    ...(furtherIds === undefined ? {} : { furtherIds }),
    clusterId: cluster.id,
    isInternal: isInternalRange(cluster, allocation.purpose),
    ...(isFromSubnet(cluster, allocation.purpose) ? { subnetAt: subnetKey(cluster, allocation.zone) } : {}),
    purpose: allocation.purpose,
    isMovable: !allocation.isPinned && !cluster.isBuilt,
    ...(allocation.isPinned ? { lock: 'pinned' as const } : cluster.isBuilt ? { lock: 'built' as const } : {}),
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
    purpose: undefined,
    isMovable: false,
    label: `range of ${range.owner}`,
  };
}

/** The use of a subnet: a destination of its network that holds ranges of clusters for its purpose. */
export function useOfSubnet(subnet: Subnet): Use {
  return {
    kind: 'subnets',
    id: subnet.id,
    prefix: rangeOf(subnet),
    networkId: subnet.networkId,
    clusterId: null,
    isInternal: false,
    purpose: subnet.purpose,
    isMovable: false,
    label: `subnet ${subnet.name}`,
  };
}

/** The use of an address block: all of it is a destination of its network, whatever is in it. */
export function useOfBlock(block: Block, networkName: string): Use {
  return {
    kind: 'blocks',
    id: block.id,
    prefix: rangeOf(block),
    networkId: block.networkId,
    clusterId: null,
    isInternal: false,
    purpose: undefined,
    isMovable: false,
    label: `address block of ${networkName}`,
  };
}

/** What members of connections show instead of their own ranges: nobody else may have it. */
export function usesOfMembers({ members, clusters }: Pick<Plan, 'members' | 'clusters'>): Use[] {
  return members.flatMap((member) => {
    const cluster = byId(clusters, member.clusterId);
    return member.translated.flatMap((text): Use[] => {
      const shown = readTranslation(text)?.shown;
      if (shown === undefined || cluster === undefined) return [];
      return [
        {
          kind: 'members',
          id: member.id,
          prefix: shown,
          networkId: cluster.networkId,
          clusterId: cluster.id,
          isInternal: false,
          purpose: undefined,
          isMovable: false,
          label: `translated range of ${cluster.name}`,
        },
      ];
    });
  });
}

/** Every use in a plan, those of a cluster after one another. */
export function usesOfPlan(
  plan: Pick<Plan, 'allocations' | 'clusters' | 'inUse' | 'subnets' | 'blocks' | 'networks'>,
  further: ReadonlyMap<string, readonly string[]> = new Map(),
): Use[] {
  const networkName = (id: string) => byId(plan.networks, id)?.name ?? '';
  const ranges = grouped(plan.allocations, 'clusterId');
  const uses: Use[] = [];
  for (const cluster of plan.clusters)
    for (const range of ranges.get(cluster.id) ?? [])
      uses.push(useOfAllocation(range, cluster, further.get(cluster.id)));
  for (const range of plan.inUse) uses.push(useOfInUse(range));
  for (const subnet of plan.subnets) uses.push(useOfSubnet(subnet));
  for (const block of plan.blocks) uses.push(useOfBlock(block, networkName(block.networkId)));
  return uses;
}

/**
 * Whether one range is the place that the other is in, so that both mean the same addresses. Nodes and pods in a subnet
 * that is meant for the other are in it all the same; that the purposes differ is a finding of its own.
 */
export function isHolding(outer: Use, inner: Use): boolean {
  if (outer.networkId !== inner.networkId || inner.isInternal || !contains(outer.prefix, inner.prefix)) return false;
  if (outer.kind === 'blocks') return inner.kind !== 'blocks';
  if (outer.kind !== 'subnets' || inner.kind !== 'allocations') return false;
  return outer.purpose === inner.purpose || (isForMachines(outer.purpose) && isForMachines(inner.purpose));
}

/**
 * Whether two ranges of clusters are one subnet in which both live: equal, of one network, site and zone. Nodes, native pods and entry
 * addresses of several clusters, or of one, may share a subnet; that they all find room in it is asked apart.
 */
export function isSharing(one: Use, other: Use): boolean {
  return (
    one.subnetAt !== undefined &&
    one.subnetAt === other.subnetAt &&
    one.id !== other.id &&
    comparePrefixes(one.prefix, other.prefix) === 0
  );
}

/** Whether an advertised prefix is a summary around a range of another network: of the two the longer prefix wins. */
export function isSummaryOf(outer: Use, inner: Use): boolean {
  return (
    outer.advertised !== undefined &&
    outer.prefix.length < inner.prefix.length &&
    !inner.isInternal &&
    contains(outer.prefix, inner.prefix)
  );
}

function isForMachines(purpose: Use['purpose']): boolean {
  return purpose === 'node' || purpose === 'pod';
}
