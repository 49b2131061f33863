import { formatAddress, formatPrefix } from '../address/index.js';
import { byId, sayHop } from '../plan/index.js';
import type { Failed, Failure, Narrow, PolicyDecision, TunnelFault } from '../road/index.js';
import { beginning, sayNumber } from '../working/index.js';
import { sayLack } from './lacks.js';
import { deviceKind, deviceName, nameIn, sayPacket } from './names.js';
import type { Names } from './names.js';
import { sayRowSource } from './tables.js';

/** Why a packet went no further; of a tunnel that does not come up, what its own packets met. */
export function sayFailed(names: Names, failed: Failed): string {
  const { tunnel } = failed;
  if (tunnel === undefined) return sayFailure(names, failed);
  const why = sayTunnelFault(names, tunnel.fault, tunnel.failed);
  return `The tunnel of ${nameIn(names.connections, tunnel.connectionId)} does not come up: ${why}`;
}

/** Why a tunnel or link between two gateways does not come up. */
export function sayTunnelFault(names: Names, fault: TunnelFault, failed: Failed | undefined): string {
  switch (fault.is) {
    case 'no dialler': {
      const waits = fault.doBothDial ? 'Both only dial, and neither lets itself be dialled' : 'Both wait to be dialled';
      return `${waits}: ${fault.from} and ${fault.to} never meet.`;
    }
    case 'translated':
      return [
        `${fault.device} translates addresses on the way, and ESP has no ports by which its answers would be known:`,
        'it takes ESP with NAT traversal (RFC 3948).',
      ].join(' ');
    case 'lost': {
      const what =
        fault.at === undefined
          ? `Packets of ${fault.from} do not come to ${fault.to}.`
          : `${fault.from} cannot connect to ${fault.to} at ${formatAddress(fault.at)}.`;
      return failed === undefined ? what : `${what} ${sayFailed(names, failed)}`;
    }
  }
}

/** What network policies say of a call. */
export function sayPolicy({ isAllowed, direction, policies, own, peer, protocol, port }: PolicyDecision): string {
  const call = `${protocol} ${port} ${direction === 'ingress' ? 'from' : 'to'} ${peer}`;
  const named = policies.map(({ name }) => name).join(', ');
  if (isAllowed) return policies.length === 0 ? '' : `The network policy ${named} allows ${own} ${call}.`;
  const select = policies.length === 1 ? `The network policy ${named} selects` : `The network policies ${named} select`;
  return `${select} ${own} for ${direction}, and no rule allows ${call}.`;
}

