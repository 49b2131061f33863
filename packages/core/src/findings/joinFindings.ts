import { formatPrefix, parseAddress } from '../address/index.js';
import { asStanding, carriedMbps, Joins, takenRanges } from '../crosscluster/index.js';
import { byRange, clashesOfMembers } from '../verdicts/index.js';
import type { JoinedRange } from '../verdicts/index.js';
import { gatewayZones, traceFlow } from '../forwarding/index.js';
import type { Forwarding, Tunnel } from '../forwarding/index.js';
import { askerOf, codeOf, importsOf, resolve, suffixOf } from '../naming/index.js';
import type { Imported, NameState } from '../naming/index.js';
import {
  byId,
  groupBy,
  grouped,
  hostPrefix,
  meshLinks,
  setOperation,
  USUAL_BYTES,
  zonesOfCluster,
} from '../plan/index.js';
import type { Cluster, Connection, Member, Plan } from '../plan/index.js';
import { beginning, sayCount, sayNumber, sayNames } from '../working/index.js';
import { LEAST_IPV6 } from '../wire/index.js';
import { finding } from './finding.js';
import type { Finding, Fix, Severity, Subject } from './finding.js';
import type { Failure } from '../road/index.js';
import { sayFault, sayNameReason, sayTunnelFault } from '../english/index.js';
import { subjectOf } from '../road/index.js';

/** What the checks of connections read. */
export type JoinFindingParts = Pick<
  Plan,
  | 'connections'
  | 'members'
  | 'serviceExports'
  | 'services'
  | 'workloads'
  | 'networkPolicies'
  | 'clusters'
  | 'sites'
  | 'allocations'
  | 'inUse'
  | 'subnets'
  | 'blocks'
  | 'networks'
>;
interface Needed {
  readonly forwarding: Forwarding;
  readonly naming: NameState;
}

/** Tunnels of one connection that are looked at one by one; of larger meshes each member with its next. */
const MOST_TUNNELS = 1500;
/** Findings of one kind told of one connection; the others are counted. */
const MOST_TOLD = 12;

const of = (kind: Subject['kind'], id: string): Subject => ({ kind, id });

/** What is wrong with connections: ranges, names, gateways, ways, exports. Of planned ones it is said what they would bring. */
export function joinFindings(parts: JoinFindingParts, { forwarding, naming }: Needed): readonly Finding[] {
  if (parts.connections.length === 0) return [];
  // Planned connections are looked at as if they stood; where none is planned nothing has to be made anew.
  const isPlanned = parts.connections.some((each) => each.isPlanned);
  const all = isPlanned
    ? forwarding.with(forwarding.faults, { ...forwarding.parts, connections: asStanding(parts).connections })
    : forwarding;
  const joins = new Joins({ ...parts, connections: all.parts.connections }, all);
  return [
    ...parts.connections.flatMap((connection) => ofConnection(parts, connection, joins, naming)),
    ...parts.connections.flatMap((connection) => ofExports(parts, connection, joins)),
  ];
}

function ofConnection(parts: JoinFindingParts, connection: Connection, joins: Joins, naming: NameState): Finding[] {
  const members = joins.membersOf(connection.id);
  const at = of('connections', connection.id);
  if (members.length < 2)
    return [
      finding('join.alone', 'warning', [at], {
        title: `${connection.name} joins ${members.length === 0 ? 'no cluster' : 'only one cluster'}`,
        detail: 'A connection has two members or more. Add another one, or remove it.',
      }),
    ];
  return [
    ...clashing(parts, connection, members),
    ...taken(parts, connection, members, joins),
    ...twice(connection, members, joins),
    ...gatewaysOf(parts, connection, members, joins),
    ...tunnelsOf(connection, members, joins),
    ...rendezvousOf(connection, members, joins, naming),
    ...meshOf(connection, members),
  ];
}

/** Harmless while a connection is planned, broken once it stands. */
function worse(connection: Connection, standing: Severity): Severity {
  return connection.isPlanned && standing === 'error' ? 'warning' : standing;
}

function later({ isPlanned }: Connection): string {
  return isPlanned ? ' once the planned connection is active' : '';
}

// Ranges.

