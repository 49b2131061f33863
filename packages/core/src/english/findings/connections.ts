import type { Failed, TunnelFault, NameReason } from '../../road/index.js';
import { beginning, formatCount, formatNames, formatNumber } from '../../working/index.js';
import { formatFailed, formatTunnelFault } from '../failures.js';
import { formatNameReason } from '../nameReasons.js';
import type { Names } from '../names.js';
import { sentences } from './words.js';
import type { FindingTable } from './words.js';

/** A range of a member, as it is in its cluster. */
interface MemberRange {
  readonly purpose: string;
  readonly prefix: string;
  readonly cluster: string;
}

interface OverlapFact {
  readonly connection: string;
  readonly isFlat: boolean;
  readonly isPlanned: boolean;
  readonly range: MemberRange;
  /** Clusters whose ranges overlap with it. */
  readonly others: readonly string[];
}

/** A tunnel or a link of relays that does not come up. */
interface DownFact {
  readonly connection: string;
  readonly one: string;
  readonly other: string;
  readonly areRelays: boolean;
  readonly isPlanned: boolean;
  readonly fault: TunnelFault | undefined;
  readonly failed: Failed | undefined;
}

/** Two flat members that do not reach one another. */
interface FlatFact {
  readonly connection: string;
  readonly one: string;
  readonly other: string;
  readonly isPlanned: boolean;
  /** Why, in a sentence. */
  readonly why: string;
}

interface MemberFact {
  readonly connection: string;
  readonly cluster: string;
}

/** A service that is exported, with its namespace. */
interface ExportFact {
  readonly cluster: string;
  readonly service: string;
}

const onceActive = (isPlanned: boolean) => (isPlanned ? ' once the planned connection is active' : '');
const formatRange = ({ purpose, prefix, cluster }: MemberRange) => `the ${purpose} range ${prefix} of ${cluster}`;

const formatDown = (fact: DownFact, names: Names, what: string, fix: string) => ({
  title: `${fact.connection}: no ${fact.areRelays ? 'link' : 'tunnel'} between ${fact.one} and ${fact.other}${onceActive(fact.isPlanned)}: ${what}`,
  detail: sentences(fact.fault === undefined ? '' : formatTunnelFault(names, fact.fault, fact.failed), fix),
});

const formatFlat = (fact: FlatFact) => ({
  title: `${fact.connection}: pods of ${fact.one} and ${fact.other} do not reach one another${onceActive(fact.isPlanned)}`,
  detail: `${fact.why} Flat members need a way for every pod.`,
});

const relay = (areRelays: boolean) => (areRelays ? 'relay' : 'gateway');

