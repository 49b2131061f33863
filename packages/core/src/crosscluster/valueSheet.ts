import { formatAddress, formatPrefix } from '../address/index.js';
import { openingsOf, shownRanges } from '../forwarding/index.js';
import type { Forwarding, Tunnel } from '../forwarding/index.js';
import { domainOfSet, suffixOf } from '../naming/index.js';
import { byId, grouped, translationsOf } from '../plan/index.js';
import type { Connection, Member, Plan } from '../plan/index.js';
import { segmentSize } from '../wire/index.js';
import { formatNumber, formatCount } from '../working/index.js';

/** What builders of one member need. */
export interface ValueSheet {
  readonly connection: string;
  readonly cluster: string;
  /** Labels and values, in the order they are filled in. */
  readonly values: readonly { readonly label: string; readonly value: string }[];
}

type Parts = Pick<Plan, 'connections' | 'members' | 'clusters' | 'serviceExports'>;
type Value = ValueSheet['values'][number];

/** Members up to which a sheet lists the others, and tunnels between each two are asked who dials them and what they carry. */
const MAX_ASKED = 60;

/** The value sheet of each member of a connection: everything that has to be typed in where it is built. */
export function valueSheets(plan: Parts, forwarding: Forwarding, connectionId?: string): ValueSheet[] {
  return plan.connections
    .filter(({ id }) => connectionId === undefined || id === connectionId)
    .flatMap((connection) => {
      const members = grouped(plan.members, 'connectionId').get(connection.id) ?? [];
      return members.flatMap((member): ValueSheet[] => {
        const cluster = byId(plan.clusters, member.clusterId);
        if (cluster === undefined) return [];
        const values = [
          { label: 'Cluster id', value: member.memberId },
          { label: 'Kind', value: wayWords(connection) },
          ...rangeValues(forwarding, member, connection),
          ...(connection.method === 'flat' ? [] : gatewayValues(forwarding, connection, member, members)),
          { label: 'Name TTL', value: `${connection.dnsTtl} s` },
          { label: 'Exported services', value: servicesOf(plan, member) || 'none' },
        ];
        return [{ connection: connection.name, cluster: cluster.name, values }];
      });
    });
}

function servicesOf({ serviceExports }: Parts, { id }: Member): string {
  return (grouped(serviceExports, 'memberId').get(id) ?? [])
    .map(({ namespace, name }) => `${namespace}/${name}`)
    .join(', ');
}

function rangeValues(forwarding: Forwarding, member: Member, connection: Connection): Value[] {
  const of = (purpose: string) =>
    forwarding
      .rangesOf(member.clusterId)
      .filter((range) => range.purpose === purpose)
      .map(({ prefix }) => prefix)
      .join(', ') || 'not allocated yet';
  const shown = translationsOf(member).map((each) => `${formatPrefix(each.own)} as ${formatPrefix(each.shown)}`);
  return [
    { label: 'Pod ranges', value: of('pod') },
    { label: 'Service ranges', value: of('service') },
    { label: 'Translated ranges', value: shown.join(', ') || 'none' },
    { label: 'Service domain', value: domainOfSet(connection) },
    { label: 'DNS suffix', value: suffixOf(member, connection) },
  ];
}

function gatewayValues(
  forwarding: Forwarding,
  connection: Connection,
  member: Member,
  members: readonly Member[],
): Value[] {
  const hub = members.find(({ isHub }) => isHub);
  const peers = members.filter(
    (each) => each !== member && (connection.shape !== 'hub' || each === hub || member === hub),
  );
  const isMany = members.length > MAX_ASKED;
  const tunnels = isMany ? new Map<Member, Tunnel>() : tunnelsOf(forwarding, connection, member, peers);
  const rooms = [...tunnels.values()].flatMap(({ isUp, inner }) => (isUp ? [inner] : []));
  const { rendezvous, rendezvousPort, probeSeconds, probesLost, takeoverSeconds, maxLinks, keyReference } = connection;
  return [
    {
      label: connection.method === 'relays' ? 'Relay addresses' : 'Gateway addresses',
      value: addressesOf(forwarding, member, true).join(', '),
    },
    ...(connection.shape === 'hub'
      ? [{ label: 'Hub', value: hub === undefined ? 'not said' : hub === member ? 'this one' : hub.memberId }]
      : []),
    { label: 'Dials', value: member.dials },
    {
      label: 'Rendezvous',
      value: rendezvous === '' ? 'none: addresses by hand' : `${rendezvous} tcp ${rendezvousPort}`,
    },
    { label: 'Key reference', value: keyReference || 'not said' },
    { label: 'Openings', value: openings(connection) },
    ...(isMany
      ? [
          {
            label: 'Peers',
            value: `${formatCount(peers.length, 'other')}, each dialled and with the ranges as its own sheet says`,
          },
        ]
      : peers.map((peer) => peerValue(forwarding, connection, member, peer, members, tunnels.get(peer)))),
    ...(rooms.length === 0 ? [] : [sizeValue(forwarding, connection, member, Math.min(...rooms))]),
    { label: 'Probes', value: `every ${probeSeconds} s, gone after ${probesLost}` },
    { label: 'Takeover', value: `${takeoverSeconds} s` },
    { label: 'Links', value: `${peers.length} of ${maxLinks} that a ${stationOf(connection)} holds` },
  ];
}

