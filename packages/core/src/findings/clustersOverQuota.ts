import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** More clusters at a site than its provider allows. */
export function clustersOverQuota({ clusters, sites, profiles }: Plan): Finding[] {
  const counts = new Map<string, number>();
  for (const { siteId } of clusters) counts.set(siteId, (counts.get(siteId) ?? 0) + 1);
  return sites.flatMap((site) => {
    const profile = byId(profiles, site.profileId);
    const count = counts.get(site.id) ?? 0;
    if (profile === undefined || count <= profile.clustersPerSite) return [];
    return [
      finding('clusters.over-quota', 'error', [{ kind: 'sites', id: site.id }], {
        title: `${site.name}: ${count} clusters, and ${profile.clustersPerSite} are allowed`,
        detail: `${profile.name} allows ${profile.clustersPerSite} clusters at one site. Ask for a higher quota, or use another site.`,
      }),
    ];
  });
}
