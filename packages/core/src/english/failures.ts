import { formatAddress, formatPrefix } from '../address/index.js';
import { byId, formatHop } from '../plan/index.js';
import type { Failed, Failure, Narrow, PolicyDecision, TunnelFault } from '../road/index.js';
import { beginning, formatNumber } from '../working/index.js';
import { formatLack } from './lacks.js';
import { deviceKind, deviceName, nameIn, formatPacket } from './names.js';
import type { Names } from './names.js';
import { formatRowSource } from './tables.js';
import { formatByCode } from './words.js';
import type { Words } from './words.js';

/** Why a packet went no further; of a tunnel that does not come up, what its own packets met. */
export function formatFailed(names: Names, failed: Failed): string {
  const { tunnel } = failed;
  if (tunnel === undefined) return formatFailure(names, failed);
  const why = formatTunnelFault(names, tunnel.fault, tunnel.failed);
  return `The tunnel of ${nameIn(names.connections, tunnel.connectionId)} does not come up: ${why}`;
}

/** Why a tunnel or link between two gateways does not come up. */
export function formatTunnelFault(names: Names, fault: TunnelFault, failed: Failed | undefined): string {
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
          ? `Packets of ${fault.from} do not reach ${fault.to}.`
          : `${fault.from} cannot connect to ${fault.to} at ${formatAddress(fault.at)}.`;
      return failed === undefined ? what : `${what} ${formatFailed(names, failed)}`;
    }
  }
}

/** What stops a connection of the shape hub that has none. */
export function formatNoHub(connection: string): string {
  return `${connection} has the shape hub, and no member of it is the hub.`;
}

/** What network policies say of a call. */
export function formatPolicy({ isAllowed, direction, policies, own, peer, protocol, port }: PolicyDecision): string {
  const call = `${protocol} ${port} ${direction === 'ingress' ? 'from' : 'to'} ${peer}`;
  const named = policies.map(({ name }) => name).join(', ');
  if (isAllowed) return policies.length === 0 ? '' : `The network policy ${named} allows ${own} ${call}.`;
  const select = policies.length === 1 ? `The network policy ${named} selects` : `The network policies ${named} select`;
  return `${select} ${own} for ${direction}, and no rule allows ${call}.`;
}

function formatFailure(names: Names, { failure, spot, packet }: Failed): string {
  const destination = formatAddress(packet.destination);
  const network = 'networkId' in failure ? nameIn(names.networks, failure.networkId) : '';
  return formatByCode(words, failure, { names, spot, packet, destination, network });
}

/** Where and with which packet something failed. */
interface Where {
  readonly names: Names;
  readonly spot: Failed['spot'];
  readonly packet: Failed['packet'];
  /** The address that the packet is for, and the network where it failed. */
  readonly destination: string;
  readonly network: string;
}