function clashing(parts: JoinFindingParts, connection: Connection, members: readonly Member[]): Finding[] {
  const clashes = clashesOfMembers(parts, connection.way, members);
  if (clashes.length === 0) return [];
  const fix: Fix = {
    kind: 'join',
    title: connection.way === 'flat' ? 'Propose other ranges' : 'Propose translated ranges',
    connectionId: connection.id,
  };
  const ranges = byRange(clashes);
  const say = ({ cluster, allocation, own }: JoinedRange) =>
    `the ${allocation.purpose} range ${formatPrefix(own)} of ${cluster.name}`;
  return [
    ...ranges.slice(0, MOST_TOLD).map(({ range, others }) => {
      const names = others.map(({ name }) => name);
      const whom = sayNames(names);
      return finding(
        'join.overlap',
        worse(connection, 'error'),
        [of('connections', connection.id), of('allocations', range.allocation.id), of('clusters', range.cluster.id)],
        {
          title: `${beginning(say(range))} overlaps ${names.length === 1 ? 'that' : 'those'} of ${whom}${later(connection)}`,
          detail: [
            `${connection.name} needs them distinct${connection.way === 'flat' ? '' : ', or each translated'}:`,
            'an address of one side means something of one’s own on the other, and packets never leave.',
          ].join(' '),
          chain: [
            `${beginning(say(range))} is harmless by itself: it is not visible outside the cluster.`,
            `${connection.name} joins ${range.cluster.name} with ${whom}${connection.isPlanned ? ', as is planned' : ''}.`,
            'Both sides then use the same addresses for different pods or services.',
          ],
          part: `${connection.id} ${range.allocation.id}`,
        },
        [fix],
      );
    }),
    ...(ranges.length > MOST_TOLD
      ? [
          finding(
            'join.overlap',
            worse(connection, 'error'),
            [of('connections', connection.id)],
            {
              title: `${connection.name}: ${ranges.length - MOST_TOLD} further ranges overlap`,
              detail: 'They are mended together with those above.',
            },
            [fix],
          ),
        ]
      : []),
  ];
}

/** What members show and somebody else has whom another member reaches: its pods can no longer tell the two apart. */
function taken(parts: JoinFindingParts, connection: Connection, members: readonly Member[], joins: Joins): Finding[] {
  return takenRanges(parts, joins.forwarding, connection, members).map(
    ({ member, cluster, own, shown, viewer, use }) => {
      const isTranslated = formatPrefix(own) !== formatPrefix(shown);
      return finding(
        'join.shown-taken',
        worse(connection, 'error'),
        [of('members', member.id), of(use.kind, use.id)],
        {
          title: `${formatPrefix(shown)}, shown for ${cluster.name} in ${connection.name}, is also the ${use.label} ${formatPrefix(use.prefix)}`,
          detail: [
            `Pods of ${viewer.name} lose the ${use.label}: their packets go into the tunnel${later(connection)}.`,
            isTranslated
              ? 'Translate to a range that is not used.'
              : `Translate the range of ${cluster.name} to one that is not used.`,
          ].join(' '),
          part: `${member.id} ${formatPrefix(own)}`,
        },
        [{ kind: 'join', title: 'Propose translated ranges', connectionId: connection.id }],
      );
    },
  );
}

// Ids and names.

function twice(connection: Connection, members: readonly Member[], joins: Joins): Finding[] {
  const groups = (keyOf: (member: Member) => string) =>
    [...groupBy(members, keyOf)].filter(([, all]) => all.length > 1);
  const names = (all: readonly Member[]) => all.map((member) => joins.clusterOf(member).name).join(' and ');
  const taken = new Set(members.map(({ memberId }) => memberId));
  return [
    ...groups(({ memberId }) => memberId).map(([id, all]) => {
      const [, ...others] = all;
      const operations = others.map((member) =>
        setOperation('members', member.id, { memberId: freeId(joins.clusterOf(member).name, taken) }),
      );
      return finding(
        'join.id-twice',
        worse(connection, 'error'),
        [...all.map((member) => of('members', member.id)), of('connections', connection.id)],
        {
          title: `${names(all)} have one cluster id, ${id}, in ${connection.name}`,
          detail: [
            'Names of single pods hold the cluster id, and members keep each other apart by it: one of them',
            'would take the place of the other. Give each its own.',
          ].join(' '),
          part: `${connection.id} ${id}`,
        },
        [{ kind: 'change', title: 'Give each an id of its own', operations }],
      );
    }),
    ...groups((member) => suffixOf(member, connection)).flatMap(([suffix, all]) =>
      all.every(({ dnsSuffix }) => dnsSuffix === '')
        ? []
        : [
            finding(
              'join.suffix-twice',
              worse(connection, 'error'),
              [...all.map((member) => of('members', member.id)), of('connections', connection.id)],
              {
                title: `${names(all)} have one DNS suffix, ${suffix}, in ${connection.name}`,
                detail:
                  'A name below it is then a service of either. Give each its own, or leave it empty for its id before the service domain.',
                part: `${connection.id} ${suffix}`,
              },
              [
                {
                  kind: 'change',
                  title: 'Let the suffixes follow the ids',
                  operations: all.map(({ id }) => setOperation('members', id, { dnsSuffix: '' })),
                },
              ],
            ),
          ],
    ),
  ];
}

