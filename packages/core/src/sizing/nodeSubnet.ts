import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { bitsFor } from './bits.js';
import { atRest, saySurge, withSurge } from './surge.js';
import type { Surge } from './surge.js';

/** What one node subnet has to hold. */
export interface NodeSubnetDemand {
  readonly nodes: number;
  /** Zones the nodes are spread over when each has a subnet of its own; 1 for one regional subnet. */
  readonly zones: number;
  readonly surge: Surge;
  readonly entryAddresses: number;
  /** Addresses the provider keeps, first and last together. */
  readonly reserved: number;
}

/** Length of the IPv4 node subnet: ceil(nodes / zones) with surge, entry addresses and reserved ones. Source: common practice. */
export function nodeSubnetLength(demand: NodeSubnetDemand): Figure {
  const { nodes, zones, surge, entryAddresses, reserved } = demand;
  const share = Math.ceil(nodes / zones);
  const running = withSurge(share, surge);
  const wanted = running + entryAddresses + reserved;
  const length = 32 - bitsFor(wanted);
  return figure(length, 'bits', () => ({
    title: zones > 1 ? 'Node subnet needed in each zone' : 'Node subnet needed',
    formula: '32 − ⌈log2(⌈nodes ÷ zones⌉ × (1 + surge) + entry + reserved)⌉',
    inputs: [
      { name: 'Nodes at horizon', value: sayNumber(nodes) },
      { name: 'Subnets the nodes are spread over', value: sayNumber(zones) },
      { name: 'Surge', value: saySurge(surge) },
      { name: 'Entry addresses', value: sayNumber(entryAddresses) },
      { name: 'Reserved by the provider', value: sayNumber(reserved) },
    ],
    steps: [
      `⌈${sayNumber(nodes)} ÷ ${zones}⌉ = ${sayNumber(share)}, with surge ${sayNumber(running)}`,
      `${sayNumber(running)} + ${entryAddresses} + ${reserved} = ${sayNumber(wanted)} addresses`,
      `2^${32 - length} = ${sayNumber(2 ** (32 - length))} holds them`,
    ],
    result: `/${length}`,
    source: { mark: 'C', text: 'Common practice; surge for rolling upgrades' },
  }));
}

/** Host addresses in an IPv4 subnet after the provider's reserved ones; never below 0. /31 and /32 as RFC 3021 on a plain LAN. */
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

/** Nodes at rest that node subnets of this many usable addresses hold, with surge and entry addresses kept free. */
export function nodesHeld(usable: Figure, demand: Omit<NodeSubnetDemand, 'nodes' | 'reserved'>): Figure {
  const { zones, surge, entryAddresses } = demand;
  const room = Math.max(0, usable.value - entryAddresses);
  const perSubnet = atRest(room, surge);
  const value = perSubnet * zones;
  return figure(value, 'nodes', () => ({
    title: 'Nodes the node subnets hold',
    formula: 'most n with n + surge ≤ usable − entry, × zones',
    inputs: [
      { name: 'Usable addresses in the smallest subnet', value: sayNumber(usable.value) },
      { name: 'Entry addresses', value: sayNumber(entryAddresses) },
      { name: 'Surge', value: saySurge(surge) },
      { name: 'Subnets the nodes are spread over', value: sayNumber(zones) },
    ],
    steps: [
      `${sayNumber(room)} addresses hold ${sayNumber(perSubnet)} nodes and their surge`,
      `× ${zones} = ${sayNumber(value)}`,
    ],
    result: `${sayNumber(value)} nodes`,
    source: { mark: 'C', text: 'Common practice; surge for rolling upgrades' },
  }));
}
