import { formatAddress, parseAddress } from '../address/index.js';
import type { Address, Family } from '../address/index.js';
import { byId, hostPrefix, USUAL_BYTES, zonesOfCluster } from '../plan/index.js';
import type { Connection, Member, Protocol } from '../plan/index.js';
import { found, lacking } from '../road/index.js';
import type { Found, TunnelFault } from '../road/index.js';
import { largestPacket } from '../wire/index.js';
import type { ForwardingState, Gateway, Tunnel } from './forwardingState.js';
import { isPublicAddress, isThere, nodeHost } from './host.js';
import type { Host } from './machine.js';
import { idsOn } from './idsOn.js';
import { traceFlow } from './trace.js';
import type { FlowTrace } from './trace.js';
import { openingsOf, outerService, tunnelLayers } from './tunnelWire.js';

/** The zones of a member’s gateways, each in turn. */
export function gatewayZones(
  forwarding: Pick<ForwardingState, 'parts' | 'rangesOf'>,
  member: Member,
): readonly string[] {
  const cluster = byId(forwarding.parts.clusters, member.clusterId);
  const site = byId(forwarding.parts.sites, cluster?.siteId ?? '');
  const has = new Set(
    forwarding
      .rangesOf(member.clusterId)
      .filter(({ purpose }) => purpose === 'node')
      .map(({ zone }) => zone),
  );
  const own = zonesOfCluster(cluster, site);
  const zones =
    member.gatewayZones.length > 0
      ? member.gatewayZones
      : has.has('') || has.size === 0
        ? own
        : own.filter((zone) => has.has(zone));
  return Array.from({ length: member.gateways }, (_, i) => zones[i % Math.max(1, zones.length)] ?? '');
}

/** A gateway of a member, or why it has no address yet. */
export function gatewayOf(forwarding: ForwardingState, member: Member, index: number, wanted?: Family): Found<Gateway> {
  const cluster = byId(forwarding.parts.clusters, member.clusterId);
  const family: Family = wanted ?? (cluster?.family === 'ipv6' ? 6 : 4);
  const zone = gatewayZones(forwarding, member)[index] ?? '';
  const node = nodeHost(forwarding, { clusterId: member.clusterId, nodePoolId: null, zone }, family, 2 + index);
  if (!node.ok) return node;
  const connection = byId(forwarding.parts.connections, member.connectionId);
  const what = connection?.method === 'relays' ? 'relay' : 'gateway';
  const label = `${what} ${index + 1} of ${cluster?.name ?? ''}`;
  const stated = member.gatewayAddresses[index];
  if (stated === undefined)
    return found({ member, index, host: { ...node.value, label }, address: node.value.address });
  const address = hostPrefix(stated);
  const isPublic = isPublicAddress(address);
  const host: Host = isPublic
    ? { ...node.value, label, isPublic, publicAddress: address }
    : { ...node.value, label, address };
  return found({ member, index, host, address });
}

/** The gateway of a member that carries: the first that is there. */
export function carrying(forwarding: ForwardingState, member: Member, family?: Family): Found<Gateway> {
  const { gateways, members, mute } = forwarding.faults;
  const { clusterId } = member;
  const siteId = byId(forwarding.parts.clusters, clusterId)?.siteId ?? '';
  const index = members.has(member.id)
    ? -1
    : gatewayZones(forwarding, member).findIndex(
        (zone, i) => !gateways.has(`${member.id} ${i}`) && isThere(forwarding, siteId, zone),
      );
  if (index < 0) return lacking({ code: 'gateway.none', clusterId, isCutOff: members.has(member.id) });
  if (index > 0 && mute.has(member.connectionId)) return lacking({ code: 'gateway.mute', clusterId, index });
  return gatewayOf(forwarding, member, index, family);
}

/** Finds out whether a tunnel or a link between two gateways comes up: who may dial does, and its packets have to come there and back. */
export function makeTunnel(forwarding: ForwardingState, connection: Connection, one: Gateway, other: Gateway): Tunnel {
  const [first, second] = one.member.id < other.member.id ? [one, other] : [other, one];
  if (connection.method === 'tunnels' && connection.tunnel === 'vxlan')
    return undialled(forwarding, connection, first, second);
  const ends = [
    [first, second],
    [second, first],
  ] as const;
  const dialling = ends.filter(([from, to]) => from.member.dials !== 'is dialled' && to.member.dials !== 'dials');
  if (dialling.length === 0) {
    return {
      connection,
      from: first,
      to: second,
      isUp: false,
      fault: {
        is: 'no dialler',
        from: first.host.label,
        to: second.host.label,
        doBothDial: first.member.dials === 'dials',
      },
      failed: undefined,
      forth: [],
      back: [],
      room: 0,
      inner: 0,
      dependsOn: restsOf(connection, first, second, []),
    };
  }
  let last: Tunnel | undefined;
  const tried = new Set<string>();
  for (const [from, to] of dialling) {
    const made = dialled(forwarding, connection, from, to);
    for (const id of made.dependsOn) tried.add(id);
    last ??= made;
    if (made.isUp) last = made;
    if (made.isUp) break;
  }
  return { ...(last as Tunnel), dependsOn: tried };
}