function freeId(name: string, taken: Set<string>): string {
  const base =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 58) || 'cluster';
  let id = base;
  for (let n = 2; taken.has(id); n++) id = `${base}-${n}`;
  taken.add(id);
  return id;
}

// Gateways.

function gatewaysOf(
  parts: JoinFindingParts,
  connection: Connection,
  members: readonly Member[],
  joins: Joins,
): Finding[] {
  if (connection.way === 'flat') return flatOverlay(connection, members, joins);
  const what = connection.way === 'relays' ? 'relay' : 'gateway';
  return members.flatMap((member): Finding[] => {
    const cluster = joins.clusterOf(member);
    const subjects = [of('members', member.id), of('clusters', cluster.id)];
    const found: Finding[] = [];
    const zones = gatewayZones(joins.forwarding, member);
    const siteZones = zonesOfCluster(cluster, byId(parts.sites, cluster.siteId));
    if (member.gateways === 1)
      found.push(
        finding(
          'join.single',
          'warning',
          subjects,
          {
            title: `${cluster.name} has a single ${what} in ${connection.name}`,
            detail: `When it fails or is upgraded, ${cluster.name} is cut off. Plan a second one.`,
          },
          [
            {
              kind: 'change',
              title: 'Plan a second one',
              operations: [setOperation('members', member.id, { gateways: 2 })],
            },
          ],
        ),
      );
    else if (siteZones.length > 1 && new Set(zones).size === 1)
      found.push(
        finding(
          'join.one-zone',
          'warning',
          subjects,
          {
            title: `All ${what}s of ${cluster.name} in ${connection.name} are in zone ${zones[0] ?? ''}`,
            detail: `They go together when the zone does. ${cluster.name} has ${siteZones.length} zones: spread them.`,
          },
          [
            {
              kind: 'change',
              title: 'Spread them over the zones',
              operations: [setOperation('members', member.id, { gatewayZones: [] })],
            },
          ],
        ),
      );
    return [...found, ...throughputOf(connection, member, cluster)];
  });
}

/** Whether the gateways of a member carry what is planned for it. */
function throughputOf(connection: Connection, member: Member, cluster: Cluster): Finding[] {
  const { gatewayMbps, gateways, plannedMbps } = member;
  const carried = gatewayMbps === null ? undefined : carriedMbps(connection.way, gatewayMbps, gateways);
  if (carried === undefined || plannedMbps === null || plannedMbps <= carried) return [];
  const areRelays = connection.way === 'relays';
  return [
    finding('join.throughput', worse(connection, 'error'), [of('members', member.id), of('clusters', cluster.id)], {
      title: [
        `${cluster.name}: ${sayNumber(plannedMbps)} Mbit/s are planned over ${connection.name},`,
        `and its ${areRelays ? 'relays carry' : 'gateway carries'} ${sayNumber(carried)}`,
      ].join(' '),
      detail: [
        `${areRelays ? 'Relays share the calls.' : 'Only the first gateway carries; the others are on standby.'} Use larger ones,`,
        `${areRelays ? 'more of them, ' : ''}or part the traffic over several connections.`,
      ].join(' '),
    }),
  ];
}

