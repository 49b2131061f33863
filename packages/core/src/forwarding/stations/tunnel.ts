import { containsAddress } from '../../address/index.js';
import { byId, rangeOf, translated, translationsOf } from '../../plan/index.js';
import type { Cluster, Member } from '../../plan/index.js';
import type { Message, RoadEvent } from '../../road/index.js';
import { podHost } from '../host.js';
import type { Host } from '../machine.js';
import type { Tunnel } from '../forwardingState.js';
import { tunnelLayers } from '../tunnelWire.js';
import { gatewayLayers, overNodes } from './node.js';
import { tooNarrow } from './lists.js';
import { premisesOf } from './station.js';
import { messageTo } from './messages.js';
import type { Station } from './station.js';
import { carried, go, isSame, spotOf } from './trip.js';
import type { Next, Trip } from './trip.js';

type At<Is extends Station['is']> = Station & { readonly is: Is };

/** What leaves a member shows its translated source; the answer of a service comes from the address that was asked. */
export function atGateway(trip: Trip, { crossing, gateway, premises }: At<'gateway'>): Next {
  const { journal } = trip;
  const { from } = crossing;
  const spot = spotOf(gateway);
  const service = trip.serviceOf(from);
  if (trip.packet.isAnswer && service !== undefined && isSame(service.pod.address, trip.packet.source))
    journal.change(
      spot,
      { ...trip.packet, source: service.address, port: service.port },
      { event: 'translated', translation: { by: 'service back' } },
    );
  const source = translated(trip.packet.source, translationsOf(from), 'out');
  if (!isSame(source, trip.packet.source))
    journal.change(
      spot,
      { ...trip.packet, source },
      {
        event: 'translated',
        translation: { by: 'shown', clusterId: from.clusterId },
        subject: { kind: 'members', id: from.id },
      },
    );
  return go({ is: 'tunnel', crossing, leg: 0, premises });
}

/** From gateway to gateway: the outer packets go their own way through networks, filters and devices. */
export function throughTunnel(trip: Trip, { crossing, leg }: At<'tunnel'>): Next {
  const { forwarding, journal } = trip;
  const { connection, stops } = crossing;
  const [from, to] = [stops[leg], stops[leg + 1]] as [Member, Member];
  const found = forwarding.tunnels.between(connection, from, to);
  const noGateway = (lack: (typeof found & { ok: false })['lack'] | undefined) => ({
    code: 'no-gateway' as const,
    connectionId: connection.id,
    memberId: from.id,
    lack,
    isHubMissing: false,
  });
  if (!found.ok) return trip.stop(noGateway(found.lack));
  const tunnel = found.value;
  const isForth = tunnel.from.member === from;
  const [here, there] = isForth ? [tunnel.from, tunnel.to] : [tunnel.to, tunnel.from];
  const { inner, fault, failed } = tunnel;
  const layers = tunnelLayers(connection);
  const outer = outerEvents(tunnel, isForth, layers, Math.min(journal.room, inner));
  if (fault !== undefined) {
    const met = failed?.isBack === isForth ? [] : outer;
    journal.events.push(...met.filter(({ event }) => event !== 'dropped' && event !== 'refused'));
    return trip.stop(failed?.failure ?? noGateway(undefined), {
      spot: spotOf(here.host),
      tunnel: { connectionId: connection.id, fault, failed },
      ...(failed === undefined ? {} : { packet: failed.packet }),
    });
  }
  journal.room = Math.min(journal.room, inner);
  journal.wraps = layers;
  const subject = { kind: 'connections', id: connection.id } as const;
  journal.write(spotOf(here.host), { event: 'wrapped', layers, to: there.host.label, inside: inner, subject });
  const within = { is: 'tunnel', connectionId: connection.id, layers } as const;
  const narrow = tooNarrow(trip.packet.destination, inner, subject, within);
  if (narrow !== undefined) return trip.stop(narrow);
  if (trip.bytes > inner)
    return trip.stop({
      code: 'too-big',
      room: inner,
      bytes: trip.bytes,
      subject,
      in: within,
      message: messageOfGateway(trip, here.host, leg),
    });
  journal.events.push(...outer.slice(1, -1));
  journal.wraps = [];
  journal.write(spotOf(there.host), { event: 'unwrapped' });
  return afterTunnel(trip, crossing, leg + 1, to);
}

