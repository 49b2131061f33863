import { joinOfNetworks } from '../domains/index.js';
import type { Domains } from '../domains/index.js';
import { byId } from '../plan/index.js';
import type { Cluster, Encapsulation, Network, Plan } from '../plan/index.js';
import { figure } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { efficiency, largestPacket, segmentSize } from '../wire/index.js';

/** A way that a cluster's packets go, and the largest that passes whole. */
export interface WirePath {
  readonly to: string;
  /** The links on the way; empty inside the cluster. */
  readonly by: string;
  readonly packet: Figure;
  readonly segment: Figure;
  /** Share of the wire that carries TCP payload in such packets, where the way is narrowest. */
  readonly efficiency: Figure;
  /** Whether packets that leave the sender whole meet a link that is too small for them. */
  readonly isNarrowing: boolean;
  readonly isPlanned: boolean;
}

const BARE: Encapsulation = 'none';

/** A part of a way: a network or a link. */
interface Part {
  readonly name: string;
  readonly mtu: number;
  readonly layer: Encapsulation;
}

/** What wraps a cluster's pod packets between nodes in a mode, outermost first: what it encrypts with, and within that the overlay. */
export function layersOf(
  { encapsulation, encryption }: Pick<Cluster, 'encapsulation' | 'encryption'>,
  mode: Cluster['podMode'],
): readonly Encapsulation[] {
  const layers: readonly Encapsulation[] = [encryption, mode === 'overlay' ? encapsulation : 'none'];
  return layers.filter((layer) => layer !== 'none');
}

/** The largest packet between two pods on different nodes of one cluster; nodes of IPv6 alone wrap them in IPv6. */
export function podPacket(cluster: Cluster, network: Network, mode: Cluster['podMode'] = cluster.podMode): Figure {
  return largestPacket(network.mtu, layersOf(cluster, mode), cluster.family === 'ipv6' ? 6 : 4);
}

/**
 * Every way the plan has from a cluster: between its nodes, and to each network its own reaches. Packets that leave the
 * cluster carry a node's or a routed pod's address and are not wrapped by the overlay; tunnels wrap them on their part.
 */
export function wirePaths(plan: Plan, cluster: Cluster, domains: Domains): WirePath[] {
  const home = byId(plan.networks, cluster.networkId);
  if (home === undefined) return [];
  const family = cluster.family === 'ipv6' ? 6 : 4;
  const inside = podPacket(cluster, home);
  const own: WirePath = {
    to: 'pods on other nodes',
    by: '',
    packet: inside,
    segment: segmentSize(inside.value, family),
    efficiency: efficiency(home.mtu, segmentSize(inside.value, family).value),
    isNarrowing: false,
    isPlanned: false,
  };
  const others = plan.networks.flatMap((network): WirePath[] => {
    const join = network.id === home.id ? undefined : joinOfNetworks(plan, domains, home.id, network.id);
    if (join === undefined || join.hops.length === 0) return [];
    const parts: Part[] = [
      { name: `network ${home.name}`, mtu: home.mtu, layer: BARE },
      ...join.hops.flatMap(({ link, toNetworkId }) => [
        { name: link.name, mtu: link.mtu, layer: link.encapsulation },
        {
          name: `network ${byId(plan.networks, toNetworkId)?.name ?? ''}`,
          mtu: byId(plan.networks, toNetworkId)?.mtu ?? link.mtu,
          layer: BARE,
        },
      ]),
    ];
    const packet = narrowest(parts);
    return [
      {
        to: network.name,
        by: join.hops.map(({ link }) => link.name).join(', '),
        packet,
        segment: segmentSize(packet.value, family),
        efficiency: efficiency(narrowestOf(parts).mtu, segmentSize(packet.value, family).value),
        isNarrowing: packet.value < home.mtu,
        isPlanned: join.isPlanned,
      },
    ];
  });
  return [own, ...others];
}

function passes({ mtu, layer }: Part): number {
  return largestPacket(mtu, layer === 'none' ? [] : [layer]).value;
}

function narrowestOf(parts: readonly Part[]): Part {
  return parts.reduce((least, part) => (passes(part) < passes(least) ? part : least));
}

function narrowest(parts: readonly Part[]): Figure {
  const sizes = parts.map((part) => ({ name: part.name, value: passes(part) }));
  const value = Math.min(...sizes.map((size) => size.value));
  return figure(value, 'bytes', () => ({
    title: 'Largest packet on the whole way',
    formula: 'the smallest of its parts, each MTU less what wraps the packet there',
    inputs: sizes.map((size) => ({ name: size.name, value: `${size.value} bytes` })),
    steps: [`the smallest is ${value}`],
    result: `${value} bytes`,
    source: { mark: 'S', text: 'RFC 8201, RFC 1191: the path MTU is that of its smallest link' },
  }));
}