function flatOverlay(connection: Connection, members: readonly Member[], joins: Joins): Finding[] {
  return members.flatMap((member): Finding[] => {
    const cluster = joins.clusterOf(member);
    if (cluster.podMode !== 'overlay') return [];
    return [
      finding('join.flat-overlay', worse(connection, 'error'), [of('members', member.id), of('clusters', cluster.id)], {
        title: `${cluster.name} cannot be flat in ${connection.name}: its pods are in an overlay`,
        detail: [
          'No network knows their addresses, so they cannot be reached from outside the cluster.',
          'Use tunnels, or routed or native pods: for a built cluster a rebuild.',
        ].join(' '),
      }),
    ];
  });
}

// Ways.

function pairsOf(connection: Connection, members: readonly Member[]): (readonly [Member, Member])[] {
  const hub = members.find(({ isHub }) => isHub);
  if (connection.shape === 'hub')
    return hub === undefined ? [] : members.filter((member) => member !== hub).map((member) => [hub, member] as const);
  if (meshLinks(members.length) > MOST_TUNNELS)
    return members.map((member, at) => [member, members[(at + 1) % members.length] as Member] as const);
  return members.flatMap((one, at) => members.slice(at + 1).map((other) => [one, other] as const));
}

const noDial: ReadonlySet<Failure['code']> = new Set([
  'private-source',
  'private-destination',
  'no-route',
  'no-taker',
  'unsolicited',
  'hop-gone',
  'route-drops',
]);
const oneSided: ReadonlySet<Failure['code']> = new Set(['avoided', 'no-state', 'elsewhere']);

function tunnelsOf(connection: Connection, members: readonly Member[], joins: Joins): Finding[] {
  const at = of('connections', connection.id);
  if (connection.shape === 'hub' && connection.way !== 'flat' && !members.some(({ isHub }) => isHub))
    return [
      finding('join.no-hub', worse(connection, 'error'), [at], {
        title: `${connection.name} has the shape hub, and none of its members is the hub`,
        detail: 'Nobody passes packets on. Mark one member as the hub, or choose a full mesh.',
      }),
    ];
  if (connection.way === 'flat') return flatWays(connection, members, joins);
  const failing: Finding[] = [];
  const narrow: Finding[] = [];
  for (const [one, other] of pairsOf(connection, members)) {
    const tunnel = joins.forwarding.tunnelBetween(connection, one, other);
    const subjects = [at, of('members', one.id), of('members', other.id)];
    const names = `${joins.clusterOf(one).name} and ${joins.clusterOf(other).name}`;
    if (!tunnel.ok) continue;
    if (!tunnel.value.isUp) failing.push(down(connection, tunnel.value, joins, subjects, names));
    else if (connection.way === 'tunnels') narrow.push(...tooNarrow(connection, one, other, joins, tunnel.value));
  }
  return [...capped(connection, failing), ...capped(connection, narrow)];
}

function down(
  connection: Connection,
  tunnel: Tunnel,
  joins: Joins,
  subjects: readonly Subject[],
  names: string,
): Finding {
  const { failed, fault } = tunnel;
  const say = fault === undefined ? '' : sayTunnelFault(joins.forwarding.parts, fault, failed);
  const fix: Fix = { kind: 'join', title: 'Propose openings and routes', connectionId: connection.id };
  const code = failed?.failure.code;
  const [kind, what, mend] =
    code === 'filter' || code === 'firewall'
      ? (['join.closed', 'a filter or firewall is closed', 'Open it for what the connection is carried by.'] as const)
      : code !== undefined && oneSided.has(code)
        ? (['join.asymmetric', 'the way back is another one', 'Let both directions pass the same devices.'] as const)
        : fault?.is === 'no dialler' || (code !== undefined && noDial.has(code))
          ? ([
              'join.no-dial',
              'neither side reaches the other',
              'Join their networks, or give one side gateways with public addresses.',
            ] as const)
          : (['join.down', 'packets do not arrive', 'Mend the way that Trace shows.'] as const);
  return finding(
    kind,
    worse(connection, 'error'),
    subjects,
    {
      title: `${connection.name}: no ${connection.way === 'relays' ? 'link' : 'tunnel'} between ${names}${later(connection)}: ${what}`,
      detail: `${say} ${mend}`,
      part: subjects.map(({ id }) => id).join(' '),
    },
    fault?.is === 'lost' ? [fix] : [],
  );
}