function tunnelsOf(
  forwarding: Forwarding,
  connection: Connection,
  member: Member,
  peers: readonly Member[],
): ReadonlyMap<Member, Tunnel> {
  return new Map(
    peers.flatMap((peer) => {
      const made = forwarding.tunnels.between(connection, member, peer);
      return made.ok ? [[peer, made.value] as const] : [];
    }),
  );
}

/** Where a member’s gateways are dialled; an address that nobody typed is marked, since it is decided when the node is there. */
function addressesOf(forwarding: Forwarding, member: Member, isWhole: boolean): string[] {
  return Array.from({ length: member.gateways }, (_, index) => {
    const gateway = forwarding.tunnels.gatewayOf(member, index);
    if (!gateway.ok) return 'not known yet';
    const { address, host } = gateway.value;
    const zone = isWhole && host.zone !== '' ? ` in ${host.zone}` : '';
    return `${formatAddress(address)}${zone}${member.gatewayAddresses[index] === undefined ? ' (computed)' : ''}`;
  });
}

/** How one other member is met: who dials where, what is to be opened, and the ranges that are behind it. */
function peerValue(
  forwarding: Forwarding,
  connection: Connection,
  member: Member,
  peer: Member,
  members: readonly Member[],
  tunnel: Tunnel | undefined,
): Value {
  const dialler = dialledBy(connection, member, peer, tunnel);
  const ports = openingsOf(connection).map(formatOpening).join(', ');
  const theirs = addressesOf(forwarding, peer, false).join(', ');
  const way =
    dialler === member
      ? `dial ${theirs}, out by ${ports}`
      : dialler === peer
        ? `dials here, in by ${ports}`
        : isVxlan(connection)
          ? `each sends to the other, in and out by ${ports}, at ${theirs}`
          : `either side dials, ${ports}, at ${theirs}`;
  const isRelay = connection.method === 'relays';
  const isOverHub = connection.shape === 'hub' && peer.isHub;
  const behind = isOverHub ? members.filter((each) => each !== member) : [peer];
  const ranges = isRelay ? [] : behind.flatMap((each) => shownOf(forwarding, each));
  const fault = tunnel?.isUp === false ? '; does not come up yet' : '';
  return {
    label: `Peer ${peer.memberId}`,
    value: `${way}${ranges.length === 0 ? '' : `; behind it ${ranges.join(', ')}`}${fault}`,
  };
}

/** VXLAN is not dialled: each side sends to the other’s port (RFC 7348 4.1). */
function isVxlan({ method, tunnel }: Connection): boolean {
  return method === 'tunnels' && tunnel === 'vxlan';
}

/** Who dials: by what is said of the two, else as the tunnel came up; undefined where either may. */
function dialledBy(connection: Connection, member: Member, peer: Member, tunnel: Tunnel | undefined) {
  if (isVxlan(connection)) return undefined;
  if (member.dials === 'dials' || peer.dials === 'is dialled') return member;
  if (peer.dials === 'dials' || member.dials === 'is dialled') return peer;
  return tunnel?.isUp === true ? tunnel.from.member : undefined;
}

function shownOf(forwarding: Forwarding, member: Member): string[] {
  const ranges = forwarding.rangesOf(member.clusterId).filter(({ purpose }) => purpose !== 'node');
  return shownRanges(member, ranges).map(formatPrefix);
}

function sizeValue(forwarding: Forwarding, connection: Connection, { clusterId }: Member, room: number): Value {
  const cluster = byId(forwarding.parts.clusters, clusterId);
  const segment = segmentSize(room, cluster?.family === 'ipv6' ? 6 : 4).value;
  const what = connection.method === 'relays' ? 'between relays' : 'inside the tunnels';
  return {
    label: 'Packets',
    value: `up to ${formatNumber(room)} bytes ${what}, TCP segments up to ${formatNumber(segment)}`,
  };
}

function stationOf({ method }: Connection): string {
  return method === 'relays' ? 'relay' : 'gateway';
}

function wayWords({ method, tunnel, shape }: Connection): string {
  if (method === 'flat') return 'flat';
  return method === 'relays' ? `relays, ${shape}` : `tunnels by ${tunnel}, ${shape}`;
}

function formatOpening({ protocol, port }: ReturnType<typeof openingsOf>[number]): string {
  return port === 0 ? protocol : `${protocol} ${port}`;
}

function openings(connection: Connection): string {
  const carried = openingsOf(connection).map(formatOpening);
  const meeting = connection.rendezvous === '' ? [] : [`tcp ${connection.rendezvousPort} to the rendezvous`];
  return [...carried, ...meeting].join(', ');
}

/** The value sheets as lines of one table: connection, cluster, label, value. */
export function sheetRows(sheets: readonly ValueSheet[]): Readonly<Record<string, string>>[] {
  return sheets.flatMap(({ connection, cluster, values }) =>
    values.map(({ label, value }) => ({ connection, cluster, label, value })),
  );
}