function sayFailure(names: Names, { failure, spot, packet }: Failed): string {
  const destination = formatAddress(packet.destination);
  const network = 'networkId' in failure ? nameIn(names.networks, failure.networkId) : '';
  switch (failure.code) {
    case 'no-route': {
      const table = nameIn(names.routeTables, failure.tableId ?? '');
      return `Network ${network}, ${table === '' ? 'no route table' : `the route table ${table}`}: no route to ${destination}.`;
    }
    case 'no-taker':
      return `Nobody on ${nameIn(names.links, failure.linkId)} advertises a route to ${destination}.`;
    case 'route-drops':
      return `${sayRoute(names, failure.routeId)} drops it.`;
    case 'hop-gone': {
      const route = byId(names.routes, failure.routeId);
      return `${sayRoute(names, failure.routeId)} leads to ${route === undefined ? 'nothing' : sayHop(names, route)}.`;
    }
    case 'zone-lost':
      return failure.zone === ''
        ? `${beginning(failure.at)} stands in lost zones alone.`
        : `${beginning(failure.at)} is in zone ${failure.zone}, which is lost.`;
    case 'zone-unsaid':
      return `In which zone ${failure.at} stands is not in the plan, and one of those that it may be in is lost.`;
    case 'ambiguous':
      return sayAmbiguous(names, failure, destination);
    case 'loop':
      return failure.hops === undefined
        ? `The routes lead back to ${network}: a loop.`
        : `The packet passes more than ${failure.hops} routers.`;
    case 'many-ways':
      return `Packets may take more than ${sayNumber(failure.followed)} equal ways: so many were followed and pass, and the others are not known.`;
    case 'nobody':
      return failure.lack === undefined
        ? `Network ${network} has no host at ${destination}: no subnet, node range or range in use contains it.`
        : sayLack(names, failure.lack);
    case 'private-source':
      return [
        `${formatAddress(packet.source)} is a private address: on the internet no answer would find it.`,
        'It needs translation or a public address of its own.',
      ].join(' ');
    case 'private-destination':
      return failure.isFromInternet
        ? `${destination} is a private address: the internet does not route it.`
        : `${destination} is not routed on the internet.`;
    case 'not-on-internet':
      return `${destination} is an address of network ${network}, which has no route to the internet: nothing comes in from there.`;
    case 'service-address': {
      const lies = `${destination} lies in the service range ${failure.prefix} of ${nameIn(names.clusters, failure.clusterId)}`;
      return failure.isAcross
        ? `${lies}, and the question names no service there.`
        : `${lies}: its nodes take it for a service and never send it out.`;
    }
    case 'elsewhere': {
      const address = formatAddress(failure.address);
      return failure.isBack
        ? `The answer to ${address} arrives at ${failure.arrivedAt}, not at ${failure.meant}.`
        : `${address} leads to ${failure.arrivedAt} there, not to ${failure.meant}.`;
    }
    case 'overlay-pod':
      return sayOverlayPod(names, failure.clusterId);
    case 'filter':
      return sayFilter(names, failure, spot.name, sayPacket(packet, failure.port));
    case 'firewall': {
      const is = failure.isOfAnswer ? 'is stateless and refuses' : 'refuses';
      const by = sayBy(byId(names.firewallRules, failure.ruleId ?? ''));
      return `The firewall ${nameIn(names.firewalls, failure.firewallId)} ${is} ${sayPacket(packet, failure.port)}: ${by} denies it.`;
    }
    case 'no-state':
      return `The ${spot.kind} ${deviceName(names, failure.deviceId)} has not seen the connection this answer belongs to, and drops it.`;
    case 'other-source':
      return [
        `The answer comes from ${formatAddress(failure.came)}, and ${formatAddress(failure.asked)} was asked:`,
        'the client does not accept it.',
      ].join(' ');
    case 'avoided':
      return [
        `The answers go around the ${deviceKind(names, failure.deviceId)} ${deviceName(names, failure.deviceId)}, which keeps state:`,
        'it never sees the connection established and drops what follows.',
      ].join(' ');
    case 'unsolicited':
      return `${destination} is a public address of ${deviceName(names, failure.deviceId)}, which only lets in answers to what was sent out.`;
    case 'family':
      return failure.deviceId === undefined
        ? `${formatAddress(packet.source)} and ${destination} are of two IP versions: no packet has one of each.`
        : `${deviceName(names, failure.deviceId)} has no ${packet.source.family === 4 ? 'IPv4' : 'IPv6'} address to translate to.`;
    case 'no-gateway':
      return failure.isHubMissing
        ? `${nameIn(names.connections, failure.connectionId)} has the shape hub, and no member of it is the hub.`
        : failure.lack === undefined
          ? `${nameIn(names.connections, failure.connectionId)} has no gateway there.`
          : sayLack(names, failure.lack);
    case 'too-big':
      return [
        `${sayNarrow(names, failure.in)} ${sayNumber(failure.room)} bytes fit, and the packet has ${sayNumber(failure.bytes)}.`,
        ...sayMessage(names, failure),
      ].join(' ');
    case 'ipv6-narrow':
      return sayTooNarrow(names, failure);
    case 'policy':
      return sayPolicy(failure.decision);
    case 'shadowed':
      return [
        `${destination} lies in the ${failure.purpose} range ${failure.prefix} of ${nameIn(names.clusters, failure.clusterId)} itself,`,
        'so its nodes never send it out.',
      ].join(' ');
  }
}