const words: Words<Failure, string, [where: Where]> = {
  'no-route': (fact, { names, destination, network }) => {
    const table = nameIn(names.routeTables, fact.tableId ?? '');
    return `Network ${network}, ${table === '' ? 'no route table' : `the route table ${table}`}: no route to ${destination}.`;
  },
  'no-taker': (fact, { names, destination }) =>
    `Nobody on ${nameIn(names.links, fact.linkId)} advertises a route to ${destination}.`,
  'route-drops': (fact, { names }) => `${formatRoute(names, fact.routeId)} drops it.`,
  'hop-gone': (fact, { names }) => {
    const route = byId(names.routes, fact.routeId);
    return `${formatRoute(names, fact.routeId)} leads to ${route === undefined ? 'nothing' : formatHop(names, route)}.`;
  },
  'zone-lost': (fact) =>
    fact.zone === ''
      ? `${beginning(fact.at)} is only in zones that are lost.`
      : `${beginning(fact.at)} is in zone ${fact.zone}, which is lost.`,
  'device-lost': (fact) => `${beginning(fact.at)} is lost.`,
  'zone-unsaid': (fact) =>
    `The plan does not say in which zone ${fact.at} is, and one of those that it may be in is lost.`,
  ambiguous: (fact, { names, destination }) => formatAmbiguous(names, fact, destination),
  loop: (fact, { network }) =>
    fact.hops === undefined
      ? `The routes lead back to ${network}: a loop.`
      : `The packet passes more than ${fact.hops} routers.`,
  'many-ways': (fact) =>
    `Packets may take more than ${formatNumber(fact.followed)} equal ways: so many were followed and pass, and the others are not known.`,
  nobody: (fact, { names, destination, network }) =>
    fact.endOf !== undefined
      ? `${destination} is the first or last address of the subnet ${formatPrefix(fact.endOf)}, which no machine has.`
      : fact.lack === undefined
        ? `Network ${network} has no host at ${destination}: no subnet, node range or range in use contains it.`
        : formatLack(names, fact.lack),
  'private-source': (_fact, { packet }) =>
    [
      `${formatAddress(packet.source)} is a private address: on the internet no answer would find it.`,
      'It needs translation or a public address of its own.',
    ].join(' '),
  'private-destination': (fact, { destination }) =>
    fact.isFromInternet
      ? `${destination} is a private address: the internet does not route it.`
      : `${destination} is not routed on the internet.`,
  'not-on-internet': (_fact, { destination, network }) =>
    `${destination} is an address of network ${network}, which has no route to the internet: nothing comes in from there.`,
  'service-address': (fact, { names, destination }) => {
    const lies = `${destination} lies in the service range ${fact.prefix} of ${nameIn(names.clusters, fact.clusterId)}`;
    return fact.isAcross
      ? `${lies}, and the question names no service there.`
      : `${lies}: its nodes take it for a service and never send it out.`;
  },
  elsewhere: (fact) => {
    const address = formatAddress(fact.address);
    return fact.isBack
      ? `The answer to ${address} arrives at ${fact.arrivedAt}, not at ${fact.meant}.`
      : `${address} leads to ${fact.arrivedAt} there, not to ${fact.meant}.`;
  },
  'overlay-pod': (fact, { names }) => formatOverlayPod(names, fact.clusterId),
  filter: (fact, { names, spot, packet }) => formatFilter(names, fact, spot.name, formatPacket(packet, fact.port)),
  firewall: (fact, { names, packet }) => {
    const is = fact.isOfAnswer ? 'is stateless and refuses' : 'refuses';
    const by = formatBy(byId(names.firewallRules, fact.ruleId ?? ''));
    return `The firewall ${nameIn(names.firewalls, fact.firewallId)} ${is} ${formatPacket(packet, fact.port)}: ${by} denies it.`;
  },
  'no-state': (fact, { names, spot }) =>
    `The ${spot.kind} ${deviceName(names, fact.deviceId)} has not seen the connection this answer belongs to, and drops it.`,
  'other-source': (fact) =>
    [
      `The answer comes from ${formatAddress(fact.came)}, and ${formatAddress(fact.asked)} was asked:`,
      'the client does not accept it.',
    ].join(' '),
  avoided: (fact, { names }) =>
    [
      `The answers go around the ${deviceKind(names, fact.deviceId)} ${deviceName(names, fact.deviceId)}, which keeps state:`,
      'it never sees the connection established and drops what follows.',
    ].join(' '),
  unsolicited: (fact, { names, destination }) =>
    `${destination} is a public address of ${deviceName(names, fact.deviceId)}, which only lets in answers to what was sent out.`,
  family: (fact, { names, packet, destination }) =>
    fact.deviceId === undefined
      ? `${formatAddress(packet.source)} and ${destination} are of two IP versions: no packet has one of each.`
      : `${deviceName(names, fact.deviceId)} has no ${packet.source.family === 4 ? 'IPv4' : 'IPv6'} address to translate to.`,
  'no-gateway': (fact, { names }) =>
    fact.isHubMissing
      ? formatNoHub(nameIn(names.connections, fact.connectionId))
      : fact.lack === undefined
        ? `${nameIn(names.connections, fact.connectionId)} has no gateway there.`
        : formatLack(names, fact.lack),
  'too-big': (fact, { names }) =>
    [
      `${formatNarrow(names, fact.in)} ${formatNumber(fact.room)} bytes fit, and the packet has ${formatNumber(fact.bytes)}.`,
      ...formatMessage(names, fact),
    ].join(' '),
  'ipv6-narrow': (fact, { names }) => formatTooNarrow(names, fact),
  policy: (fact) => formatPolicy(fact.decision),
  shadowed: (fact, { names, destination }) =>
    [
      `${destination} lies in the ${fact.purpose} range ${fact.prefix} of ${nameIn(names.clusters, fact.clusterId)} itself,`,
      'so its nodes never send it out.',
    ].join(' '),
};

