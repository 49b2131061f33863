import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import type { SiteShares } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** More clusters at a site than its provider allows. */
export function clustersOverQuota(
  { sites, profiles }: Pick<Plan, 'sites' | 'profiles'>,
  { siteShares }: { readonly siteShares: SiteShares },
): readonly Finding[] {
  return sites.flatMap((site) => {
    const profile = byId(profiles, site.profileId);
    const count = siteShares.clustersAt(site.id);
    if (profile === undefined || count <= profile.clustersPerSite) return [];
    return [
      finding('clusters.over-quota', 'error', [{ kind: 'sites', id: site.id }], {
        site: site.name,
        count,
        quota: profile.clustersPerSite,
        profile: profile.name,
      }),
    ];
  });
}
