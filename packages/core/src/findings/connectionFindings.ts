import { formatPrefix, parseAddress } from '../address/index.js';
import { asStanding, carriedMbps, ConnectionState, takenRanges } from '../crosscluster/index.js';
import { byRange, clashesOfMembers } from '../verdicts/index.js';
import { forwarding as compiled, gatewayZones, packetsButRules, traceFlow } from '../forwarding/index.js';
import type { Forwarding, Tunnel } from '../forwarding/index.js';
import { askerOf, codeOf, importsOf, naming, resolve, suffixOf } from '../naming/index.js';
import type { Imported, ImportParts, NameState } from '../naming/index.js';
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
import { bySubject, section } from '../section/index.js';
import { MIN_IPV6 } from '../wire/index.js';
import { finding } from './finding.js';
import type { Finding, Fix, Severity, Subject } from './finding.js';
import type { Failure } from '../road/index.js';
import { subjectOf } from '../road/index.js';

/** What the ways of a connection are looked at with, beside what forwarding says of them. */
type Parts = Pick<Plan, 'allocations' | 'clusters' | 'inUse' | 'subnets' | 'blocks' | 'networks' | 'sites'>;

/** Tunnels of one connection that are looked at one by one; of larger meshes each member with its next. */
const MAX_TUNNELS = 1500;
/** Findings of one kind told of one connection; the others are counted. */
const MAX_TOLD = 12;

const of = (kind: Subject['kind'], id: string): Subject => ({ kind, id });

/** Connections as if all of them stood: of planned ones it is said what they would bring. Made when some is looked at. */
const standing = section({
  name: 'standing connections',
  reads: ['connections', 'members', 'clusters', 'sites', 'workloads', 'networkPolicies'],
  needs: { forwarding: compiled },
  build: (parts, { forwarding }) => {
    let made: ConnectionState | undefined;
    return () => (made ??= allStanding(parts, forwarding));
  },
});

function allStanding(parts: ConnectionState['parts'], forwarding: Forwarding): ConnectionState {
  // With none planned the forwarding serves as it is.
  if (!parts.connections.some((each) => each.isPlanned)) return new ConnectionState(parts, forwarding);
  const { connections } = asStanding(parts);
  const all = forwarding.with(forwarding.faults, { ...forwarding.parts, connections });
  return new ConnectionState({ ...parts, connections }, all);
}

/** What was found about a connection, and the filters and firewalls that its packets were held against. */
interface Looked {
  readonly findings: readonly Finding[];
  readonly lists: readonly string[];
}

/** Ranges, names, gateways and ways of each connection. */
const lookedAt = bySubject({
  name: 'ways of connections',
  reads: ['connections', 'members', 'allocations', 'clusters', 'inUse', 'subnets', 'blocks', 'networks', 'sites'],
  needs: { standing, forwarding: compiled, packetsButRules, naming },
  subjects: ({ connections }) => connections,
  dependsOn: (connection, { members }, { packetsButRules: mark, naming: names }) => [
    connection,
    ...(grouped(members, 'connectionId').get(connection.id) ?? []),
    mark,
    ...(isFoundByName(connection) ? [names] : []),
  ],
  look: (connection, parts, { standing: state, naming: names }): readonly Looked[] => {
    const connected = state();
    const { answer, lists } = connected.forwarding.lists.meeting(() =>
      ofConnection(parts, connection, connected, names),
    );
    return [{ findings: answer, lists }];
  },
  met: (found, _, { forwarding }) => found.flatMap(({ lists }) => lists.map((id) => forwarding.lists.of(id))),
});

/** What is wrong with connections themselves. */
export const connectionFindings = section({
  name: 'connections',
  reads: [],
  needs: { lookedAt },
  build: (_, needed): readonly Finding[] => needed.lookedAt.found.flatMap(({ findings }) => findings),
});

