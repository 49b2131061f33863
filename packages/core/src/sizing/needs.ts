import type { Family } from '../address/index.js';
import type { Cluster, Profile, Purpose, Site } from '../plan/index.js';
import type { Figure } from '../working/index.js';
import { entrySubnetLength } from './entrySubnet.js';
import { nodeSubnetLength } from './nodeSubnet.js';
import { nodesToAddress } from './nodesToAddress.js';
import { perNodePrefix } from './perNodePrefix.js';
import { ipv6SubnetLength, nativePodSubnetLength, podRangeLength } from './podRange.js';
import { serviceRangeLength } from './serviceRange.js';
import { surgeOf } from './surge.js';

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
export function familiesOf(cluster: Cluster): Family[] {
  return cluster.family === 'ipv4' ? [4] : cluster.family === 'ipv6' ? [6] : [4, 6];
}

/** The zones that get subnets of their own, or one empty name where a subnet spans the region. */
export function subnetZones(site: Site, profile: Profile): readonly string[] {
  return profile.subnetScope === 'zone' ? site.zones : [''];
}

/** Every range the cluster needs at its horizon: node subnets, pod range or subnets, entry subnets, service range, in each family. */
export function rangesNeeded(cluster: Cluster, site: Site, profile: Profile): Need[] {
  const zones = subnetZones(site, profile);
  return familiesOf(cluster).flatMap((family) => [
    ...zones.map((zone): Need => ({
      purpose: 'node',
      zone,
      family,
      length: nodeLength(cluster, profile, zones.length, family),
    })),
    ...podNeeds(cluster, profile, zones, family),
    ...(cluster.hasEntrySubnets
      ? zones.map((zone): Need => ({
          purpose: 'entry',
          zone,
          family,
          length: entryLength(cluster, profile, family),
        }))
      : []),
    { purpose: 'service', zone: '', family, length: serviceRangeLength(family, cluster.services) } as const,
  ]);
}

function nodeLength(cluster: Cluster, profile: Profile, zones: number, family: Family): Figure {
  if (family === 6) return ipv6SubnetLength('Node subnet needed');
  return nodeSubnetLength({
    nodes: cluster.nodesHorizon,
    zones,
    surge: surgeOf(cluster, profile),
    entryAddresses: entryInNodeSubnet(cluster),
    reserved: profile.reservedFirst + profile.reservedLast,
  });
}

/** Entry addresses that each node subnet has to hold: none when they have subnets of their own. */
export function entryInNodeSubnet(cluster: Cluster): number {
  return cluster.hasEntrySubnets ? 0 : cluster.entryAddresses;
}

function entryLength(cluster: Cluster, profile: Profile, family: Family): Figure {
  return family === 6
    ? ipv6SubnetLength('Entry subnet needed')
    : entrySubnetLength(cluster.entryAddresses, profile.reservedFirst + profile.reservedLast);
}

function podNeeds(cluster: Cluster, profile: Profile, zones: readonly string[], family: Family): Need[] {
  if (cluster.podMode !== 'native') {
    const nodes = nodesToAddress(cluster.nodesHorizon, surgeOf(cluster, profile));
    const perNode = perNodePrefix(family, cluster.podsPerNode, cluster.perNodeLength);
    return [{ purpose: 'pod', zone: '', family, length: podRangeLength(nodes, perNode) }];
  }
  const share = nodesToAddress(Math.ceil(cluster.nodesHorizon / zones.length), surgeOf(cluster, profile)).value;
  const reserved = profile.reservedFirst + profile.reservedLast;
  return zones.map((zone) => ({
    purpose: 'pod',
    zone,
    family,
    length:
      family === 6
        ? ipv6SubnetLength('Pod subnet needed')
        : nativePodSubnetLength(share, cluster.podsPerNode, reserved),
  }));
}

/** Whether a cluster's range of this purpose is a subnet of its network, cut from the network's address blocks. */
export function isFromSubnet(cluster: Cluster, purpose: Purpose): boolean {
  return purpose === 'node' || purpose === 'entry' || (purpose === 'pod' && cluster.podMode === 'native');
}
