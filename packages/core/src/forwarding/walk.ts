import type { Cluster, Encapsulation } from '../plan/index.js';
import { TRANSLATED_PORTS } from '../road/index.js';
import type { Failed, Packet, RoadEvent } from '../road/index.js';
import type { ForwardingState } from './forwardingState.js';
import type { Host } from './machine.js';
import { atFirewall, atNat, atUntranslate } from './stations/devices.js';
import { atHost, deliver } from './stations/delivery.js';
import { onInternet } from './stations/internet.js';
import { passes, tooBig } from './stations/lists.js';
import { atNode, fromMachine, fromPod, overNodes, wrapAtNode } from './stations/node.js';
import { goneAt, groundOf, groundOfHost } from './standing.js';
import { premisesOf } from './stations/station.js';
import type { Station } from './stations/station.js';
import { atTable, overLink } from './stations/table.js';
import { newFlow, spotOf, Trip } from './stations/trip.js';
import type { FlowState, Next } from './stations/trip.js';
import { atGateway, intoMember, throughTunnel } from './stations/tunnel.js';

/** What a packet met, and how far it came. */
interface Met {
  readonly events: readonly RoadEvent[];
  readonly packet: Packet;
  /** Largest packet that passed whole, in bytes. */
  readonly room: number;
  /** Stateful firewalls that it passed. */
  readonly firewalls: ReadonlySet<string>;
}

/** Where a walk ended. */
export type Walked = Met &
  ({ readonly ok: true; readonly host: Host } | { readonly ok: false; readonly failed: Failed });

/** Walks a packet from a host as far as it comes. An answer knows the flow that it belongs to. */
export function walk(forwarding: ForwardingState, from: Host, packet: Packet, bytes: number, flow: FlowState): Walked {
  const trip = new Trip(forwarding, packet, bytes, flow, follow);
  trip.journal.write(spotOf(from), { event: 'sent' });
  const first = firstStation(from);
  const lost = goneFrom(trip, { is: 'host', host: from, premises: first.premises });
  if (lost !== undefined) return ended(trip, { ok: false, failed: lost });
  if (packet.source.family !== packet.destination.family) {
    const failed = trip.failed({ code: 'family', deviceId: undefined, networkId: from.networkId });
    return ended(trip, { ok: false, failed });
  }
  // What a network does not take whole is not sent into it.
  const failed =
    from.kind === 'internet' ? undefined : tooBig(trip, trip.mtuOf(from.networkId), networkOf(from), from.networkId);
  return failed === undefined ? follow(trip, first) : ended(trip, { ok: false, failed });
}

/** The way between two nodes of a cluster inside what wraps packets there: what lists say of it, and how much fits. */
export function nodeLeg(
  forwarding: ForwardingState,
  cluster: Cluster,
  from: Host,
  to: Host,
  layers: readonly Encapsulation[],
): { readonly failed: Failed | undefined; readonly room: number; readonly events: readonly RoadEvent[] } {
  const packet: Packet = {
    source: from.address,
    destination: to.address,
    protocol: 'tcp',
    port: 0,
    clientPorts: TRANSLATED_PORTS,
    isAnswer: false,
  };
  const trip = new Trip(forwarding, packet, 0, newFlow(from, to, false, to.address), follow);
  trip.journal.room = trip.mtuOf(cluster.networkId);
  const walked = follow(trip, overNodes(from, to, cluster, layers, 'end'));
  return { failed: walked.ok ? undefined : walked.failed, room: walked.room, events: walked.events };
}

/** From station to station: between them the lists of what is left and entered hold the packet. */
function follow(trip: Trip, first: Station): Walked {
  let station = first;
  for (;;) {
    const next = handled(trip, station);
    if (next.does === 'stop') return ended(trip, { ok: false, failed: next.failed });
    if (next.does === 'arrive') return ended(trip, { ok: true, host: next.host });
    const failed = next.isCarried ? undefined : passes(trip, station.premises, next.to.premises);
    const lost = failed ?? goneFrom(trip, next.to);
    if (lost !== undefined) return ended(trip, { ok: false, failed: lost });
    station = next.to;
  }
}

/** What is at a station stands in a zone: of what is lost nothing is taken, whatever led there. */
function goneFrom(trip: Trip, station: Station): Failed | undefined {
  const { forwarding } = trip;
  const { zones, devices } = forwarding.faults;
  if (devices.size > 0 && (station.is === 'nat' || station.is === 'firewall')) {
    const { id, name } = station.is === 'nat' ? station.device : station.firewall;
    if (devices.has(id)) return trip.failed({ code: 'device-lost', networkId: station.premises.networkId, at: name });
  }
  if (zones.size === 0) return undefined;
  const [ground, name] =
    station.is === 'host'
      ? [groundOfHost(forwarding, station.host), station.host.label]
      : station.is === 'nat' || station.is === 'firewall'
        ? [groundOf(forwarding, station.subnet), (station.is === 'nat' ? station.device : station.firewall).name]
        : [undefined, ''];
  if (ground === undefined) return undefined;
  const failure = goneAt(forwarding, ground, name, station.premises.networkId);
  return failure === undefined ? undefined : trip.failed(failure);
}

function handled(trip: Trip, station: Station): Next {
  switch (station.is) {
    case 'machine':
      return fromMachine(trip, station);
    case 'pod':
      return fromPod(trip, station);
    case 'node':
      return atNode(trip, station);
    case 'wrap':
      return wrapAtNode(trip, station);
    case 'gateway':
      return atGateway(trip, station);
    case 'tunnel':
      return throughTunnel(trip, station);
    case 'member':
      return intoMember(trip, station);
    case 'table':
      return atTable(trip, station);
    case 'link':
      return overLink(trip, station);
    case 'nat':
      return atNat(trip, station);
    case 'firewall':
      return atFirewall(trip, station);
    case 'untranslate':
      return atUntranslate(trip, station);
    case 'internet':
      return onInternet(trip, station);
    case 'delivery':
      return deliver(trip, station);
    case 'host':
      return atHost(trip, station);
    case 'end':
      return { does: 'arrive', host: station.host };
  }
}

function firstStation(from: Host): Station {
  const premises = premisesOf(from);
  if (from.kind === 'internet') return { is: 'internet', fromNetworkId: '', sender: undefined, premises };
  if (from.kind === 'pod') return { is: 'pod', pod: from, premises };
  const { cluster } = from;
  if (cluster === undefined) return { is: 'machine', machine: from, premises };
  return { is: 'node', sender: from, node: from, cluster, premises };
}

function ended(
  trip: Trip,
  end: { readonly ok: true; readonly host: Host } | { readonly ok: false; readonly failed: Failed },
): Walked {
  const { events, room, packet } = trip.journal;
  const { firewalls } = trip;
  // Field by field: this is done for every packet, and spreading is slow.
  return end.ok
    ? { ok: true, host: end.host, events, room, packet, firewalls }
    : { ok: false, failed: end.failed, events, room, packet, firewalls };
}

function networkOf({ networkId }: Host) {
  return { kind: 'networks', id: networkId } as const;
}