/** What is too narrow for IPv6. */
export function sayTooNarrow(
  names: Names,
  { room, in: narrow }: Pick<Failure & { readonly code: 'ipv6-narrow' }, 'room' | 'in'>,
): string {
  return `${sayNarrow(names, narrow)} ${sayNumber(room)} bytes fit, and IPv6 runs over nothing that takes less than 1,280 whole.`;
}

/** Whether the sender hears that its packet was too large. */
function sayMessage(names: Names, { message }: Failure & { readonly code: 'too-big' }): string[] {
  if (message === undefined) return [];
  if (message.isHeard) return ['Its sender is told, and sends smaller ones.'];
  const why = message.why === undefined ? '' : ` ${sayFailed(names, message.why)}`;
  return [`Its sender does not hear of it: large packets vanish, and connections hang.${why}`];
}

function sayRoute(names: Names, routeId: string): string {
  const route = byId(names.routes, routeId);
  return `The static route ${route?.prefix ?? ''} of ${nameIn(names.routeTables, route?.routeTableId ?? '')}`;
}

function sayAmbiguous(names: Names, failure: Failure & { readonly code: 'ambiguous' }, destination: string): string {
  const { between } = failure;
  if (between.is === 'members') {
    const [one, other] = between.clusterIds.map((id) => nameIn(names.clusters, id));
    const connection = nameIn(names.connections, between.connectionId);
    return `${one ?? ''} and ${other ?? ''} both advertise ${destination} in ${connection}: the destination is ambiguous.`;
  }
  const [row, tie] = between.rows;
  return [
    `Network ${nameIn(names.networks, failure.networkId)} has two routes to ${formatPrefix(row.prefix)} that are as good:`,
    `${sayRowSource(names, row)}, and ${sayRowSource(names, tie)}.`,
  ].join(' ');
}

function sayOverlayPod(names: Names, clusterId: string): string {
  const cluster = nameIn(names.clusters, clusterId);
  const joins = names.members
    .filter((member) => member.clusterId === clusterId)
    .map(({ connectionId }) => nameIn(names.connections, connectionId));
  const over =
    joins.length === 0 ? 'or over a connection that its cluster joins' : `or over ${joins.join(', ')} from its members`;
  return [
    `Pods of ${cluster} are in an overlay, so their addresses exist inside it only:`,
    `from outside they are reached through a service or an entry point of ${cluster}, ${over}.`,
  ].join(' ');
}

/** Lists that only allow refuse what none of their rules allows; of the others the rule or default that denies is named. */
function sayFilter(
  { filters, filterRules }: Names,
  { filterIds, direction, ruleId }: Failure & { readonly code: 'filter' },
  place: string,
  packet: string,
): string {
  const lists = filterIds.flatMap((id) => byId(filters, id) ?? []);
  const named = lists.map(({ name }) => name).join(', ');
  if (lists[0]?.mode === 'ordered')
    return `The filter ${named} of ${place} refuses ${packet} ${direction}: ${sayBy(byId(filterRules, ruleId ?? ''))} denies it.`;
  return `${lists.length === 1 ? 'The filter' : 'The filters'} ${named} of ${place}: no rule allows ${packet} ${direction}.`;
}

function sayBy(rule: { readonly position: number } | undefined): string {
  return rule === undefined ? 'its default' : `rule ${rule.position}`;
}

function sayNarrow(names: Names, narrow: Narrow): string {
  switch (narrow.is) {
    case 'network':
      return `On network ${nameIn(names.networks, narrow.id)}`;
    case 'link':
      return `On the link ${nameIn(names.links, narrow.id)}`;
    case 'nodes':
      return `Inside ${narrow.layers.join(' and ')} on network ${nameIn(names.networks, narrow.networkId)}`;
    case 'tunnel':
      return `Inside ${narrow.layers.join()} of ${nameIn(names.connections, narrow.connectionId)}`;
  }
}