/** What is wrong with what members of each connection export. */
export const exportFindings = bySubject({
  name: 'exports of connections',
  reads: ['connections', 'members', 'serviceExports', 'services', 'clusters', 'sites'],
  needs: { standing },
  subjects: ({ connections }) => connections,
  dependsOn: (connection, { members, serviceExports, services, clusters, sites }) => [
    connection,
    sites,
    ...(grouped(members, 'connectionId').get(connection.id) ?? []).flatMap((member): unknown[] => [
      member,
      byId(clusters, member.clusterId),
      grouped(serviceExports, 'memberId').get(member.id),
      grouped(services, 'clusterId').get(member.clusterId),
    ]),
  ],
  look: (connection, parts, { standing: state }): readonly Finding[] => ofExports(parts, connection, state()),
});

function ofConnection(parts: Parts, connection: Connection, connected: ConnectionState, names: NameState): Finding[] {
  const members = connected.membersOf(connection.id);
  const at = of('connections', connection.id);
  if (members.length < 2)
    return [
      finding('connection.one-member', 'warning', [at], { connection: connection.name, members: members.length }),
    ];
  return [
    ...clashing(parts, connection, members),
    ...taken(parts, connection, members, connected),
    ...twice(connection, members, connected),
    ...gatewaysOf(parts, connection, members, connected),
    ...tunnelsOf(connection, members, connected),
    ...rendezvousOf(connection, members, connected, names),
    ...meshOf(connection, members),
  ];
}

/** Harmless while a connection is planned, broken once it stands. */
function worse(connection: Connection, standing: Severity): Severity {
  return connection.isPlanned && standing === 'error' ? 'warning' : standing;
}

// Ranges.

function clashing(parts: Parts, connection: Connection, members: readonly Member[]): Finding[] {
  const clashes = clashesOfMembers(parts, connection.method, members);
  if (clashes.length === 0) return [];
  const fix: Fix = {
    kind: 'connection',
    offer: { code: connection.method === 'flat' ? 'connection.other-ranges' : 'connection.translate' },
    connectionId: connection.id,
  };
  const ranges = byRange(clashes);
  return [
    ...ranges.slice(0, MAX_TOLD).map(({ range, others }) =>
      finding(
        'connection.overlap',
        worse(connection, 'error'),
        [of('connections', connection.id), of('allocations', range.allocation.id), of('clusters', range.cluster.id)],
        {
          connection: connection.name,
          isFlat: connection.method === 'flat',
          isPlanned: connection.isPlanned,
          range: { purpose: range.allocation.purpose, prefix: formatPrefix(range.own), cluster: range.cluster.name },
          others: others.map(({ name }) => name),
        },
        { part: `${connection.id} ${range.allocation.id}`, fixes: [fix] },
      ),
    ),
    ...(ranges.length > MAX_TOLD
      ? [
          finding(
            'connection.overlap:more',
            worse(connection, 'error'),
            [of('connections', connection.id)],
            { connection: connection.name, count: ranges.length - MAX_TOLD },
            { fixes: [fix] },
          ),
        ]
      : []),
  ];
}

/** What members show and somebody else has whom another member reaches: its pods can no longer tell the two apart. */
function taken(
  parts: Parts,
  connection: Connection,
  members: readonly Member[],
  connected: ConnectionState,
): Finding[] {
  return takenRanges(parts, connected.forwarding, connection, members).map(
    ({ member, cluster, own, shown, viewer, use }) =>
      finding(
        'connection.shown-taken',
        worse(connection, 'error'),
        [of('members', member.id), of(use.kind, use.id)],
        {
          connection: connection.name,
          cluster: cluster.name,
          shown: formatPrefix(shown),
          label: use.label,
          prefix: formatPrefix(use.prefix),
          viewer: viewer.name,
          isTranslated: formatPrefix(own) !== formatPrefix(shown),
          isPlanned: connection.isPlanned,
        },
        {
          part: `${member.id} ${formatPrefix(own)}`,
          fixes: [{ kind: 'connection', offer: { code: 'connection.translate' }, connectionId: connection.id }],
        },
      ),
  );
}

// Ids and names.