function tooNarrow(connection: Connection, one: Member, other: Member, joins: Joins, tunnel: Tunnel): Finding[] {
  const pair = joins.pair(connection, one, other);
  if (pair.verdict !== 'pass') return [];
  const [a, b] = [joins.clusterOf(one), joins.clusterOf(other)];
  const floor = Math.max(
    LEAST_IPV6,
    ...[a, b]
      .filter(({ mtuFloor, podNeeds }) => mtuFloor > 0 && podNeeds.includes('mtu floor'))
      .map(({ mtuFloor }) => mtuFloor),
  );
  if (pair.room >= floor) return [];
  const wrapped = [...tunnel.forth, ...tunnel.back].find(({ spot }) => spot.kind === 'link');
  const link = byId(joins.forwarding.parts.links, (wrapped === undefined ? undefined : subjectOf(wrapped))?.id ?? '');
  const stacked =
    link !== undefined && link.encapsulation !== 'none'
      ? ` The tunnel goes through ${link.name}, which wraps packets in ${link.encapsulation} once more.`
      : '';
  return [
    finding('join.mtu', 'warning', [of('connections', connection.id), of('members', one.id), of('members', other.id)], {
      title: `${connection.name}: packets of ${sayNumber(pair.room)} bytes at most between ${a.name} and ${b.name}, and ${sayNumber(floor)} are needed`,
      detail: [
        `${floor === LEAST_IPV6 ? 'IPv6 takes 1,280 bytes everywhere (RFC 8200 5), and many programs send as much.' : 'One of the clusters asks for it.'}${stacked} Raise the MTU of what carries the tunnel,`,
        'or leave one of the layers out.',
      ].join(' '),
      part: `${connection.id} ${one.id} ${other.id}`,
    }),
  ];
}

function flatWays(connection: Connection, members: readonly Member[], joins: Joins): Finding[] {
  const failing: Finding[] = [];
  for (const [one, other] of pairsOf({ ...connection, shape: 'full mesh' }, members)) {
    const [a, b] = [joins.clusterOf(one), joins.clusterOf(other)];
    if (a.podMode === 'overlay' || b.podMode === 'overlay') continue;
    const pair = [joins.pair(connection, one, other), joins.pair(connection, other, one)].find(
      ({ verdict }) => verdict !== 'pass',
    );
    if (pair === undefined || pair.verdict === 'unknown') continue;
    failing.push(
      finding(
        pair.verdict === 'refused' ? 'join.closed' : 'join.down',
        worse(connection, 'error'),
        [of('connections', connection.id), of('members', one.id), of('members', other.id)],
        {
          title: `${connection.name}: pods of ${a.name} and ${b.name} do not reach one another${later(connection)}`,
          detail: `${pair.say} Flat members need a way for every pod.`,
          part: `${connection.id} ${one.id} ${other.id}`,
        },
      ),
    );
  }
  return capped(connection, failing);
}

/** The first few, and how many more there are. */
function capped(connection: Connection, found: readonly Finding[]): Finding[] {
  if (found.length <= MOST_TOLD) return [...found];
  const [first] = found;
  const more = found.length - MOST_TOLD;
  return [
    ...found.slice(0, MOST_TOLD),
    finding(first?.code ?? '', first?.severity ?? 'error', [of('connections', connection.id)], {
      title: `${connection.name}: the same of ${more} other ${more === 1 ? 'pair' : 'pairs'}`,
      detail: 'The matrix of the stop Cross-cluster shows each.',
      part: `${connection.id} more`,
    }),
  ];
}

