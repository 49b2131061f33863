import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { podPacket } from '../podnetwork/index.js';
import { sayNumber } from '../working/index.js';
import { largestPacket, LEAST_IPV6 } from '../wire/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Packets between pods that must pass whole, and do not fit what the overlay leaves of the network's MTU. */
export function mtuBelowFloor({ cluster, network }: ClusterResult): Finding[] {
  const packet = podPacket(cluster, network).value;
  if (cluster.family !== 'ipv4' && packet < LEAST_IPV6) {
    return [
      finding('mtu.too-narrow', 'error', [{ kind: 'clusters', id: cluster.id }], {
        title: `${cluster.name}: the pod MTU is ${sayNumber(packet)} bytes, and IPv6 needs 1,280`,
        detail: [
          `Network ${network.name} carries ${sayNumber(network.mtu)} bytes, less what wraps packets between pods. Interfaces that take`,
          'less than 1,280 carry no IPv6 at all (RFC 8200 5). Raise the network MTU, or use a smaller encapsulation.',
        ].join(' '),
      }),
    ];
  }
  if (packet >= cluster.mtuFloor) return [];
  return [
    finding(
      'mtu.below-floor',
      cluster.podWishes.includes('mtu floor') ? 'warning' : 'error',
      [{ kind: 'clusters', id: cluster.id }],
      {
        title: `${cluster.name}: the pod MTU is ${sayNumber(packet)} bytes, below the required ${sayNumber(cluster.mtuFloor)}`,
        detail: [
          `Network ${network.name} carries ${sayNumber(network.mtu)} bytes${cluster.podMode === 'overlay' ? `, less what ${cluster.encapsulation} takes` : ''}.`,
          'Raise the network MTU, use a smaller encapsulation, or lower the MTU floor.',
        ].join(' '),
      },
    ),
  ];
}

/**
 * A link that carries less than a network on it sends: large packets depend on messages that say so, and where a filter drops
 * those, connections hang (RFC 4821 1, RFC 2923 2.1).
 */
export function narrowLinks({ links, networks }: Pick<Plan, 'links' | 'networks'>): Finding[] {
  return links.flatMap((link) => {
    const inside = largestPacket(link.mtu, link.encapsulation === 'none' ? [] : [link.encapsulation]).value;
    const wider = link.networkIds.flatMap((id) => byId(networks, id) ?? []).filter(({ mtu }) => mtu > inside);
    if (wider.length === 0) return [];
    return [
      finding('mtu.narrow-link', 'warning', [{ kind: 'links', id: link.id }], {
        title: [
          `${link.name} carries packets of up to ${sayNumber(inside)} bytes;`,
          `${wider.map(({ name }) => name).join(', ')} send${wider.length === 1 ? 's' : ''} larger ones`,
        ].join(' '),
        detail: [
          `Packets of ${sayNumber(Math.max(...wider.map(({ mtu }) => mtu)))} bytes need path MTU discovery on this way.`,
          `Let the messages for it pass every filter, or limit the TCP segment at the link to ${sayNumber(inside - 40)} bytes.`,
        ].join(' '),
      }),
    ];
  });
}
