import { placesBefore, section } from '../section/index.js';
import type { Neighbours } from './bound.js';
import { demand } from './demandSection.js';
import { publicAddressesToHold } from './portBounds.js';
import type { Sizing } from './sizing.js';

interface Share {
  readonly siteId: string;
  /** Public addresses, the more of today's and the horizon's. */
  readonly held: number;
}

/** What the clusters of each site take of what they share: places for clusters, and public addresses. */
export class SiteShares {
  private readonly sites = new Map<string, { clusters: number; publicAddresses: number }>();

  /** Takes the share of each cluster, in the order of the plan. */
  constructor(readonly shares: readonly Share[]) {
    for (const { siteId, held } of shares) {
      const all = this.sites.get(siteId);
      if (all === undefined) this.sites.set(siteId, { clusters: 1, publicAddresses: held });
      else {
        all.clusters++;
        all.publicAddresses += held;
      }
    }
  }

  /** Clusters at a site. */
  clustersAt(siteId: string): number {
    return this.sites.get(siteId)?.clusters ?? 0;
  }

  /** What a cluster finds at its site, given its place in the order of clusters. */
  of({ site }: Sizing, at: number): Neighbours {
    const all = this.sites.get(site.id) ?? { clusters: 0, publicAddresses: 0 };
    return { clusters: all.clusters, publicAddresses: all.publicAddresses - (this.shares[at]?.held ?? 0) };
  }
}

/** What clusters share at their sites; the same as before while no cluster takes more or less of it. */
export const siteShares = section({
  name: 'site shares',
  reads: [],
  needs: { demand },
  build: (_, { demand: { values } }) => new SiteShares(values.map(shareOf)),
  follow: (last, _, { demand: { items, values } }) => {
    const before = last.value.shares;
    const known = last.needed.demand;
    const places = placesBefore(known.items, items);
    let isSame = values.length === before.length;
    const shares = values.map((sizing, at) => {
      const place = places[at] as number;
      if (place >= 0 && known.values[place] === sizing) {
        isSame &&= place === at;
        return before[place] as Share;
      }
      const share = shareOf(sizing);
      isSame &&= share.siteId === before[at]?.siteId && share.held === before[at].held;
      return share;
    });
    return isSame ? last.value : new SiteShares(shares);
  },
});

function shareOf(sizing: Sizing): Share {
  return { siteId: sizing.site.id, held: publicAddressesToHold(sizing) };
}
