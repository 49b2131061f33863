import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { podPacket } from '../podnetwork/index.js';
import { largestPacket, MIN_IPV6 } from '../wire/index.js';
import type { ClusterResult } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Packets between pods that must pass whole, and do not fit what the overlay leaves of the network's MTU. */
export function mtuBelowFloor({ cluster, network }: ClusterResult): Finding[] {
  const packet = podPacket(cluster, network).value;
  if (cluster.family !== 'ipv4' && packet < MIN_IPV6) {
    return [
      finding('mtu.too-narrow', 'error', [{ kind: 'clusters', id: cluster.id }], {
        cluster: cluster.name,
        packet,
        network: network.name,
        mtu: network.mtu,
      }),
    ];
  }
  if (packet >= cluster.mtuFloor) return [];
  return [
    finding(
      'mtu.below-floor',
      cluster.podPreferences.includes('mtu floor') ? 'warning' : 'error',
      [{ kind: 'clusters', id: cluster.id }],
      {
        cluster: cluster.name,
        packet,
        floor: cluster.mtuFloor,
        network: network.name,
        mtu: network.mtu,
        encapsulation: cluster.podMode === 'overlay' ? cluster.encapsulation : '',
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
        link: link.name,
        inside,
        wider: wider.map(({ name }) => name),
        largest: Math.max(...wider.map(({ mtu }) => mtu)),
      }),
    ];
  });
}
