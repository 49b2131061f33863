import { addressBits, merge, prefixSize } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { byId, purposes, rangeOf } from '../plan/index.js';
import type { Cluster, Plan, Profile, Purpose, Site } from '../plan/index.js';
import { isFromSubnet, rangesNeeded, subnetZones, surgeOf, withSurge } from '../sizing/index.js';
import { isInternalRange } from '../verdicts/index.js';
import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';

/** How full the IPv4 ranges of one site and purpose are. */
export interface Utilisation {
  readonly siteId: string;
  readonly siteName: string;
  readonly purpose: Purpose;
  readonly ranges: number;
  readonly addresses: number;
  /** Addresses that today's nodes, pods, services or entries hold. */
  readonly usedNow: Figure;
  /** The same at the horizon. */
  readonly usedHorizon: Figure;
  /** Prefixes the site advertises for them; 0 for ranges that stay inside their clusters. */
  readonly routes: number;
}

/** How full ranges are by site and purpose, IPv4: IPv6 subnets never fill. */
export function utilisation(plan: Plan): Utilisation[] {
  const groups = new Map<string, { cluster: Cluster; prefix: Prefix }[]>();
  for (const allocation of plan.allocations) {
    const cluster = byId(plan.clusters, allocation.clusterId);
    const range = rangeOf(allocation);
    if (cluster === undefined || range.family === 6) continue;
    const key = `${cluster.siteId} ${allocation.purpose}`;
    groups.set(key, [...(groups.get(key) ?? []), { cluster, prefix: range }]);
  }
  const rows = [...groups].map(([key, ranges]): Utilisation => {
    const [siteId = '', word = ''] = key.split(' ');
    // The key was made from one just above.
    const purpose = word as Purpose;
    const clusters = [...new Set(ranges.map(({ cluster }) => cluster))];
    const addresses = ranges.reduce((sum, { prefix }) => sum + Number(prefixSize(prefix)), 0);
    const used = (nodesOf: (cluster: Cluster) => number) =>
      clusters.reduce((sum, cluster) => sum + usedBy(plan, cluster, purpose, nodesOf(cluster)), 0);
    const routed = ranges.filter(({ cluster }) => !isInternalRange(cluster, purpose)).map(({ prefix }) => prefix);
    return {
      siteId,
      siteName: byId(plan.sites, siteId)?.name ?? '',
      purpose,
      ranges: ranges.length,
      addresses,
      usedNow: share(
        'today',
        used((cluster) => cluster.nodesNow),
        addresses,
      ),
      usedHorizon: share(
        'at the horizon',
        used((cluster) => cluster.nodesHorizon),
        addresses,
      ),
      routes: merge(routed).length,
    };
  });
  return rows.sort(
    (a, b) =>
      (a.siteName < b.siteName ? -1 : a.siteName > b.siteName ? 1 : 0) ||
      purposes.indexOf(a.purpose) - purposes.indexOf(b.purpose),
  );
}

/** Addresses of one cluster's ranges of a purpose that are taken with that many nodes. */
function usedBy(plan: Plan, cluster: Cluster, purpose: Purpose, nodes: number): number {
  // The plan's integrity was checked when it was made: site and profile are there.
  const site = byId(plan.sites, cluster.siteId) as Site;
  const profile = byId(plan.profiles, site.profileId) as Profile;
  const zones = subnetZones(site, profile).length;
  const reserved = profile.reservedFirst + profile.reservedLast;
  const running = nodes === 0 ? 0 : zones * withSurge(Math.ceil(nodes / zones), surgeOf(cluster, profile));
  const keeps = isFromSubnet(cluster, purpose) ? zones * reserved : 0;
  switch (purpose) {
    case 'node':
      return running + keeps + (cluster.hasEntrySubnets ? 0 : zones * cluster.entryAddresses);
    case 'entry':
      return zones * cluster.entryAddresses + keeps;
    case 'service':
      return cluster.services;
    case 'pod':
      return cluster.podMode === 'native' ? running * cluster.podsPerNode + keeps : slices(plan, cluster, nodes);
  }
}

/** Whole per-node prefixes are handed out, so a node takes its slice however few pods it runs. */
function slices(plan: Plan, cluster: Cluster, nodes: number): number {
  const site = byId(plan.sites, cluster.siteId) as Site;
  const profile = byId(plan.profiles, site.profileId) as Profile;
  if (nodes === 0) return 0;
  const one = rangesNeeded({ ...cluster, nodesHorizon: 1, surgePercent: 0 }, site, { ...profile, leastSurge: 0 });
  const slice = one.find(({ purpose, family }) => purpose === 'pod' && family === 4)?.length.value;
  return slice === undefined ? 0 : withSurge(nodes, surgeOf(cluster, profile)) * 2 ** (addressBits(4) - slice);
}

function share(when: string, used: number, addresses: number): Figure {
  const value = addresses === 0 ? 0 : Math.round((1000 * used) / addresses) / 10;
  return figure(value, '%', () => ({
    title: `Addresses taken ${when}`,
    formula: 'taken ÷ allocated',
    inputs: [
      { name: `Taken ${when}, surge and reserved ones included`, value: sayNumber(used) },
      { name: 'Allocated', value: sayNumber(addresses) },
    ],
    steps: [`${sayNumber(used)} ÷ ${sayNumber(addresses)} = ${value} %`],
    result: `${value} %`,
    source: { mark: 'C', text: 'Common practice; a node takes its whole per-node prefix' },
  }));
}
