import { figure, formatNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { bitsFor } from './bits.js';
import type { Profile } from '../plan/index.js';
import type { Counts } from './counts.js';
import type { Sizing } from './sizing.js';
import { formatSurge, withSurge } from './surge.js';

/** One thing that takes addresses in a subnet. */
interface SubnetPart {
  readonly name: string;
  /** "⌈40 ÷ 3⌉ = 14, with surge 16"; empty for a plain count. */
  readonly how: string;
  readonly addresses: number;
}

/** What a subnet of a zone has to hold; what the provider reserves is apart. */
export interface SubnetDemand {
  readonly addresses: number;
  /** What the addresses are made of, written when asked. */
  readonly parts: () => readonly SubnetPart[];
}

/** The zones that get subnets of their own, or one empty name where a subnet spans the region. */
export function subnetZones({ zones, profile }: Sizing): readonly string[] {
  return profile.subnetScope === 'zone' ? zones : [''];
}

/** Nodes of one group in one zone's subnet with their surge: an even share, rounded up. */
export function nodesInZone(sizing: Sizing, counts: Counts, at: number, zone: string): number {
  const group = sizing.groups[at];
  return group === undefined ? 0 : withSurge(restInZone(sizing, counts, at, zone), group.surge);
}

function restInZone({ groups }: Sizing, counts: Counts, at: number, zone: string): number {
  return shareOf(counts.nodes[at] ?? 0, groups[at]?.zones ?? [], zone);
}

function shareOf(count: number, zones: readonly string[], zone: string): number {
  if (zone === '') return count;
  return zones.includes(zone) ? Math.ceil(count / zones.length) : 0;
}

/** One rule of what a subnet holds: how many addresses, and in which words. Limits ask for the number thousands of times. */
interface PartRule {
  readonly addresses: (sizing: Sizing, counts: Counts, zone: string) => number;
  readonly parts: (sizing: Sizing, counts: Counts, zone: string) => readonly SubnetPart[];
}

/** A rule of one plain count, left out of the words when it is none. */
function plainCount(name: string, addresses: PartRule['addresses']): PartRule {
  return {
    addresses,
    parts: (...of) => {
      const count = addresses(...of);
      return count > 0 ? [{ name, how: '', addresses: count }] : [];
    },
  };
}

const workers: PartRule = {
  addresses: (sizing, counts, zone) => {
    let sum = 0;
    for (let at = 0; at < sizing.groups.length; at++) sum += nodesInZone(sizing, counts, at, zone);
    return sum;
  },
  parts: (sizing, counts, zone) =>
    sizing.groups.map((group, at) => {
      const total = formatNumber(counts.nodes[at] ?? 0);
      const rest = restInZone(sizing, counts, at, zone);
      const surged = nodesInZone(sizing, counts, at, zone);
      const over = zone === '' ? total : `⌈${total} ÷ ${group.zones.length}⌉ = ${rest}`;
      return {
        name: sizing.groups.length === 1 ? 'Nodes' : `Nodes, ${group.name}`,
        how: `${over}, with ${formatSurge(group.surge)} surge ${formatNumber(surged)}`,
        addresses: surged,
      };
    }),
};

const podsWithoutNodes: PartRule = {
  addresses: ({ lonePods }, { pods }, zone) => {
    let sum = 0;
    for (let at = 0; at < lonePods.length; at++) sum += shareOf(pods[at] ?? 0, lonePods[at]?.zones ?? [], zone);
    return sum;
  },
  parts: ({ lonePods }, { pods }, zone) =>
    lonePods.flatMap(({ name, zones }, at) => {
      const addresses = shareOf(pods[at] ?? 0, zones, zone);
      return addresses > 0 ? [{ name: `Pods of ${name}`, how: '', addresses }] : [];
    }),
};

/** Control nodes in a zone's subnet with the spare that an upgrade needs. */
function controlNodesAtOnce({ control, zones }: Sizing, zone: string): number {
  return control.nodes === 0 ? 0 : shareOf(control.nodes, zones, zone) + control.spare;
}

const nodeSubnetRules: readonly PartRule[] = [
  workers,
  plainCount('Control nodes and one spare', (sizing, _, zone) => controlNodesAtOnce(sizing, zone)),
  plainCount('Virtual addresses of API and ingress', ({ control }) => control.virtualAddresses),
  plainCount('Private endpoint of the API', ({ control }) => control.endpoints),
  plainCount('Entry addresses', (sizing) => entryInNodeSubnet(sizing)),
  {
    addresses: (sizing, ...of) => (sizing.cluster.podMode === 'native' ? 0 : podsWithoutNodes.addresses(sizing, ...of)),
    parts: (sizing, ...of) => (sizing.cluster.podMode === 'native' ? [] : podsWithoutNodes.parts(sizing, ...of)),
  },
];

const eachNode = ({ profile }: Sizing, podsPerNode: number) => podsPerNode + profile.warmSpare;

const podSubnetRules: readonly PartRule[] = [
  {
    addresses: (sizing, counts, zone) => {
      let sum = 0;
      for (let at = 0; at < sizing.groups.length; at++)
        sum += nodesInZone(sizing, counts, at, zone) * eachNode(sizing, sizing.groups[at]?.podsPerNode ?? 0);
      return sum;
    },
    parts: (sizing, counts, zone) =>
      sizing.groups.map(({ name, podsPerNode }, at) => {
        const { warmSpare } = sizing.profile;
        const surged = nodesInZone(sizing, counts, at, zone);
        const each = warmSpare === 0 ? String(podsPerNode) : `(${podsPerNode} + ${warmSpare} spare)`;
        return {
          name: sizing.groups.length === 1 ? 'Pods' : `Pods, ${name}`,
          how: `${formatNumber(surged)} nodes with surge × ${each}`,
          addresses: surged * eachNode(sizing, podsPerNode),
        };
      }),
  },
  {
    addresses: (sizing, _, zone) => controlNodesAtOnce(sizing, zone) * eachNode(sizing, sizing.cluster.podsPerNode),
    parts: (sizing, _, zone) => {
      const nodes = controlNodesAtOnce(sizing, zone);
      const each = eachNode(sizing, sizing.cluster.podsPerNode);
      return nodes === 0 ? [] : [{ name: 'Pods of control nodes', how: `${nodes} × ${each}`, addresses: nodes * each }];
    },
  },
  podsWithoutNodes,
];

function addressesBy(rules: readonly PartRule[], sizing: Sizing, counts: Counts, zone: string): number {
  let sum = 0;
  for (const rule of rules) sum += rule.addresses(sizing, counts, zone);
  return sum;
}

function demandBy(rules: readonly PartRule[], sizing: Sizing, counts: Counts, zone: string): SubnetDemand {
  return {
    addresses: addressesBy(rules, sizing, counts, zone),
    parts: () => rules.flatMap((rule) => rule.parts(sizing, counts, zone)),
  };
}

/** Addresses that nodes, control plane, entry and pods without nodes take in a zone's node subnet. Source: common practice. */
export function nodeSubnetAddresses(sizing: Sizing, counts: Counts, zone: string): number {
  return addressesBy(nodeSubnetRules, sizing, counts, zone);
}

/** The same with what they are made of. */
export function nodeSubnetDemand(sizing: Sizing, counts: Counts, zone: string): SubnetDemand {
  return demandBy(nodeSubnetRules, sizing, counts, zone);
}

/** Addresses that native pods take in a zone's pod subnet: each node its most pods and its warm spare. Source: common practice. */
export function podSubnetAddresses(sizing: Sizing, counts: Counts, zone: string): number {
  return addressesBy(podSubnetRules, sizing, counts, zone);
}

/** The same with what they are made of. */
export function podSubnetDemand(sizing: Sizing, counts: Counts, zone: string): SubnetDemand {
  return demandBy(podSubnetRules, sizing, counts, zone);
}

/** Entry addresses that each node subnet has to hold: none when they have subnets of their own. */
export function entryInNodeSubnet({ cluster }: Sizing): number {
  return cluster.hasEntrySubnets ? 0 : cluster.entryAddresses;
}

/** Addresses of each IPv4 subnet that no machine gets: what the provider keeps, and the gateway's where that is not among them. Source: common practice. */
export function reservedIn({ reservedFirst, reservedLast }: Reserving): number {
  // The gateway is the first address after the network's, unless a subnet says otherwise.
  return Math.max(2, reservedFirst) + reservedLast;
}

type Reserving = Pick<Profile, 'reservedFirst' | 'reservedLast'>;

/**
 * Length of the IPv4 subnet that holds a demand and what the provider reserves: 32 − ⌈log2(demand + reserved)⌉, and no
 * longer than `smallest`, the provider's smallest subnet.
 */
export function subnetLength(title: string, demand: SubnetDemand, reserved: number, smallest = 32): Figure {
  const wanted = demand.addresses + reserved;
  const fitting = 32 - bitsFor(wanted);
  const length = Math.min(fitting, smallest);
  return figure(length, 'bits', () => {
    const parts = demand.parts();
    return {
      title,
      formula: '32 − ⌈log2(what it holds + reserved)⌉',
      inputs: [
        ...parts.map(({ name, addresses }) => ({ name, value: formatNumber(addresses) })),
        { name: 'Reserved, with the gateway', value: formatNumber(reserved) },
      ],
      steps: [
        ...parts.filter(({ how }) => how !== '').map(({ name, how }) => `${name}: ${how}`),
        `${[...parts.map(({ addresses }) => formatNumber(addresses)), formatNumber(reserved)].join(' + ')} = ${formatNumber(wanted)} addresses`,
        `2^${32 - fitting} = ${formatNumber(2 ** (32 - fitting))} holds them`,
        ...(length < fitting ? [`the provider’s smallest subnet is a /${smallest}`] : []),
      ],
      result: `/${length}`,
      source: { mark: 'C', text: 'Common practice; surge for rolling upgrades' },
    };
  });
}

/** Host addresses in an IPv4 subnet after the reserved ones; never below 0. /31 as RFC 3021 on a plain LAN. */
export function usableAddresses(length: number, profile: Reserving): Figure {
  const size = 2 ** (32 - length);
  const reserved = reservedIn(profile);
  const isPointToPoint = length === 31 && profile.reservedFirst + profile.reservedLast === 2;
  const value = isPointToPoint ? 2 : Math.max(0, size - reserved);
  return figure(value, 'addresses', () => ({
    title: 'Usable addresses',
    formula: isPointToPoint ? 'a /31 joins two hosts: both addresses are usable' : '2^(32 − length) − reserved',
    inputs: [
      { name: 'Length', value: `/${length}` },
      { name: 'Reserved, with the gateway', value: formatNumber(reserved) },
    ],
    steps: isPointToPoint
      ? ['RFC 3021 drops network and broadcast address.']
      : [`${formatNumber(size)} − ${reserved} = ${formatNumber(value)}`],
    result: `${formatNumber(value)} addresses`,
    source: isPointToPoint
      ? { mark: 'S', text: 'RFC 3021 2.1' }
      : { mark: 'C', text: 'Common practice: network, broadcast and gateway on a plain LAN, 3 to 5 in public clouds' },
  }));
}
