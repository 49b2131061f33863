import { addressBits, merge, prefixSize } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { addTo, byId, purposes, rangeOf } from '../plan/index.js';
import type { Cluster, Plan, Purpose } from '../plan/index.js';
import {
  countsAtHorizon,
  countsRunning,
  isFromSubnet,
  nodesAtOnce,
  nodeSubnetAddresses,
  perNodeOf,
  podSubnetAddresses,
  reservedIn,
  servicesWithAddress,
  sizingOf,
  subnetKey,
  subnetZones,
} from '../sizing/index.js';
import type { Counts, Sizing } from '../sizing/index.js';
import { isInternalRange } from '../verdicts/index.js';
import { figure, formatNumber } from '../working/index.js';
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
  const groups = new Map<string, { cluster: Cluster; prefix: Prefix; isRepeated: boolean }[]>();
  const seen = new Set<string>();
  for (const allocation of plan.allocations) {
    const cluster = byId(plan.clusters, allocation.clusterId);
    const range = rangeOf(allocation);
    if (cluster === undefined || range.family === 6) continue;
    const key = `${cluster.siteId} ${allocation.purpose}`;
    // A subnet that several live in is there once.
    const subnet = isFromSubnet(cluster, allocation.purpose)
      ? `${subnetKey(cluster, allocation.zone)} ${allocation.prefix}`
      : allocation.id;
    addTo(groups, key, { cluster, prefix: range, isRepeated: seen.has(subnet) });
    seen.add(subnet);
  }
  const rows = [...groups].map(([key, ranges]): Utilisation => {
    const [siteId = '', word = ''] = key.split(' ');
    // The key was made from one just above.
    const purpose = word as Purpose;
    const clusters = [...new Set(ranges.map(({ cluster }) => cluster))];
    const own = ranges.filter(({ isRepeated }) => !isRepeated);
    const addresses = own.reduce((sum, { prefix }) => sum + Number(prefixSize(prefix)), 0);
    const reservedTwice = ranges
      .filter(({ isRepeated }) => isRepeated)
      .reduce((sum, { cluster }) => sum + reservedIn(sizingOf(plan, cluster).profile), 0);
    const used = (countsFor: (sizing: Sizing) => Counts) =>
      clusters.reduce((sum, cluster) => sum + usedBy(plan, cluster, purpose, countsFor), -reservedTwice);
    const routed = ranges.filter(({ cluster }) => !isInternalRange(cluster, purpose)).map(({ prefix }) => prefix);
    return {
      siteId,
      siteName: byId(plan.sites, siteId)?.name ?? '',
      purpose,
      ranges: own.length,
      addresses,
      usedNow: share('today', used(countsRunning), addresses),
      usedHorizon: share('at the horizon', used(countsAtHorizon), addresses),
      routes: merge(routed).length,
    };
  });
  return rows.sort(
    (a, b) =>
      (a.siteName < b.siteName ? -1 : a.siteName > b.siteName ? 1 : 0) ||
      purposes.indexOf(a.purpose) - purposes.indexOf(b.purpose),
  );
}

/** Addresses of one cluster's ranges of a purpose that these counts take. */
function usedBy(plan: Plan, cluster: Cluster, purpose: Purpose, countsFor: (sizing: Sizing) => Counts): number {
  const sizing = sizingOf(plan, cluster);
  const counts = countsFor(sizing);
  const zones = subnetZones(sizing);
  const inZones = (addresses: (zone: string) => number) =>
    zones.reduce((sum, zone) => sum + addresses(zone) + reservedIn(sizing.profile), 0);
  switch (purpose) {
    case 'node':
      return inZones((zone) => nodeSubnetAddresses(sizing, counts, zone));
    case 'entry':
      return inZones(() => cluster.entryAddresses);
    case 'service':
      return servicesWithAddress(cluster);
    case 'pod':
      return cluster.podMode === 'native'
        ? inZones((zone) => podSubnetAddresses(sizing, counts, zone))
        : // Whole per-node prefixes are handed out, so a node takes its slice however few pods it runs.
          nodesAtOnce(sizing, counts) * 2 ** (addressBits(4) - perNodeOf(sizing, 4).value);
  }
}

function share(when: string, used: number, addresses: number): Figure {
  const value = addresses === 0 ? 0 : Math.round((1000 * used) / addresses) / 10;
  return figure(value, '%', () => ({
    title: `Addresses taken ${when}`,
    formula: 'taken ÷ allocated',
    inputs: [
      { name: `Taken ${when}, surge and reserved ones included`, value: formatNumber(used) },
      { name: 'Allocated', value: formatNumber(addresses) },
    ],
    steps: [`${formatNumber(used)} ÷ ${formatNumber(addresses)} = ${value} %`],
    result: `${value} %`,
    source: { mark: 'C', text: 'Common practice; a node takes its whole per-node prefix' },
  }));
}
