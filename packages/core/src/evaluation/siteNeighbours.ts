import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { countsAtHorizon, publicAddressesOf, sizingOf } from '../sizing/index.js';
import type { Neighbours, Sizing } from '../sizing/index.js';

interface Held {
  readonly siteId: string;
  readonly publicAddresses: number;
}

/** What the clusters of each site take of what they share: places for clusters, and public addresses. */
export class SiteNeighbours {
  private readonly heldBy = new Map<string, Held>();
  private readonly sites = new Map<string, { clusters: number; publicAddresses: number }>();

  constructor(plan: Plan | undefined) {
    for (const cluster of plan?.clusters ?? []) this.put(cluster.id, held(sizingOf(plan as Plan, cluster)));
  }

  /** What a cluster finds at its site. */
  of({ cluster, site }: Sizing): Neighbours {
    const all = this.sites.get(site.id) ?? { clusters: 0, publicAddresses: 0 };
    return {
      clusters: all.clusters,
      publicAddresses: all.publicAddresses - (this.heldBy.get(cluster.id)?.publicAddresses ?? 0),
    };
  }

  /** Takes in changed clusters; returns the sites where something else is left than before. */
  follow(plan: Plan, changed: ReadonlySet<string>): Set<string> {
    const sites = new Set<string>();
    for (const id of changed) {
      const before = this.heldBy.get(id);
      const cluster = byId(plan.clusters, id);
      const after = cluster === undefined ? undefined : held(sizingOf(plan, cluster));
      if (before?.siteId === after?.siteId && before?.publicAddresses === after?.publicAddresses) continue;
      this.take(id);
      if (after !== undefined) this.put(id, after);
      for (const each of [before, after]) if (each !== undefined) sites.add(each.siteId);
    }
    return sites;
  }

  private put(id: string, entry: Held): void {
    this.heldBy.set(id, entry);
    const site = this.sites.get(entry.siteId) ?? { clusters: 0, publicAddresses: 0 };
    this.sites.set(entry.siteId, {
      clusters: site.clusters + 1,
      publicAddresses: site.publicAddresses + entry.publicAddresses,
    });
  }

  private take(id: string): void {
    const entry = this.heldBy.get(id);
    if (entry === undefined) return;
    this.heldBy.delete(id);
    const site = this.sites.get(entry.siteId) ?? { clusters: 1, publicAddresses: entry.publicAddresses };
    this.sites.set(entry.siteId, {
      clusters: site.clusters - 1,
      publicAddresses: site.publicAddresses - entry.publicAddresses,
    });
  }
}

function held(sizing: Sizing): Held {
  return {
    siteId: sizing.site.id,
    publicAddresses: publicAddressesOf(sizing, countsAtHorizon(sizing), sizing.growth.nodesHorizon),
  };
}
