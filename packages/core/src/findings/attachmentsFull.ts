import { byId, rangeOf } from '../plan/index.js';
import type { Cluster, Plan } from '../plan/index.js';
import type { Alongside } from '../section/index.js';
import { countsToHold, nodesInZone, usableAddresses } from '../sizing/index.js';
import type { Sizing } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

type Parts = Pick<Plan, 'nodePools' | 'subnets' | 'sites' | 'profiles'>;

/** Subnets in which nodes have additional interfaces, and more nodes with their surge than addresses. */
export function attachmentsFull(
  plan: Parts,
  { demand }: { readonly demand: Alongside<Cluster, Sizing> },
): readonly Finding[] {
  const wanted = new Map<string, number>();
  for (const clusterId of new Set(
    plan.nodePools.filter((pool) => pool.additionalInterfaceSubnetIds.length > 0).map((pool) => pool.clusterId),
  )) {
    const sizing = demand.of(clusterId);
    if (sizing === undefined) continue;
    const counts = countsToHold(sizing);
    sizing.groups.forEach(({ additionalInterfaceSubnetIds }, at) => {
      for (const id of additionalInterfaceSubnetIds)
        wanted.set(id, (wanted.get(id) ?? 0) + nodesInZone(sizing, counts, at, byId(plan.subnets, id)?.zone ?? ''));
    });
  }
  return [...wanted].flatMap(([id, nodes]) => {
    const subnet = byId(plan.subnets, id);
    const profile = byId(plan.profiles, byId(plan.sites, subnet?.siteId ?? '')?.profileId ?? '');
    if (subnet === undefined || profile === undefined || rangeOf(subnet).family === 6) return [];
    const usable = usableAddresses(rangeOf(subnet).length, profile).value;
    if (nodes <= usable) return [];
    return [
      finding('attachment.full', 'error', [{ kind: 'subnets', id }], {
        subnet: subnet.name,
        prefix: subnet.prefix,
        nodes,
        usable,
      }),
    ];
  });
}
