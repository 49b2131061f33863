import type { Family } from '../address/index.js';
import type { Cluster, Purpose } from '../plan/index.js';
import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { countsToHold, nodesAtOnce } from './counts.js';
import type { Counts } from './counts.js';
import { perNodePrefix } from './perNodePrefix.js';
import { ipv6SubnetLength, podRangeLength } from './podRange.js';
import { serviceRangeLength } from './serviceRange.js';
import type { Sizing } from './sizing.js';
import { nodeSubnetDemand, podSubnetDemand, reservedIn, subnetLength, subnetZones } from './subnetDemand.js';
import { formatSurge } from './surge.js';

/** One range a cluster has to have. */
export interface Need {
  readonly purpose: Purpose;
  /** The zone of a zonal subnet; empty for a range of the whole cluster. */
  readonly zone: string;
  readonly family: Family;
  /** The longest prefix that is large enough. */
  readonly length: Figure;
}

/** The families a cluster runs, IPv4 first. */
export function familiesOf({ family }: Pick<Cluster, 'family'>): Family[] {
  return family === 'ipv4' ? [4] : family === 'ipv6' ? [6] : [4, 6];
}

/**
 * Every range the cluster needs for these counts, the more of today's and the horizon's unless said otherwise: node
 * subnets, pod range or subnets, entry subnets, service range, in each family.
 */
export function rangesNeeded(sizing: Sizing, counts: Counts = countsToHold(sizing)): Need[] {
  const { cluster } = sizing;
  const zones = subnetZones(sizing);
  const reserved = reservedIn(sizing.profile);
  const smallest = sizing.profile.smallestSubnet;
  const inZones = (purpose: Purpose, family: Family, length: (zone: string) => Figure) =>
    zones.map((zone): Need => ({
      purpose,
      zone,
      family,
      length: family === 6 ? ipv6SubnetLength(`${titles[purpose]} needed`) : length(zone),
    }));
  return familiesOf(cluster).flatMap((family) => [
    ...inZones('node', family, (zone) =>
      subnetLength(`${titles.node} needed${where(zone)}`, nodeSubnetDemand(sizing, counts, zone), reserved, smallest),
    ),
    ...(cluster.podMode === 'native'
      ? inZones('pod', family, (zone) =>
          subnetLength(`${titles.pod} needed${where(zone)}`, podSubnetDemand(sizing, counts, zone), reserved, smallest),
        )
      : [
          {
            purpose: 'pod',
            zone: '',
            family,
            length: podRangeLength(nodesToAddress(sizing, counts), perNodeOf(sizing, family)),
          } as const,
        ]),
    ...(cluster.hasEntrySubnets
      ? inZones('entry', family, () => {
          const addresses = cluster.entryAddresses;
          const parts = () => [{ name: 'Entry addresses', how: '', addresses }];
          return subnetLength('Entry subnet needed', { parts, addresses }, reserved, smallest);
        })
      : []),
    {
      purpose: 'service',
      zone: '',
      family,
      length: serviceRangeLength(family, servicesWithAddress(cluster)),
    } as const,
  ]);
}

const titles: Readonly<Record<Purpose, string>> = {
  node: 'Node subnet',
  pod: 'Pod subnet',
  entry: 'Entry subnet',
  service: 'Service range',
};
const where = (zone: string) => (zone === '' ? '' : ` in zone ${zone}`);

/** Services that take an address of the service range: all but headless ones. */
export function servicesWithAddress({ services, headlessServices }: Cluster): number {
  return Math.max(0, services - headlessServices);
}

/** The per-node prefix of a cluster: decided, or what its most pods per node need. */
export function perNodeOf({ podsPerNode, cluster }: Sizing, family: Family): Figure {
  return perNodePrefix(family, podsPerNode, cluster.perNodeLength);
}

/** Nodes that need addresses at once: workers with their surge, control nodes with their spare. Source: common practice. */
export function nodesToAddress(sizing: Sizing, counts: Counts = countsToHold(sizing)): Figure {
  const value = nodesAtOnce(sizing, counts);
  const { groups, control } = sizing;
  const one = groups.length === 1;
  return figure(value, 'nodes', () => ({
    title: 'Nodes to address',
    formula: 'nodes + ⌈nodes × surge⌉, and at least what the provider adds; control nodes + 1',
    inputs: [
      ...groups.flatMap(({ name, surge }, i) => [
        {
          name: one ? 'Nodes, the more of now and the horizon' : `Nodes, ${name}`,
          value: formatNumber(counts.nodes[i] ?? 0),
        },
        { name: one ? 'Surge' : `Surge, ${name}`, value: formatSurge(surge) },
      ]),
      ...(control.nodes === 0 ? [] : [{ name: 'Control nodes', value: formatNumber(control.nodes) }]),
    ],
    steps: [
      ...(control.nodes === 0 ? [] : [`control plane: ${control.nodes} + ${control.spare} while it is upgraded`]),
      `${formatNumber(value)} in all`,
    ],
    result: `${formatNumber(value)} nodes`,
    source: { mark: 'C', text: 'Common practice: while an upgrade rolls, old and new nodes run side by side' },
  }));
}

/** Whether a cluster's range of this purpose is a subnet of its network, cut from the network's address blocks. */
export function isFromSubnet(cluster: Pick<Cluster, 'podMode'>, purpose: Purpose): boolean {
  return purpose === 'node' || purpose === 'entry' || (purpose === 'pod' && cluster.podMode === 'native');
}
