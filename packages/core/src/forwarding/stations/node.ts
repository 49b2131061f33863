import { containsAddress } from '../../address/index.js';
import type { Address } from '../../address/index.js';
import { byId, prefixList, rangeOf } from '../../plan/index.js';
import type { Cluster, Encapsulation } from '../../plan/index.js';
import { layersOf } from '../../podnetwork/index.js';
import { TRANSLATED_PORTS } from '../../road/index.js';
import type { Failure } from '../../road/index.js';
import { largestPacket } from '../../wire/index.js';
import type { Crossing } from '../crossings.js';
import { another, hostAt, podHost } from '../host.js';
import type { Host } from '../machine.js';
import { outerService } from '../tunnelWire.js';
import { tooNarrow } from './lists.js';
import { policiesOf } from './policies.js';
import { outside, premisesOf } from './station.js';
import type { Premises, Station } from './station.js';
import { tableFrom } from './table.js';
import { go, isSame, spotOf } from './trip.js';
import type { Next, Trip } from './trip.js';

type At<Is extends Station['is']> = Station & { readonly is: Is };

/** A machine sends by the table of its subnet; a load balancer answers on the internet what was asked there. */
export function fromMachine(trip: Trip, { machine }: At<'machine'>): Next {
  const isOnInternet = machine.kind === 'balancer' && machine.isPublic && trip.packet.isAnswer;
  if (isOnInternet) return go({ is: 'internet', fromNetworkId: '', sender: undefined, premises: outside });
  return go(tableFrom(trip, machine));
}

/** A pod sends: its network policies hold it, then its node takes the packet. */
export function fromPod(trip: Trip, { pod, premises }: At<'pod'>): Next {
  const refused = trip.packet.isAnswer ? undefined : policiesOf(trip, 'egress', pod, trip.flow.target);
  if (refused !== undefined) return { does: 'stop', failed: refused };
  const { node = pod, cluster } = pod;
  if (cluster === undefined) return go(tableFrom(trip, pod));
  return go({ is: 'node', sender: pod, node, cluster, premises });
}

/** What a cluster's own node does before a packet leaves it: services, its own pods, translation of overlay pods. */
export function atNode(trip: Trip, { sender, node, cluster, premises }: At<'node'>): Next {
  const { destination, isAnswer } = trip.packet;
  if (trip.flow.target?.isNeighbour === true) return withinNode(trip, node, cluster, premises);
  const own = trip.forwarding
    .rangesOf(cluster.id)
    .find(
      ({ purpose, prefix }) =>
        (purpose === 'service' || (purpose === 'pod' && cluster.podMode === 'overlay')) &&
        containsAddress(rangeOf({ prefix }), destination),
    );
  if (own !== undefined && !isAnswer && trip.flow.isOutside)
    return trip.stop({
      code: 'shadowed',
      clusterId: cluster.id,
      allocationId: own.id,
      purpose: own.purpose,
      prefix: own.prefix,
    });
  if (own?.purpose === 'service')
    return trip.stop({
      code: 'service-address',
      networkId: sender.networkId,
      clusterId: cluster.id,
      prefix: own.prefix,
      isAcross: false,
    });
  if (own !== undefined) return toOwnPod(trip, node, cluster);
  if (sender.kind === 'pod') {
    const [crossing, second] = trip.forwarding.tunnels.crossingsTo(cluster.id, destination);
    if (crossing !== undefined) return toGateway(trip, node, cluster, crossing, second);
    const peer = encryptedPeer(trip, cluster, destination);
    if (peer !== undefined) return go(overNodes(node, peer, cluster, layersOf(cluster, cluster.podMode)));
    if (translatesPods(cluster, destination)) {
      // The node that a flow came to knows it; its answers get back what they had.
      if (!isAnswer) trip.translate(spotOf(node), `node ${cluster.id}`, node.address, { by: 'node' });
      return go(tableFrom(trip, node));
    }
  }
  return go(tableFrom(trip, node, premises));
}

/** Between a node and its pods nothing leaves it; what they may send at once is what their interface takes (common practice). */
function withinNode(trip: Trip, node: Host, cluster: Cluster, premises: Premises): Next {
  const { origin, target } = trip.flow;
  const { isAnswer, destination } = trip.packet;
  const layers = layersOf(cluster, cluster.podMode);
  const room = largestPacket(trip.mtuOf(cluster.networkId), layers, node.address.family).value;
  trip.journal.room = Math.min(trip.journal.room, room);
  const failure = outgrown(trip, destination, room, cluster, layers);
  if (failure !== undefined) return trip.stop(failure);
  return go({ is: 'host', host: isAnswer || target === undefined ? origin : target, premises });
}

/** Why a packet does not fit into what the pod network of a cluster leaves; its own node says so. */
function outgrown(
  trip: Trip,
  to: Address,
  room: number,
  cluster: Cluster,
  layers: readonly Encapsulation[],
): Failure | undefined {
  const subject = { kind: 'networks', id: cluster.networkId } as const;
  const within = { is: 'nodes', networkId: cluster.networkId, layers } as const;
  const narrow = tooNarrow(to, room, subject, within);
  if (narrow !== undefined || trip.bytes <= room) return narrow;
  return { code: 'too-big', room, bytes: trip.bytes, subject, in: within, message: undefined };
}

/** Overlay pods leave with their node's address, unless the cluster keeps their own for the destination (handbook: forwarding). */
function translatesPods({ podMode, untranslated }: Cluster, destination: Address): boolean {
  return podMode === 'overlay' && !prefixList(untranslated).some((prefix) => containsAddress(prefix, destination));
}