function twice(connection: Connection, members: readonly Member[], connected: ConnectionState): Finding[] {
  const groups = (keyOf: (member: Member) => string) =>
    [...groupBy(members, keyOf)].filter(([, all]) => all.length > 1);
  const names = (all: readonly Member[]) => all.map((member) => connected.clusterOf(member).name);
  const taken = new Set(members.map(({ memberId }) => memberId));
  return [
    ...groups(({ memberId }) => memberId).map(([id, all]) => {
      const [, ...others] = all;
      const operations = others.map((member) =>
        setOperation('members', member.id, { memberId: freeId(connected.clusterOf(member).name, taken) }),
      );
      return finding(
        'connection.id-twice',
        worse(connection, 'error'),
        [...all.map((member) => of('members', member.id)), of('connections', connection.id)],
        { connection: connection.name, clusters: names(all), id },
        { part: `${connection.id} ${id}`, fixes: [{ kind: 'change', offer: { code: 'member.ids' }, operations }] },
      );
    }),
    ...groups((member) => suffixOf(member, connection)).flatMap(([suffix, all]) =>
      all.every(({ dnsSuffix }) => dnsSuffix === '')
        ? []
        : [
            finding(
              'connection.suffix-twice',
              worse(connection, 'error'),
              [...all.map((member) => of('members', member.id)), of('connections', connection.id)],
              { connection: connection.name, clusters: names(all), suffix },
              {
                part: `${connection.id} ${suffix}`,
                fixes: [
                  {
                    kind: 'change',
                    offer: { code: 'member.suffixes' },
                    operations: all.map(({ id }) => setOperation('members', id, { dnsSuffix: '' })),
                  },
                ],
              },
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
  parts: Parts,
  connection: Connection,
  members: readonly Member[],
  connected: ConnectionState,
): Finding[] {
  if (connection.method === 'flat') return flatOverlay(connection, members, connected);
  const areRelays = connection.method === 'relays';
  return members.flatMap((member): Finding[] => {
    const cluster = connected.clusterOf(member);
    const subjects = [of('members', member.id), of('clusters', cluster.id)];
    const found: Finding[] = [];
    const zones = gatewayZones(connected.forwarding, member);
    const siteZones = zonesOfCluster(cluster, byId(parts.sites, cluster.siteId));
    if (member.gateways === 1)
      found.push(
        finding(
          'connection.single',
          'warning',
          subjects,
          { connection: connection.name, cluster: cluster.name, areRelays },
          {
            fixes: [
              {
                kind: 'change',
                offer: { code: 'member.second' },
                operations: [setOperation('members', member.id, { gateways: 2 })],
              },
            ],
          },
        ),
      );
    else if (siteZones.length > 1 && new Set(zones).size === 1)
      found.push(
        finding(
          'connection.one-zone',
          'warning',
          subjects,
          {
            connection: connection.name,
            cluster: cluster.name,
            areRelays,
            zone: zones[0] ?? '',
            zones: siteZones.length,
          },
          {
            fixes: [
              {
                kind: 'change',
                offer: { code: 'member.spread' },
                operations: [setOperation('members', member.id, { gatewayZones: [] })],
              },
            ],
          },
        ),
      );
    return [...found, ...throughputOf(connection, member, cluster)];
  });
}

/** Whether the gateways of a member carry what is planned for it. */
function throughputOf(connection: Connection, member: Member, cluster: Cluster): Finding[] {
  const { gatewayMbps, gateways, plannedMbps } = member;
  const carried = gatewayMbps === null ? undefined : carriedMbps(connection.method, gatewayMbps, gateways);
  if (carried === undefined || plannedMbps === null || plannedMbps <= carried) return [];
  return [
    finding(
      'connection.throughput',
      worse(connection, 'error'),
      [of('members', member.id), of('clusters', cluster.id)],
      {
        connection: connection.name,
        cluster: cluster.name,
        areRelays: connection.method === 'relays',
        planned: plannedMbps,
        carried,
      },
    ),
  ];
}

function flatOverlay(connection: Connection, members: readonly Member[], connected: ConnectionState): Finding[] {
  return members.flatMap((member): Finding[] => {
    const cluster = connected.clusterOf(member);
    if (cluster.podMode !== 'overlay') return [];
    return [
      finding(
        'connection.flat-overlay',
        worse(connection, 'error'),
        [of('members', member.id), of('clusters', cluster.id)],
        {
          connection: connection.name,
          cluster: cluster.name,
        },
      ),
    ];
  });
}

// Ways.

function pairsOf(connection: Connection, members: readonly Member[]): (readonly [Member, Member])[] {
  const hub = members.find(({ isHub }) => isHub);
  if (connection.shape === 'hub')
    return hub === undefined ? [] : members.filter((member) => member !== hub).map((member) => [hub, member] as const);
  if (meshLinks(members.length) > MAX_TUNNELS)
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

function tunnelsOf(connection: Connection, members: readonly Member[], connected: ConnectionState): Finding[] {
  const at = of('connections', connection.id);
  if (connection.shape === 'hub' && connection.method !== 'flat' && !members.some(({ isHub }) => isHub))
    return [finding('connection.no-hub', worse(connection, 'error'), [at], { connection: connection.name })];
  if (connection.method === 'flat') return flatWays(connection, members, connected);
  const failing: Finding[] = [];
  const narrow: Finding[] = [];
  for (const [one, other] of pairsOf(connection, members)) {
    const tunnel = connected.forwarding.tunnels.between(connection, one, other);
    const subjects = [at, of('members', one.id), of('members', other.id)];
    if (!tunnel.ok) continue;
    if (!tunnel.value.isUp)
      failing.push(
        down(connection, tunnel.value, subjects, connected.clusterOf(one).name, connected.clusterOf(other).name),
      );
    else if (connection.method === 'tunnels')
      narrow.push(...tooNarrow(connection, one, other, connected, tunnel.value));
  }
  return [...capped(connection, failing), ...capped(connection, narrow)];
}

function down(
  connection: Connection,
  { failed, fault }: Tunnel,
  subjects: readonly Subject[],
  one: string,
  other: string,
): Finding {
  const fix: Fix = { kind: 'connection', offer: { code: 'connection.openings' }, connectionId: connection.id };
  const code = failed?.failure.code;
  const check =
    code === 'filter' || code === 'firewall'
      ? 'connection.closed'
      : code !== undefined && oneSided.has(code)
        ? 'connection.asymmetric'
        : fault?.is === 'no dialler' || (code !== undefined && noDial.has(code))
          ? 'connection.no-dial'
          : 'connection.down';
  const fact = {
    connection: connection.name,
    one,
    other,
    areRelays: connection.method === 'relays',
    isPlanned: connection.isPlanned,
    fault,
    failed,
  };
  return finding(check, worse(connection, 'error'), subjects, fact, {
    fixes: fault?.is === 'lost' ? [fix] : [],
  });
}

function tooNarrow(
  connection: Connection,
  one: Member,
  other: Member,
  connected: ConnectionState,
  tunnel: Tunnel,
): Finding[] {
  const pair = connected.pair(connection, one, other);
  if (pair.verdict !== 'pass') return [];
  const [a, b] = [connected.clusterOf(one), connected.clusterOf(other)];
  const floor = Math.max(
    MIN_IPV6,
    ...[a, b]
      .filter(({ mtuFloor, podNeeds }) => mtuFloor > 0 && podNeeds.includes('mtu floor'))
      .map(({ mtuFloor }) => mtuFloor),
  );
  if (pair.room >= floor) return [];
  const wrapped = [...tunnel.forth, ...tunnel.back].find(({ spot }) => spot.kind === 'link');
  const link = byId(
    connected.forwarding.parts.links,
    (wrapped === undefined ? undefined : subjectOf(wrapped))?.id ?? '',
  );
  return [
    finding(
      'connection.mtu',
      'warning',
      [of('connections', connection.id), of('members', one.id), of('members', other.id)],
      {
        connection: connection.name,
        one: a.name,
        other: b.name,
        room: pair.room,
        floor,
        isOfIpv6: floor === MIN_IPV6,
        within:
          link === undefined || link.encapsulation === 'none'
            ? undefined
            : { link: link.name, encapsulation: link.encapsulation },
      },
      { part: `${connection.id} ${one.id} ${other.id}` },
    ),
  ];
}

function flatWays(connection: Connection, members: readonly Member[], connected: ConnectionState): Finding[] {
  const failing: Finding[] = [];
  for (const [one, other] of pairsOf({ ...connection, shape: 'full mesh' }, members)) {
    const [a, b] = [connected.clusterOf(one), connected.clusterOf(other)];
    if (a.podMode === 'overlay' || b.podMode === 'overlay') continue;
    const pair = [connected.pair(connection, one, other), connected.pair(connection, other, one)].find(
      ({ verdict }) => verdict !== 'pass',
    );
    if (pair === undefined || pair.verdict === 'unknown') continue;
    failing.push(
      finding(
        pair.verdict === 'refused' ? 'connection.closed:flat' : 'connection.down:flat',
        worse(connection, 'error'),
        [of('connections', connection.id), of('members', one.id), of('members', other.id)],
        {
          connection: connection.name,
          one: a.name,
          other: b.name,
          isPlanned: connection.isPlanned,
          why: connected.description(pair),
        },
        { part: `${connection.id} ${one.id} ${other.id}` },
      ),
    );
  }
  return capped(connection, failing);
}

/** The first few, and how many more there are. */
function capped(connection: Connection, found: readonly Finding[]): Finding[] {
  if (found.length <= MAX_TOLD) return [...found];
  const [first] = found;
  if (first === undefined) return [];
  return [
    ...found.slice(0, MAX_TOLD),
    finding(
      'connection.down:more',
      first.severity,
      [of('connections', connection.id)],
      { connection: connection.name, count: found.length - MAX_TOLD },
      { part: `${connection.id} more`, check: first.code },
    ),
  ];
}

/** Whether gateways find each other at a name that they have to ask for. */
function isFoundByName({ rendezvous, method }: Connection): boolean {
  return rendezvous !== '' && method !== 'flat' && !parseAddress(rendezvous).ok;
}

/** A rendezvous by its name: gateways have to resolve and reach it. By its address it is a part of the tunnel. */
function rendezvousOf(
  connection: Connection,
  members: readonly Member[],
  connected: ConnectionState,
  names: NameState,
): Finding[] {
  const { rendezvous, rendezvousPort } = connection;
  if (!isFoundByName(connection) || names.parts.zones.length === 0) return [];
  const failing = members.flatMap((member): Finding[] => {
    const gateway = connected.forwarding.tunnels.carrying(member);
    if (!gateway.ok) return [];
    const { host } = gateway.value;
    const { outcome, why, records } = resolve(
      names,
      askerOf(host),
      `${rendezvous}.`,
      host.address.family === 6 ? 'AAAA' : 'A',
    );
    const subjects = [of('connections', connection.id), of('members', member.id)];
    const fact = { gateway: host.label, rendezvous };
    if (outcome === 'outside') return [];
    if (outcome !== 'answer')
      return [
        finding('connection.rendezvous:name', worse(connection, 'error'), subjects, {
          ...fact,
          answer: codeOf[outcome],
          why,
        }),
      ];
    const address = records.at(-1)?.value ?? '';
    if (!parseAddress(address).ok) return [];
    const flow = traceFlow(
      connected.forwarding,
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
    return flow.verdict === 'pass' || flow.verdict === 'unknown'
      ? []
      : [finding('connection.rendezvous', worse(connection, 'error'), subjects, { ...fact, failed: flow.failed })];
  });
  return capped(connection, failing);
}

function meshOf(connection: Connection, members: readonly Member[]): Finding[] {
  if (connection.method === 'flat') return [];
  const each = members.length - 1;
  if (each <= connection.maxLinks) return [];
  if (connection.shape === 'hub') {
    const hub = members.find(({ isHub }) => isHub);
    return hub === undefined ? [] : [fullHub(connection, hub, each)];
  }
  return [
    finding('connection.mesh', worse(connection, 'error'), [of('connections', connection.id)], {
      connection: connection.name,
      areRelays: connection.method === 'relays',
      members: members.length,
      all: meshLinks(members.length),
      most: connection.maxLinks,
    }),
  ];
}

/** A hub has a tunnel to every other member, and no other shape takes that from it. */
function fullHub(connection: Connection, hub: Member, each: number): Finding {
  return finding(
    'connection.hub-full',
    worse(connection, 'error'),
    [of('connections', connection.id), of('members', hub.id)],
    { connection: connection.name, areRelays: connection.method === 'relays', held: each, most: connection.maxLinks },
  );
}

// Exports.

function ofExports(parts: ImportParts, connection: Connection, connected: ConnectionState): Finding[] {
  const members = connected.membersOf(connection.id);
  return importsOf(parts, connection).flatMap((each) => [
    ...noService(parts, each),
    ...contradictions(each),
    ...byName(each),
    ...tooFar(each, members, connected),
  ]);
}

function noService(parts: Pick<Plan, 'services'>, { exporters, connection }: Imported): Finding[] {
  return exporters.flatMap(({ service, exported, cluster }): Finding[] => {
    if (service !== undefined) return [];
    const nearest = (grouped(parts.services, 'clusterId').get(cluster.id) ?? [])
      .filter(({ name, namespace }) => name === exported.name || namespace === exported.namespace)
      .map(({ name, namespace }) => `${namespace}/${name}`);
    return [
      finding(
        'export.no-service',
        worse(connection, 'error'),
        [of('serviceExports', exported.id), of('clusters', cluster.id)],
        { cluster: cluster.name, service: `${exported.namespace}/${exported.name}`, nearest },
        {
          fixes: [
            {
              kind: 'change',
              offer: { code: 'export.remove' },
              operations: [{ op: 'remove', kind: 'serviceExports', id: exported.id }],
            },
          ],
        },
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
        cluster: each.cluster.name,
        service: `${namespace}/${name}`,
        type: each.service?.type ?? '',
        older: oldest.cluster.name,
        olderIsHeadless: isHeadless,
        createdOn: oldest.exported.createdOn,
      }),
    ),
    ...unlike.map((each) =>
      finding('export.ports', 'warning', subjects(each), {
        cluster: each.cluster.name,
        service: `${namespace}/${name}`,
        ports: portsOf(each),
        older: oldest.cluster.name,
        olderPorts: portsOf(oldest),
        createdOn: oldest.exported.createdOn,
      }),
    ),
  ];
}

function byName({ exporters, connection, isHeadless }: Imported): Finding[] {
  if (connection.method !== 'relays' || !isHeadless) return [];
  return exporters
    .filter(({ exported, service }) => service !== undefined && !exported.mirrorsPods)
    .map(({ exported, cluster }) =>
      finding(
        'export.by-name',
        worse(connection, 'error'),
        [of('serviceExports', exported.id)],
        { cluster: cluster.name, service: `${exported.namespace}/${exported.name}` },
        {
          fixes: [
            {
              kind: 'change',
              offer: { code: 'export.mirror' },
              operations: [setOperation('serviceExports', exported.id, { mirrorsPods: true })],
            },
          ],
        },
      ),
    );
}

function tooFar(
  { exporters, connection, namespace, name }: Imported,
  members: readonly Member[],
  connected: ConnectionState,
): Finding[] {
  return exporters.flatMap(({ exported, member, cluster }): Finding[] => {
    const most = exported.maxRoundTripMs;
    if (most === null) return [];
    const far = members.flatMap((from) => {
      const isOpen = exported.usedByIds.length === 0 || exported.usedByIds.includes(from.clusterId);
      const { floorMs } = from === member || !isOpen ? { floorMs: undefined } : connected.distance(from, member);
      return floorMs !== undefined && floorMs > most ? [{ name: connected.clusterOf(from).name, floorMs }] : [];
    });
    const [worst] = [...far].sort((a, b) => b.floorMs - a.floorMs);
    if (worst === undefined) return [];
    return [
      finding('export.far', 'warning', [of('serviceExports', exported.id), of('connections', connection.id)], {
        cluster: cluster.name,
        service: `${namespace}/${name}`,
        most,
        floorMs: worst.floorMs,
        from: worst.name,
        count: far.length,
      }),
    ];
  });
}