/** What is too narrow for IPv6. */
export function formatTooNarrow(
  names: Names,
  { room, in: narrow }: Pick<Failure & { readonly code: 'ipv6-narrow' }, 'room' | 'in'>,
): string {
  return `${formatNarrow(names, narrow)} ${formatNumber(room)} bytes fit, and IPv6 runs over nothing that takes less than 1,280 whole.`;
}

/** Whether the sender hears that its packet was too large. */
function formatMessage(names: Names, { message }: Failure & { readonly code: 'too-big' }): string[] {
  if (message === undefined) return [];
  if (message.isHeard) return ['Its sender is told, and sends smaller ones.'];
  const why = message.why === undefined ? '' : ` ${formatFailed(names, message.why)}`;
  return [`Its sender does not hear of it: large packets vanish, and connections hang.${why}`];
}

function formatRoute(names: Names, routeId: string): string {
  const route = byId(names.routes, routeId);
  return `The static route ${route?.prefix ?? ''} of ${nameIn(names.routeTables, route?.routeTableId ?? '')}`;
}

function formatAmbiguous(names: Names, failure: Failure & { readonly code: 'ambiguous' }, destination: string): string {
  const { between } = failure;
  if (between.is === 'members') {
    const [one, other] = between.clusterIds.map((id) => nameIn(names.clusters, id));
    const connection = nameIn(names.connections, between.connectionId);
    return `${one ?? ''} and ${other ?? ''} both advertise ${destination} in ${connection}: the destination is ambiguous.`;
  }
  const [row, tie] = between.rows;
  return [
    `Network ${nameIn(names.networks, failure.networkId)} has two routes to ${formatPrefix(row.prefix)} that are as good:`,
    `${formatRowSource(names, row)}, and ${formatRowSource(names, tie)}.`,
  ].join(' ');
}

function formatOverlayPod(names: Names, clusterId: string): string {
  const cluster = nameIn(names.clusters, clusterId);
  const connected = names.members
    .filter((member) => member.clusterId === clusterId)
    .map(({ connectionId }) => nameIn(names.connections, connectionId));
  const over =
    connected.length === 0
      ? 'or over a connection that its cluster joins'
      : `or over ${connected.join(', ')} from its members`;
  return [
    `Pods of ${cluster} are in an overlay, so their addresses exist inside it only:`,
    `from outside they are reached through a service or an entry point of ${cluster}, ${over}.`,
  ].join(' ');
}

/** Lists that only allow refuse what none of their rules allows; of the others the rule or default that denies is named. */
function formatFilter(
  { filters, filterRules }: Names,
  { filterIds, direction, ruleId }: Failure & { readonly code: 'filter' },
  place: string,
  packet: string,
): string {
  const lists = filterIds.flatMap((id) => byId(filters, id) ?? []);
  const named = lists.map(({ name }) => name).join(', ');
  if (lists[0]?.mode === 'ordered')
    return `The filter ${named} of ${place} refuses ${packet} ${direction}: ${formatBy(byId(filterRules, ruleId ?? ''))} denies it.`;
  return `${lists.length === 1 ? 'The filter' : 'The filters'} ${named} of ${place}: no rule allows ${packet} ${direction}.`;
}

function formatBy(rule: { readonly position: number } | undefined): string {
  return rule === undefined ? 'its default' : `rule ${rule.position}`;
}

function formatNarrow(names: Names, narrow: Narrow): string {
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