/**
 * The pod of the cluster that a packet of its encrypted pod network goes to, when its nodes wrap the packet though
 * pods are not in an overlay.
 */
function encryptedPeer(trip: Trip, cluster: Cluster, destination: Address): Host | undefined {
  const { forwarding } = trip;
  if (layersOf(cluster, cluster.podMode).length === 0 || cluster.podMode === 'overlay') return undefined;
  const target = askedPod(trip, cluster) ?? hostAt(forwarding, cluster.networkId, destination);
  return target?.cluster?.id === cluster.id && target.kind === 'pod' ? target : undefined;
}

function toOwnPod(trip: Trip, node: Host, cluster: Cluster): Next {
  const { packet, flow, forwarding } = trip;
  const { origin } = flow;
  const layers = layersOf(cluster, cluster.podMode);
  // The answer goes back to the pod that asked, and to its node; or to the node itself at its address in the overlay.
  const isBack = packet.isAnswer && !flow.translations.has(`node ${cluster.id}`) && origin.cluster?.id === cluster.id;
  if (isBack && (origin.kind === 'pod' || origin.kind === 'node')) return go(overNodes(node, origin, cluster, layers));
  const asked = askedPod(trip, cluster);
  if (asked !== undefined) return go(overNodes(node, asked, cluster, layers));
  const { family } = packet.destination;
  const other = podHost(forwarding, { clusterId: cluster.id, nodePoolId: null, zone: '' }, family, 'other');
  if (!other.ok) return trip.stop({ code: 'nobody', networkId: node.networkId, lack: other.lack });
  return go(overNodes(node, { ...another(other.value), address: packet.destination }, cluster, layers));
}

/** The pod of a cluster that is asked for, where the packet is for it: it runs on a node of its own zone and pool. */
function askedPod({ packet, flow: { target } }: Trip, { id }: Cluster): Host | undefined {
  const isAsked = target?.kind === 'pod' && target.cluster?.id === id && isSame(target.address, packet.destination);
  return isAsked && !packet.isAnswer ? target : undefined;
}

/** From node to node of one cluster, to a machine there. */
export function overNodes(
  node: Host,
  target: Host,
  cluster: Cluster,
  layers: readonly Encapsulation[],
  end: 'host' | 'end' = 'host',
): Station {
  const other = target.node ?? (target.kind === 'pod' ? node : target);
  const onward: Station = { is: end, host: target, premises: premisesOf(other) };
  return { is: 'wrap', node, other, cluster, layers, onward, premises: premisesOf(node) };
}

/** To the gateway of the own cluster, and by the tunnels of a connection on. */
function toGateway(trip: Trip, node: Host, cluster: Cluster, crossing: Crossing, second: Crossing | undefined): Next {
  const { connection, from, to, isHubMissing } = crossing;
  const spot = spotOf(node);
  if (second !== undefined)
    return trip.stop(
      {
        code: 'ambiguous',
        networkId: node.networkId,
        between: { is: 'members', connectionId: connection.id, clusterIds: [to.clusterId, second.to.clusterId] },
      },
      { spot },
    );
  const first = trip.forwarding.tunnels.carrying(from, node.address.family);
  if (isHubMissing || !first.ok)
    return trip.stop(
      {
        code: 'no-gateway',
        connectionId: connection.id,
        memberId: from.id,
        lack: isHubMissing || first.ok ? undefined : first.lack,
        isHubMissing,
      },
      { spot },
    );
  const gateway = first.value.host;
  const layers = gatewayLayers(cluster);
  const onward: Station = { is: 'gateway', crossing, gateway, premises: premisesOf(gateway) };
  return go({ is: 'wrap', node, other: gateway, cluster, layers, onward, premises: premisesOf(node) });
}

/**
 * What wraps packets between a node and a gateway of its cluster: what its pod network does, and VXLAN where that wraps
 * nothing, since networks know no ranges of other clusters.
 */
export function gatewayLayers(cluster: Cluster): readonly Encapsulation[] {
  const layers = layersOf(cluster, cluster.podMode);
  return layers.length > 0 ? layers : ['vxlan'];
}

/** From node to node: lists on the way see the outer packet, and what is inside has less room. */
export function wrapAtNode(trip: Trip, { node, other, cluster, layers, onward }: At<'wrap'>): Next {
  const { journal } = trip;
  const inner = journal.packet;
  const network = byId(trip.forwarding.parts.networks, cluster.networkId);
  const room = largestPacket(network?.mtu ?? 0, layers, node.address.family).value;
  trip.carried = { inner, other, clusterId: cluster.id, onward };
  journal.wraps = layers;
  journal.packet = {
    source: node.address,
    destination: other.address,
    ...outerService(layers[0] ?? 'none'),
    clientPorts: TRANSLATED_PORTS,
    isAnswer: false,
  };
  journal.room = Math.min(journal.room, room);
  const isWrapped = layers.length > 0;
  if (isWrapped)
    journal.write(spotOf(node), {
      event: 'wrapped',
      layers,
      to: other.address,
      inside: room,
      subject: { kind: 'clusters', id: cluster.id },
    });
  const failure = outgrown(trip, inner.destination, room, cluster, layers);
  if (failure !== undefined) return trip.stop(failure);
  // The outer packet goes by the tables of the network, as any other.
  return go(isWrapped ? tableFrom(trip, node) : { is: 'host', host: other, premises: premisesOf(other) });
}