/** A rendezvous by its name: gateways have to resolve and reach it. By its address it is a part of the tunnel. */
function rendezvousOf(connection: Connection, members: readonly Member[], joins: Joins, naming: NameState): Finding[] {
  const { rendezvous, rendezvousPort, way } = connection;
  if (rendezvous === '' || way === 'flat' || parseAddress(rendezvous).ok || naming.parts.zones.length === 0) return [];
  const failing = members.flatMap((member): Finding[] => {
    const gateway = joins.forwarding.carrying(member);
    if (!gateway.ok) return [];
    const { host } = gateway.value;
    const { outcome, why, records } = resolve(
      naming,
      askerOf(host),
      `${rendezvous}.`,
      host.address.family === 6 ? 'AAAA' : 'A',
    );
    const subjects = [of('connections', connection.id), of('members', member.id)];
    const tell = (reason: string) =>
      finding('join.rendezvous', worse(connection, 'error'), subjects, {
        title: `${host.label} does not find the rendezvous ${rendezvous}`,
        detail: `${reason} It cannot tell the others where it is, nor learn where they are.`,
      });
    if (outcome === 'outside') return [];
    if (outcome !== 'answer')
      return [tell(`The name is not answered (${codeOf[outcome]}): ${sayNameReason(naming.forwarding.parts, why)}`)];
    const address = records.at(-1)?.value ?? '';
    if (!parseAddress(address).ok) return [];
    const flow = traceFlow(
      joins.forwarding,
      host,
      {
        address: hostPrefix(address),
        protocol: 'tcp',
        port: rendezvousPort,
        host: undefined,
        isOutside: true,
        label: rendezvous,
      },
      USUAL_BYTES,
    );
    return flow.verdict === 'pass' || flow.verdict === 'unknown' ? [] : [tell(sayFault(joins.forwarding.parts, flow))];
  });
  return capped(connection, failing);
}

function meshOf(connection: Connection, members: readonly Member[]): Finding[] {
  if (connection.way === 'flat') return [];
  const each = members.length - 1;
  if (each <= connection.mostLinks) return [];
  if (connection.shape === 'hub') {
    const hub = members.find(({ isHub }) => isHub);
    return hub === undefined ? [] : [fullHub(connection, hub, each)];
  }
  const all = meshLinks(members.length);
  return [
    finding('join.mesh', worse(connection, 'error'), [of('connections', connection.id)], {
      title: [
        `${connection.name}:`,
        `each of ${members.length} gateways would hold ${sayNumber(each)} ${connection.way === 'relays' ? 'links' : 'tunnels'},`,
        `and ${sayNumber(connection.mostLinks)} are the most`,
      ].join(' '),
      detail: [
        'A full mesh of n members has n(n − 1) ÷ 2 of them:',
        `${sayNumber(all)} here, and ${each} more with the next member.`,
        'A hub would hold as many; split the members across connections.',
      ].join(' '),
    }),
  ];
}

/** A hub has a tunnel to every other member, and no other shape takes that from it. */
function fullHub(connection: Connection, hub: Member, each: number): Finding {
  const what = connection.way === 'relays' ? 'links' : 'tunnels';
  return finding(
    'join.hub-full',
    worse(connection, 'error'),
    [of('connections', connection.id), of('members', hub.id)],
    {
      title: [
        `${connection.name}: its hub would hold ${sayCount(each, what.slice(0, -1))},`,
        `${sayNumber(each - connection.mostLinks)} over the limit of ${sayNumber(connection.mostLinks)}`,
      ].join(' '),
      detail: `Every other member has one to the hub. Split the members across connections, each with a hub of its own.`,
    },
  );
}

// Exports.

function ofExports(parts: JoinFindingParts, connection: Connection, joins: Joins): Finding[] {
  const members = joins.membersOf(connection.id);
  return importsOf(parts, connection).flatMap((each) => [
    ...noService(parts, each),
    ...contradictions(each),
    ...byName(each),
    ...tooFar(each, members, joins),
  ]);
}

function noService(parts: JoinFindingParts, { exporters, connection }: Imported): Finding[] {
  return exporters.flatMap(({ service, exported, cluster }): Finding[] => {
    if (service !== undefined) return [];
    const near = (grouped(parts.services, 'clusterId').get(cluster.id) ?? [])
      .filter(({ name, namespace }) => name === exported.name || namespace === exported.namespace)
      .map(({ name, namespace }) => `${namespace}/${name}`);
    return [
      finding(
        'export.no-service',
        worse(connection, 'error'),
        [of('serviceExports', exported.id), of('clusters', cluster.id)],
        {
          title: `${cluster.name} exports ${exported.namespace}/${exported.name}, and has no such service`,
          detail: [
            `Its name resolves to no endpoint for the others.${near.length === 0 ? '' : ` Nearest are ${near.slice(0, 3).join(', ')}.`} Add the service,`,
            'or remove the export.',
          ].join(' '),
        },
        [
          {
            kind: 'change',
            title: 'Remove the export',
            operations: [{ op: 'remove', kind: 'serviceExports', id: exported.id }],
          },
        ],
      ),
    ];
  });
}