/** Words of findings on connections between clusters and what they export. */
export const connectionWords = {
  'export.by-name': (fact: ExportFact) => ({
    title: `${fact.cluster} exports the headless service ${fact.service} only by its name`,
    detail:
      'Clients of a headless service ask for single pods by host name: through relays these names exist only where each pod is mirrored.',
  }),
  'export.conflict': (
    fact: ExportFact & {
      readonly type: string;
      readonly older: string;
      readonly olderIsHeadless: boolean;
      readonly createdOn: string;
    },
  ) => ({
    title: [
      `${fact.cluster} exports ${fact.service} as ${fact.type},`,
      `and ${fact.older} ${fact.olderIsHeadless ? 'as headless' : 'not as that'}`,
    ].join(' '),
    detail: [
      `The older export, of ${fact.createdOn}, decides: pods of ${fact.cluster} get no calls.`,
      'Make the services identical, or give one another name.',
    ].join(' '),
  }),
  'export.far': (
    fact: ExportFact & {
      readonly most: number;
      readonly floorMs: number;
      readonly from: string;
      readonly count: number;
    },
  ) => ({
    title: `${fact.service} allows ${fact.most} ms, and light takes ${fact.floorMs} ms from ${fact.from} to ${fact.cluster} and back`,
    detail: [
      `${fact.count === 1 ? 'This cluster is' : `${fact.count} clusters are`} too far for it, whatever the network does.`,
      'Export it from a nearer cluster too, or allow more.',
    ].join(' '),
  }),
  'export.no-service': (fact: ExportFact & { readonly nearest: readonly string[] }) => ({
    title: `${fact.cluster} exports ${fact.service}, and has no such service`,
    detail: sentences(
      'Its name resolves to no endpoint for the others.',
      fact.nearest.length === 0 ? '' : `Nearest are ${fact.nearest.slice(0, 3).join(', ')}.`,
      'Add the service, or remove the export.',
    ),
  }),
  'export.ports': (
    fact: ExportFact & {
      readonly ports: string;
      readonly older: string;
      readonly olderPorts: string;
      readonly createdOn: string;
    },
  ) => ({
    title: `${fact.service} has ports ${fact.ports || 'none'} in ${fact.cluster} and ${fact.olderPorts || 'none'} in ${fact.older}`,
    detail: [
      `The others know the ports of the older export, of ${fact.createdOn}:`,
      `calls to a port that ${fact.cluster} lacks fail there. Give both the same ports.`,
    ].join(' '),
  }),
  'connection.one-member': (fact: { readonly connection: string; readonly members: number }) => ({
    title: `${fact.connection} joins ${fact.members === 0 ? 'no cluster' : 'only one cluster'}`,
    detail: 'A connection has two members or more. Add another one, or remove it.',
  }),
  'connection.asymmetric': (fact: DownFact, names: Names) =>
    formatDown(fact, names, 'the way back is another one', 'Let both directions pass the same devices.'),
  'connection.closed': (fact: DownFact, names: Names) =>
    formatDown(fact, names, 'a filter or firewall is closed', 'Open it for what the connection is carried by.'),
  'connection.closed:flat': formatFlat,
  'connection.down': (fact: DownFact, names: Names) =>
    formatDown(fact, names, 'packets do not arrive', 'Mend the way that Trace shows.'),
  'connection.down:flat': formatFlat,
  'connection.flat-overlay': (fact: MemberFact) => ({
    title: `${fact.cluster} cannot be flat in ${fact.connection}: its pods are in an overlay`,
    detail: [
      'No network knows their addresses, so they cannot be reached from outside the cluster.',
      'Use tunnels, or routed or native pods: for a built cluster a rebuild.',
    ].join(' '),
  }),
  'connection.hub-full': (fact: {
    readonly connection: string;
    readonly areRelays: boolean;
    readonly held: number;
    readonly most: number;
  }) => ({
    title: [
      `${fact.connection}: its hub would hold ${formatCount(fact.held, fact.areRelays ? 'link' : 'tunnel')},`,
      `${formatNumber(fact.held - fact.most)} over the limit of ${formatNumber(fact.most)}`,
    ].join(' '),
    detail: 'Every other member has one to the hub. Split the members across connections, each with a hub of its own.',
  }),
  'connection.id-twice': (fact: {
    readonly connection: string;
    readonly clusters: readonly string[];
    readonly id: string;
  }) => ({
    title: `${fact.clusters.join(' and ')} share the cluster id ${fact.id} in ${fact.connection}`,
    detail: [
      'Names of single pods contain the cluster id, and members tell each other apart by it:',
      'one of them would replace the other. Give each its own.',
    ].join(' '),
  }),
  'connection.mesh': (fact: {
    readonly connection: string;
    readonly areRelays: boolean;
    readonly members: number;
    readonly all: number;
    readonly most: number;
  }) => ({
    title: [
      `${fact.connection}:`,
      `each of ${fact.members} gateways would hold ${formatNumber(fact.members - 1)} ${fact.areRelays ? 'links' : 'tunnels'},`,
      `${formatNumber(fact.members - 1 - fact.most)} over the limit of ${formatNumber(fact.most)}`,
    ].join(' '),
    detail: [
      'A full mesh of n members has n(n − 1) ÷ 2 of them:',
      `${formatNumber(fact.all)} here, and ${fact.members - 1} more with the next member.`,
      'A hub would hold as many; split the members across connections.',
    ].join(' '),
  }),
  'connection.down:more': (fact: { readonly connection: string; readonly count: number }) => ({
    title: `${fact.connection}: the same of ${fact.count} other ${fact.count === 1 ? 'pair' : 'pairs'}`,
    detail: 'The matrix of the stop Cross-cluster shows each.',
  }),
  'connection.mtu': (fact: {
    readonly connection: string;
    readonly one: string;
    readonly other: string;
    readonly room: number;
    readonly floor: number;
    /** Whether the floor is that of IPv6, not one that a cluster asks for. */
    readonly isOfIpv6: boolean;
    /** The link that wraps the tunnel once more. */
    readonly within: { readonly link: string; readonly encapsulation: string } | undefined;
  }) => ({
    title: `${fact.connection}: packets of ${formatNumber(fact.room)} bytes at most between ${fact.one} and ${fact.other}, and ${formatNumber(fact.floor)} are needed`,
    detail: sentences(
      fact.isOfIpv6
        ? 'IPv6 takes 1,280 bytes everywhere (RFC 8200 5), and many programs send as much.'
        : 'One of the clusters asks for it.',
      fact.within === undefined
        ? ''
        : `The tunnel goes through ${fact.within.link}, which wraps packets in ${fact.within.encapsulation} once more.`,
      'Raise the MTU of what carries the tunnel, or leave one of the layers out.',
    ),
  }),
  'connection.no-dial': (fact: DownFact, names: Names) =>
    formatDown(
      fact,
      names,
      'neither side reaches the other',
      'Join their networks, or give one side gateways with public addresses.',
    ),
  'connection.no-hub': (fact: { readonly connection: string }) => ({
    title: `${fact.connection} has the shape hub, and none of its members is the hub`,
    detail: 'Nobody passes packets on. Mark one member as the hub, or choose a full mesh.',
  }),
  'connection.one-zone': (
    fact: MemberFact & { readonly areRelays: boolean; readonly zone: string; readonly zones: number },
  ) => ({
    title: `All ${relay(fact.areRelays)}s of ${fact.cluster} in ${fact.connection} are in zone ${fact.zone}`,
    detail: `They go together when the zone does. ${fact.cluster} has ${fact.zones} zones: spread them.`,
  }),
  'connection.overlap': ({ connection, isFlat, isPlanned, range, others }: OverlapFact) => {
    const whom = formatNames(others);
    const what = beginning(formatRange(range));
    return {
      title: `${what} overlaps ${others.length === 1 ? 'that' : 'those'} of ${whom}${onceActive(isPlanned)}`,
      detail: [
        `${connection} needs distinct ranges${isFlat ? '' : ', or each one translated'}:`,
        'an address that both sides use is always the local one, so packets never leave.',
      ].join(' '),
      chain: [
        `${what} is harmless by itself: it is not visible outside the cluster.`,
        `${connection} joins ${range.cluster} with ${whom}${isPlanned ? ', as is planned' : ''}.`,
        'Both sides then use the same addresses for different pods or services.',
      ],
    };
  },
  'connection.overlap:more': (fact: { readonly connection: string; readonly count: number }) => ({
    title: `${fact.connection}: ${fact.count} more ranges overlap`,
    detail: 'They are mended together with those above.',
  }),
  'connection.rendezvous:name': (
    fact: {
      readonly gateway: string;
      readonly rendezvous: string;
      readonly answer: string;
      readonly why: NameReason;
    },
    names: Names,
  ) => formatLost(fact, `The name is not answered (${fact.answer}): ${formatNameReason(names, fact.why)}`),
  'connection.rendezvous': (
    fact: { readonly gateway: string; readonly rendezvous: string; readonly failed: Failed | undefined },
    names: Names,
  ) => formatLost(fact, fact.failed === undefined ? '' : formatFailed(names, fact.failed)),
  'connection.shown-taken': (
    fact: MemberFact & {
      readonly shown: string;
      readonly label: string;
      readonly prefix: string;
      readonly viewer: string;
      readonly isTranslated: boolean;
      readonly isPlanned: boolean;
    },
  ) => ({
    title: `${fact.shown}, shown for ${fact.cluster} in ${fact.connection}, is also the ${fact.label} ${fact.prefix}`,
    detail: [
      `Pods of ${fact.viewer} lose the ${fact.label}: their packets go into the tunnel${onceActive(fact.isPlanned)}.`,
      fact.isTranslated
        ? 'Translate to a range that is not used.'
        : `Translate the range of ${fact.cluster} to one that is not used.`,
    ].join(' '),
  }),
  'connection.single': (fact: MemberFact & { readonly areRelays: boolean }) => ({
    title: `${fact.cluster} has a single ${relay(fact.areRelays)} in ${fact.connection}`,
    detail: `When it fails or is upgraded, ${fact.cluster} is cut off. Plan a second one.`,
  }),
  'connection.suffix-twice': (fact: {
    readonly connection: string;
    readonly clusters: readonly string[];
    readonly suffix: string;
  }) => ({
    title: `${fact.clusters.join(' and ')} have one DNS suffix, ${fact.suffix}, in ${fact.connection}`,
    detail:
      'A name below it is then a service of either. Give each its own, or leave it empty for its id before the service domain.',
  }),
  'connection.throughput': (
    fact: MemberFact & { readonly areRelays: boolean; readonly planned: number; readonly carried: number },
  ) => ({
    title: [
      `${fact.cluster}: ${formatNumber(fact.planned)} Mbit/s are planned over ${fact.connection},`,
      `and its ${fact.areRelays ? 'relays carry' : 'gateway carries'} ${formatNumber(fact.carried)}`,
    ].join(' '),
    detail: fact.areRelays
      ? 'Relays share the calls. Use larger ones, more of them, or part the traffic over several connections.'
      : 'Only the first gateway carries; the others are on standby. Use larger ones, or part the traffic over several connections.',
  }),
} satisfies FindingTable;

function formatLost({ gateway, rendezvous }: { readonly gateway: string; readonly rendezvous: string }, why: string) {
  return {
    title: `${gateway} does not find the rendezvous ${rendezvous}`,
    detail: sentences(why, 'It cannot tell the others where it is, nor learn where they are.'),
  };
}