/** VXLAN is not dialled: each side sends to the other’s port, and neither is the answer to the other (RFC 7348 4.1). */
function undialled(forwarding: ForwardingState, connection: Connection, from: Gateway, to: Gateway): Tunnel {
  const [carries] = openingsOf(connection);
  const { protocol, port } = carries ?? { protocol: 'udp', port: 0 };
  const [forth, back] = [
    dial(forwarding, from, to.address, to.host, protocol, port),
    dial(forwarding, to, from.address, from.host, protocol, port),
  ];
  const meeting = rendezvousFlows(forwarding, connection, [from, to]);
  const isLost = ({ failed }: FlowTrace) => failed?.isBack === false;
  const failing = [forth, back].find(isLost) ?? meeting.find(({ verdict }) => verdict !== 'pass');
  const room = Math.min(forth.forth.at(-1)?.room ?? 0, back.forth.at(-1)?.room ?? 0);
  return {
    connection,
    from,
    to,
    isUp: failing === undefined,
    fault: failing === undefined ? undefined : lostBetween(failing === back ? [to, from] : [from, to], undefined),
    failed: failing?.failed === undefined ? undefined : { ...failing.failed, isBack: failing === back },
    forth: forth.forth,
    back: back.forth,
    room,
    inner: largestPacket(room, tunnelLayers(connection), from.host.address.family).value,
    dependsOn: restsOf(connection, from, to, [forth, back, ...meeting]),
  };
}

function dialled(forwarding: ForwardingState, connection: Connection, from: Gateway, to: Gateway): Tunnel {
  const flows = openingsOf(connection).map(({ protocol, port }) =>
    dial(forwarding, from, to.address, to.host, protocol, port),
  );
  const meeting = rendezvousFlows(forwarding, connection, [from, to]);
  const all = [...flows, ...meeting];
  const [main] = flows;
  const failing = all.find(({ verdict }) => verdict !== 'pass');
  const unnatted =
    connection.method === 'tunnels' && outerService(connection.tunnel).protocol === 'esp'
      ? main?.forth.find(({ event, spot }) => event === 'translated' && spot.kind !== 'node')
      : undefined;
  const fault: TunnelFault | undefined =
    failing !== undefined
      ? lostBetween([from, to], to.address)
      : unnatted === undefined
        ? undefined
        : { is: 'translated', device: unnatted.spot.name };
  const room = main?.room ?? 0;
  const layers = tunnelLayers(connection);
  return {
    connection,
    from,
    to,
    isUp: fault === undefined,
    fault,
    failed: failing?.failed,
    forth: main?.forth ?? [],
    back: main?.back ?? [],
    room,
    inner: layers.length === 0 ? room : largestPacket(room, layers, from.host.address.family).value,
    dependsOn: restsOf(connection, from, to, all),
  };
}

function lostBetween([from, to]: readonly [Gateway, Gateway], at: Address | undefined): TunnelFault {
  return { is: 'lost', from: from.host.label, to: to.host.label, at };
}

function dial(
  forwarding: ForwardingState,
  from: Gateway,
  address: Address,
  host: Host | undefined,
  protocol: Protocol,
  port: number,
): FlowTrace {
  return traceFlow(
    forwarding,
    from.host,
    { address, protocol, port, host, isOutside: true, label: host?.label ?? formatAddress(address) },
    USUAL_BYTES,
  );
}

/** The ways of both gateways to the place where they find each other. A host name is asked for by those who know names. */
function rendezvousFlows(
  forwarding: ForwardingState,
  { rendezvous, rendezvousPort }: Connection,
  gateways: readonly Gateway[],
): FlowTrace[] {
  const at = parseAddress(rendezvous);
  if (!at.ok) return [];
  return gateways.map((gateway) => dial(forwarding, gateway, at.value, undefined, 'tcp', rendezvousPort));
}

function restsOf(connection: Connection, from: Gateway, to: Gateway, flows: readonly FlowTrace[]): ReadonlySet<string> {
  return idsOn(flows).add(connection.id).add(from.member.id).add(to.member.id);
}