/** Source: Kubernetes multi-cluster services, conflict resolution (from memory). */
function contradictions({ exporters, contradicting, namespace, name, connection, isHeadless }: Imported): Finding[] {
  const [oldest] = exporters;
  if (oldest === undefined) return [];
  const portsOf = (each: (typeof exporters)[number]) =>
    [...(each.service?.ports ?? [])]
      .map((port) => port.replace(/ to .*$/, ''))
      .sort()
      .join(', ');
  const unlike = exporters.filter(
    (each) => each.service !== undefined && oldest.service !== undefined && portsOf(each) !== portsOf(oldest),
  );
  const subjects = (each: (typeof exporters)[number]) => [
    of('serviceExports', each.exported.id),
    of('serviceExports', oldest.exported.id),
  ];
  return [
    ...contradicting.map((each) =>
      finding('export.conflict', worse(connection, 'error'), subjects(each), {
        title: [
          `${each.cluster.name} exports ${namespace}/${name} as ${each.service?.type ?? ''},`,
          `and ${oldest.cluster.name} ${isHeadless ? 'as headless' : 'not as that'}`,
        ].join(' '),
        detail: [
          `The older export, of ${oldest.exported.createdOn}, decides: pods of ${each.cluster.name} get no calls.`,
          'Make the services identical, or give one another name.',
        ].join(' '),
      }),
    ),
    ...unlike.map((each) =>
      finding('export.ports', 'warning', subjects(each), {
        title: `${namespace}/${name} has ports ${portsOf(each) || 'none'} in ${each.cluster.name} and ${portsOf(oldest) || 'none'} in ${oldest.cluster.name}`,
        detail: [
          `The others know the ports of the older export, of ${oldest.exported.createdOn}:`,
          `calls to a port that ${each.cluster.name} lacks fail there. Give both the same ports.`,
        ].join(' '),
      }),
    ),
  ];
}

function byName({ exporters, connection, isHeadless }: Imported): Finding[] {
  if (connection.way !== 'relays' || !isHeadless) return [];
  return exporters
    .filter(({ exported, service }) => service !== undefined && !exported.mirrorsPods)
    .map(({ exported, cluster }) =>
      finding(
        'export.by-name',
        worse(connection, 'error'),
        [of('serviceExports', exported.id)],
        {
          title: `${cluster.name} exports the headless service ${exported.namespace}/${exported.name} only by its name`,
          detail:
            'Clients of a headless service ask for single pods by host name: through relays these names exist only where each pod is mirrored.',
        },
        [
          {
            kind: 'change',
            title: 'Mirror it pod by pod',
            operations: [setOperation('serviceExports', exported.id, { mirrorsPods: true })],
          },
        ],
      ),
    );
}

function tooFar(
  { exporters, connection, namespace, name }: Imported,
  members: readonly Member[],
  joins: Joins,
): Finding[] {
  return exporters.flatMap(({ exported, member, cluster }): Finding[] => {
    const most = exported.mostMs;
    if (most === null) return [];
    const far = members.flatMap((from) => {
      const isOpen = exported.usedByIds.length === 0 || exported.usedByIds.includes(from.clusterId);
      const { floorMs } = from === member || !isOpen ? { floorMs: undefined } : joins.distance(from, member);
      return floorMs !== undefined && floorMs > most ? [{ name: joins.clusterOf(from).name, floorMs }] : [];
    });
    const [worst] = [...far].sort((a, b) => b.floorMs - a.floorMs);
    if (worst === undefined) return [];
    return [
      finding('export.far', 'warning', [of('serviceExports', exported.id), of('connections', connection.id)], {
        title: `${namespace}/${name} allows ${most} ms, and light takes ${worst.floorMs} ms from ${worst.name} to ${cluster.name} and back`,
        detail: [
          `${far.length === 1 ? 'This cluster is' : `${far.length} clusters are`} too far for it, whatever the network does.`,
          'Export it from a nearer cluster too, or allow more.',
        ].join(' '),
      }),
    ];
  });
}
