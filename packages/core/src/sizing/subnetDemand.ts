import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { bitsFor } from './bits.js';
import type { Counts } from './counts.js';
import type { Sizing } from './sizing.js';
import { saySurge, withSurge } from './surge.js';

/** One thing that takes addresses in a subnet. */
interface SubnetPart {
  readonly name: string;
  /** "⌈40 ÷ 3⌉ = 14, with surge 16"; empty for a plain count. Written when asked: limits count thousands of times. */
  readonly how: () => string;
  readonly addresses: number;
}

/** What a subnet of a zone has to hold; what the provider reserves is apart. */
export interface SubnetDemand {
  readonly parts: readonly SubnetPart[];
  readonly addresses: number;
}

const plain = () => '';

/** The zones that get subnets of their own, or one empty name where a subnet spans the region. */
export function subnetZones({ zones, profile }: Sizing): readonly string[] {
  return profile.subnetScope === 'zone' ? zones : [''];
}

/** Nodes of one group in one zone's subnet at rest, and with their surge: an even share, rounded up. */
export function nodesInZone(
  sizing: Sizing,
  counts: Counts,
  at: number,
  zone: string,
): { rest: number; surged: number } {
  const group = sizing.groups[at];
  if (group === undefined) return { rest: 0, surged: 0 };
  const rest = shareOf(counts.nodes[at] ?? 0, group.zones, zone);
  return { rest, surged: withSurge(rest, group.surge) };
}

function shareOf(count: number, zones: readonly string[], zone: string): number {
  if (zone === '') return count;
  return zones.includes(zone) ? Math.ceil(count / zones.length) : 0;
}

/** Addresses that nodes, control plane, entry and pods without nodes take in a zone's node subnet. Source: common practice. */
export function nodeSubnetDemand(sizing: Sizing, counts: Counts, zone: string): SubnetDemand {
  const { cluster, control, lonePods, groups, zones } = sizing;
  const entry = entryInNodeSubnet(sizing);
  const controlNodes = control.nodes === 0 ? 0 : shareOf(control.nodes, zones, zone);
  const parts: SubnetPart[] = groups.map((group, at) => {
    const { rest, surged } = nodesInZone(sizing, counts, at, zone);
    const total = counts.nodes[at] ?? 0;
    const over = () => (zone === '' ? sayNumber(total) : `⌈${sayNumber(total)} ÷ ${group.zones.length}⌉ = ${rest}`);
    return {
      name: groups.length === 1 ? 'Nodes' : `Nodes, ${group.name}`,
      how: () => `${over()}, with ${saySurge(group.surge)} surge ${sayNumber(surged)}`,
      addresses: surged,
    };
  });
  const add = (name: string, addresses: number) => {
    if (addresses > 0) parts.push({ name, how: plain, addresses });
  };
  add('Control nodes and one spare', controlNodes === 0 ? 0 : controlNodes + control.spare);
  add('Virtual addresses of API and ingress', control.virtualAddresses);
  add('Private endpoint of the API', control.endpoints);
  add('Entry addresses', entry);
  if (cluster.podMode !== 'native')
    lonePods.forEach((pool, at) => add(`Pods of ${pool.name}`, shareOf(counts.pods[at] ?? 0, pool.zones, zone)));
  return { parts, addresses: parts.reduce((sum, { addresses }) => sum + addresses, 0) };
}

/** Addresses that native pods take in a zone's pod subnet: each node its most pods and its warm spare. Source: common practice. */
export function podSubnetDemand(sizing: Sizing, counts: Counts, zone: string): SubnetDemand {
  const { groups, lonePods, control, profile, zones } = sizing;
  const each = (podsPerNode: number) => podsPerNode + profile.warmSpare;
  const parts: SubnetPart[] = groups.map((group, at) => {
    const { surged } = nodesInZone(sizing, counts, at, zone);
    return {
      name: groups.length === 1 ? 'Pods' : `Pods, ${group.name}`,
      how: () =>
        `${sayNumber(surged)} nodes with surge × ${profile.warmSpare === 0 ? group.podsPerNode : `(${group.podsPerNode} + ${profile.warmSpare} spare)`}`,
      addresses: surged * each(group.podsPerNode),
    };
  });
  if (control.nodes > 0) {
    const nodes = shareOf(control.nodes, zones, zone) + control.spare;
    parts.push({
      name: 'Pods of control nodes',
      how: () => `${nodes} × ${each(sizing.cluster.podsPerNode)}`,
      addresses: nodes * each(sizing.cluster.podsPerNode),
    });
  }
  lonePods.forEach((pool, at) => {
    const addresses = shareOf(counts.pods[at] ?? 0, pool.zones, zone);
    if (addresses > 0) parts.push({ name: `Pods of ${pool.name}`, how: plain, addresses });
  });
  return { parts, addresses: parts.reduce((sum, { addresses }) => sum + addresses, 0) };
}

/** Entry addresses that each node subnet has to hold: none when they have subnets of their own. */
export function entryInNodeSubnet({ cluster }: Sizing): number {
  return cluster.hasEntrySubnets ? 0 : cluster.entryAddresses;
}

/** Addresses the provider keeps in each IPv4 subnet. */
export function reservedIn({ profile }: Sizing): number {
  return profile.reservedFirst + profile.reservedLast;
}

/** Length of the IPv4 subnet that holds a demand and what the provider reserves: 32 − ⌈log2(demand + reserved)⌉. */
export function subnetLength(title: string, demand: SubnetDemand, reserved: number): Figure {
  const wanted = demand.addresses + reserved;
  const length = 32 - bitsFor(wanted);
  return figure(length, 'bits', () => ({
    title,
    formula: '32 − ⌈log2(what it holds + reserved)⌉',
    inputs: [
      ...demand.parts.map(({ name, addresses }) => ({ name, value: sayNumber(addresses) })),
      { name: 'Reserved by the provider', value: sayNumber(reserved) },
    ],
    steps: [
      ...demand.parts.filter(({ how }) => how() !== '').map(({ name, how }) => `${name}: ${how()}`),
      `${[...demand.parts.map(({ addresses }) => sayNumber(addresses)), sayNumber(reserved)].join(' + ')} = ${sayNumber(wanted)} addresses`,
      `2^${32 - length} = ${sayNumber(2 ** (32 - length))} holds them`,
    ],
    result: `/${length}`,
    source: { mark: 'C', text: 'Common practice; surge for rolling upgrades' },
  }));
}

/** Host addresses in an IPv4 subnet after the provider's reserved ones; never below 0. /31 as RFC 3021 on a plain LAN. */
export function usableAddresses(length: number, reserved: number): Figure {
  const size = 2 ** (32 - length);
  const isPointToPoint = length === 31 && reserved === 2;
  const value = isPointToPoint ? 2 : Math.max(0, size - reserved);
  return figure(value, 'addresses', () => ({
    title: 'Usable addresses',
    formula: isPointToPoint ? 'a /31 joins two hosts: both addresses are usable' : '2^(32 − length) − reserved',
    inputs: [
      { name: 'Length', value: `/${length}` },
      { name: 'Reserved by the provider', value: sayNumber(reserved) },
    ],
    steps: isPointToPoint
      ? ['RFC 3021 drops network and broadcast address.']
      : [`${sayNumber(size)} − ${reserved} = ${sayNumber(value)}`],
    result: `${sayNumber(value)} addresses`,
    source: isPointToPoint
      ? { mark: 'S', text: 'RFC 3021 2.1' }
      : { mark: 'C', text: 'Common practice: 2 on a plain LAN, 3 to 5 in public clouds' },
  }));
}
