import { contains } from '../address/index.js';
import { byId, grouped, rangeOf } from '../plan/index.js';
import type { Allocation, Cluster, Plan, Subnet } from '../plan/index.js';
import type { Groups } from '../section/index.js';
import { isFromSubnet } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

interface Known {
  readonly cluster: Cluster;
  readonly subnets: readonly Subnet[];
  readonly found: readonly Finding[];
}

// A cluster's ranges are the same list until one of them changes.
const known = new WeakMap<readonly Allocation[], Known>();

/** Nodes in a subnet of their network that is meant for pods, or native pods in one for nodes: they share it, and it runs out sooner. */
export function rangePurpose(
  { clusters, subnets }: Pick<Plan, 'clusters' | 'subnets'>,
  { ranges }: { readonly ranges: Groups<Allocation> },
): readonly Finding[] {
  if (subnets.length === 0) return [];
  const byNetwork = grouped(subnets, 'networkId');
  const all: Finding[] = [];
  for (const [clusterId, own] of ranges) {
    const cluster = byId(clusters, clusterId);
    if (cluster === undefined) continue;
    let last = known.get(own);
    if (last?.cluster !== cluster || last.subnets !== subnets) {
      last = { cluster, subnets, found: check(cluster, own, byNetwork.get(cluster.networkId) ?? []) };
      known.set(own, last);
    }
    for (const each of last.found) all.push(each);
  }
  return all;
}

function check(cluster: Cluster, ranges: readonly Allocation[], subnets: readonly Subnet[]): readonly Finding[] {
  return ranges.flatMap((range) => {
    if (!isFromSubnet(cluster, range.purpose) || range.purpose === 'entry') return [];
    const subnet = subnets.find(
      ({ purpose, ...each }) =>
        purpose !== range.purpose &&
        (purpose === 'node' || purpose === 'pod') &&
        contains(rangeOf(each), rangeOf(range)),
    );
    if (subnet === undefined) return [];
    return [
      finding(
        'range.purpose',
        'warning',
        [
          { kind: 'allocations', id: range.id },
          { kind: 'subnets', id: subnet.id },
          { kind: 'clusters', id: cluster.id },
        ],
        {
          cluster: cluster.name,
          purpose: range.purpose,
          prefix: range.prefix,
          subnet: subnet.name,
          subnetPrefix: subnet.prefix,
          subnetPurpose: subnet.purpose,
        },
        { fixes: cluster.isBuilt || range.isPinned ? [] : [{ kind: 'move', allocationId: range.id }] },
      ),
    ];
  });
}
