import { byId } from '../plan/index.js';
import type { Plan, Profile } from '../plan/index.js';

/** The provider profiles of the sites that each of the given networks has clusters or subnets at. */
export function profilesByNetwork(
  plan: Pick<Plan, 'profiles' | 'sites' | 'subnets' | 'clusters'>,
  networkIds: ReadonlySet<string>,
): ReadonlyMap<string, readonly Profile[]> {
  const found = new Map<string, Set<Profile>>();
  if (networkIds.size === 0) return new Map();
  for (const { networkId, siteId } of [...plan.subnets, ...plan.clusters]) {
    if (!networkIds.has(networkId)) continue;
    const site = byId(plan.sites, siteId);
    const profile = site === undefined ? undefined : byId(plan.profiles, site.profileId);
    if (profile === undefined) continue;
    const own = found.get(networkId);
    if (own === undefined) found.set(networkId, new Set([profile]));
    else own.add(profile);
  }
  return new Map([...found].map(([id, profiles]) => [id, [...profiles]]));
}