/** What a gateway says of a packet that does not fit into its tunnel: in an overlay of its own cluster it is beside its sender. */
function messageOfGateway(trip: Trip, gateway: Host, leg: number): Message | undefined {
  const sender = trip.packet.isAnswer ? trip.flow.target : trip.flow.origin;
  // Of a gateway in between nothing is said: its message goes back through the tunnel that brought the packet.
  if (leg > 0 || sender?.cluster?.id !== gateway.cluster?.id) return undefined;
  if (sender?.kind === 'pod' && sender.cluster?.podMode === 'overlay') return { isHeard: true, why: undefined };
  return messageTo(trip, gateway.networkId);
}

function afterTunnel(trip: Trip, crossing: At<'tunnel'>['crossing'], leg: number, member: Member): Next {
  const { connection, to } = crossing;
  const carrying = trip.forwarding.tunnels.carrying(member, trip.packet.destination.family);
  if (!carrying.ok)
    return trip.stop({
      code: 'no-gateway',
      connectionId: connection.id,
      memberId: to.id,
      lack: carrying.lack,
      isHubMissing: false,
    });
  const gateway = carrying.value.host;
  const premises = premisesOf(gateway);
  return carried(
    member === to ? { is: 'member', member, gateway, premises } : { is: 'tunnel', crossing, leg, premises },
  );
}

/** What the outer packet met, as it is seen from the packet inside. */
function outerEvents({ forth, back }: Tunnel, isForth: boolean, layers: RoadEvent['wraps'], room: number): RoadEvent[] {
  return (isForth ? forth : back).map((event) => ({ ...event, wraps: [...event.wraps, ...layers], room }));
}

/** From a member's gateway to the pod that the packet is for: by its address, or chosen by the service that was asked. */
export function intoMember(trip: Trip, { member, gateway }: At<'member'>): Next {
  const { journal, forwarding } = trip;
  const cluster = byId(forwarding.parts.clusters, member.clusterId) as Cluster;
  const spot = spotOf(gateway);
  const destination = translated(trip.packet.destination, translationsOf(member), 'in');
  if (!isSame(destination, trip.packet.destination))
    journal.change(
      spot,
      { ...trip.packet, destination },
      {
        event: 'translated',
        translation: { by: 'known', clusterId: cluster.id },
        subject: { kind: 'members', id: member.id },
      },
    );
  const service = trip.serviceOf(member);
  if (!trip.packet.isAnswer && service !== undefined && isSame(service.address, destination))
    journal.change(
      spot,
      { ...trip.packet, destination: service.pod.address, port: service.podPort },
      { event: 'chosen', choice: { by: 'gateway' } },
    );
  const inService = forwarding
    .rangesOf(cluster.id)
    .find(
      ({ purpose, prefix }) => purpose === 'service' && containsAddress(rangeOf({ prefix }), trip.packet.destination),
    );
  if (inService !== undefined)
    return trip.stop(
      {
        code: 'service-address',
        networkId: cluster.networkId,
        clusterId: cluster.id,
        prefix: inService.prefix,
        isAcross: true,
      },
      { spot },
    );
  const pod = podAt(trip, cluster);
  if (!pod.ok) return trip.stop({ code: 'nobody', networkId: cluster.networkId, lack: pod.lack }, { spot });
  return go(overNodes(gateway, pod.value, cluster, gatewayLayers(cluster)));
}

/** The pod of the flow at the packet's address, else another one of the cluster that may have it. */
function podAt({ flow, packet, forwarding }: Trip, cluster: Cluster): ReturnType<typeof podHost> {
  const party: Host | undefined = packet.isAnswer ? flow.origin : (flow.target ?? flow.service?.pod);
  const isParty =
    party?.kind === 'pod' && party.cluster?.id === cluster.id && isSame(party.address, packet.destination);
  if (isParty) return { ok: true, value: party };
  const part = { clusterId: cluster.id, nodePoolId: null, zone: '' };
  const other = podHost(forwarding, part, packet.destination.family, 'other');
  return other.ok ? { ok: true, value: { ...other.value, address: packet.destination } } : other;
}
