import { byId, rangeOf } from '../plan/index.js';
import type { Plan, Profile } from '../plan/index.js';
import { isFromSubnet } from '../sizing/index.js';
import type { ClusterResult } from '../sizing/index.js';
import type { Owner } from '../english/index.js';
import { finding } from './finding.js';
import type { Finding, Subject } from './finding.js';

/** Subnets of the ground that the provider cannot make: too small, too large, or zonal where subnets span the region. */
export function subnetLimits({ subnets, sites, profiles }: Pick<Plan, 'subnets' | 'sites' | 'profiles'>): Finding[] {
  return subnets.flatMap((subnet) => {
    const site = byId(sites, subnet.siteId);
    const profile = site === undefined ? undefined : byId(profiles, site.profileId);
    if (profile === undefined) return [];
    const subjects: Subject[] = [{ kind: 'subnets', id: subnet.id }];
    return [
      ...sizeFinding({ is: 'subnet', subnet: subnet.name }, subnet, profile, subjects),
      ...scopeFinding(subnet.name, subnet.zone, profile, subjects),
    ];
  });
}

/** Subnets of a cluster that the provider cannot make in that size. */
export function rangeSubnetSize({ cluster, profile, allocations }: ClusterResult): Finding[] {
  return allocations
    .filter(({ purpose }) => isFromSubnet(cluster, purpose))
    .flatMap((range) =>
      sizeFinding({ is: 'range', cluster: cluster.name, purpose: range.purpose }, range, profile, [
        { kind: 'allocations', id: range.id },
        { kind: 'clusters', id: cluster.id },
      ]),
    );
}

function sizeFinding(
  owner: Owner,
  range: { readonly prefix: string },
  profile: Profile,
  subjects: readonly Subject[],
): Finding[] {
  const { family, length } = rangeOf(range);
  const isFine = family === 6 || (length <= profile.smallestSubnet && length >= profile.largestSubnet);
  if (isFine) return [];
  const isTooSmall = length > profile.smallestSubnet;
  return [
    finding('subnet.size', 'error', subjects, {
      owner,
      prefix: range.prefix,
      profile: profile.name,
      bound: isTooSmall ? 'smallest' : 'largest',
      length: isTooSmall ? profile.smallestSubnet : profile.largestSubnet,
    }),
  ];
}

function scopeFinding(name: string, zone: string, profile: Profile, subjects: readonly Subject[]): Finding[] {
  const isFine = (profile.subnetScope === 'zone') === (zone !== '');
  if (isFine) return [];
  return [finding('subnet.scope', 'warning', subjects, { subnet: name, zone, profile: profile.name })];
}
