import { finished } from '../working/index.js';
import { joined, served } from '../../test/connections.js';
import { add, applied, testId } from '../../test/worlds.js';
import { Forwarding, NO_FAULTS } from '../forwarding/index.js';
import { applyOperations, setOperation } from '../plan/index.js';
import type { ConnectionMethod, Operation, Plan } from '../plan/index.js';
import {
  asStanding,
  compareWays,
  connectionCriteria,
  ConnectionState,
  mendConnection,
  proposeConnection,
  sheetRows,
  valueSheets,
} from './index.js';
import type { ConnectionNeeds, ConnectionRequest, WayComparison } from './index.js';

const ids = (count: number) => Array.from({ length: count }, (_, i) => testId('clusters', i + 1));
const wish = (fields: Partial<ConnectionRequest> = {}): ConnectionRequest => ({
  name: 'new',
  method: 'tunnels',
  clusterIds: ids(2),
  tunnel: 'wireguard',
  shape: 'full mesh',
  sides: [],
  gateways: 2,
  rendezvous: '',
  today: '2026-11-29',
  exportsServices: true,
  ...fields,
});
const needs = (fields: Partial<ConnectionNeeds> = {}): ConnectionNeeds => ({
  plannedMbps: 0,
  gatewayMbps: 1000,
  anyProtocol: false,
  sourceKept: false,
  ...fields,
});
const routed = { podMode: 'routed' } as const;

/** Clusters without a connection. */
const apart = (...of: Parameters<typeof joined>) => {
  const plan = joined(...of);
  return applied(plan, [
    ...plan.members.map(({ id }): Operation => ({ op: 'remove', kind: 'members', id })),
    { op: 'remove', kind: 'connections', id: testId('connections', 1) },
  ]);
};
const compared = (plan: Plan, of: Partial<ConnectionRequest> = {}, asked: Partial<ConnectionNeeds> = {}) =>
  finished(compareWays(plan, wish(of), needs(asked)));
const wayOf = ({ ways }: { readonly ways: readonly WayComparison[] }, way: ConnectionMethod) =>
  ways.find((each) => each.method === way) as WayComparison;
const said = ({ consequences }: WayComparison, label: string) => {
  const found = consequences.find((each) => each.label === label);
  return found === undefined ? undefined : 'figure' in found ? found.figure.value : found.words;
};

describe('three kinds side by side', () => {
  test('routed clusters with ranges of their own: every way works, and the wire is what the headers leave', () => {
    const all = compared(apart({ clusters: [routed, routed], more: [...served(1, 'web'), ...served(2, 'db')] }));
    expect(all.ways.map(({ method, excluded }) => [method, excluded])).toEqual([
      ['tunnels', []],
      ['relays', []],
      ['flat', []],
    ]);
    const [tunnels, relays, flat] = all.ways as [WayComparison, WayComparison, WayComparison];
    for (const each of all.ways) expect(said(each, 'Ways that work')).toBe(2);
    // WireGuard on IPv4: 20 + 8 of IP and UDP, 16 of header, 16 of tag (protocol paper, from memory): 1,500 − 60; then 40 of IPv4 and TCP.
    expect([said(tunnels, 'Largest packet'), said(tunnels, 'TCP segment')]).toEqual([1440, 1400]);
    expect([said(flat, 'Largest packet'), said(flat, 'TCP segment')]).toEqual([1500, 1460]);
    expect([said(tunnels, 'Gateways to run'), said(relays, 'Gateways to run'), said(flat, 'Gateways to run')]).toEqual([
      4, 4, 0,
    ]);
    expect([said(relays, 'Caller seen'), said(relays, 'Protocols')]).toEqual([
      'as the relay',
      'TCP of single services',
    ]);
  });

  test.each([
    // RFC 4303, RFC 4106: 8 of ESP, 8 of IV, 16 of ICV, and 2 of trailer with padding to 4: 1,500 − 20 − 8 − 8 − 16 = 1,448, of which 1,446 are the packet.
    ['esp-gcm', 1446],
    // RFC 3948: 8 more of UDP: 1,440, of which 1,438.
    ['esp-gcm-nat', 1438],
    // RFC 7348: 20 of IPv4, 8 of UDP, 8 of VXLAN, 14 of Ethernet.
    ['vxlan', 1450],
  ] as const)('%s leaves packets of %i bytes', (tunnel, bytes) => {
    const all = compared(apart({ clusters: [routed, routed] }), { tunnel });
    expect(said(wayOf(all, 'tunnels'), 'Largest packet')).toBe(bytes);
  });

  test('a full mesh of five has ten links, a hub four; gateways go by members', () => {
    const plan = apart({ count: 5, clusters: Array.from({ length: 5 }, () => routed) });
    const figures = (shape: ConnectionRequest['shape']) => {
      const tunnels = wayOf(compared(plan, { clusterIds: ids(5), shape, gateways: 3 }), 'tunnels');
      return [said(tunnels, 'Tunnels or links'), said(tunnels, 'Gateways to run')];
    };
    expect(figures('full mesh')).toEqual([10, 15]);
    expect(figures('hub')).toEqual([4, 15]);
  });

  test('overlay clusters with one pod range: moved while nothing is built, else translated; relays do not mind; flat cannot be', () => {
    const overlapping = (isBuilt: boolean) => {
      const plan = apart({
        pods: ['10.244.0.0/16', '10.244.0.0/16'],
        more: add('pools', { name: 'spare', prefix: '172.20.0.0/14', purposes: ['pod'] }),
      });
      return isBuilt ? { ...plan, clusters: plan.clusters.map((each) => ({ ...each, isBuilt })) } : plan;
    };
    const ranges = (plan: Plan, way: ConnectionMethod) => {
      const each = wayOf(compared(plan), way);
      return [said(each, 'Ranges that overlap'), said(each, 'Ranges to translate'), said(each, 'Ranges to move')];
    };
    expect(ranges(overlapping(false), 'tunnels')).toEqual([1, 0, 1]);
    expect(ranges(overlapping(true), 'tunnels')).toEqual([1, 2, 0]);
    expect(ranges(overlapping(true), 'relays')).toEqual([0, 0, 0]);
    expect(wayOf(compared(overlapping(true)), 'flat').excluded[0]).toContain('Pods of c1, c2 are in an overlay');
    expect(wayOf(compared(overlapping(true)), 'tunnels').excluded).toEqual([]);
  });

  test('no pool for a translated range excludes tunnels, with the size that is missing', () => {
    const plan = apart({ pods: ['10.244.0.0/16', '10.244.0.0/16'] });
    const built = { ...plan, clusters: plan.clusters.map((each) => ({ ...each, isBuilt: true })) };
    expect(wayOf(compared(built), 'tunnels').excluded[0]).toContain(
      'No pool has room for a translated /16 of the pod range 10.244.0.0/16',
    );
  });

  test('what relays cannot carry, and what gateways are too small for, excludes them', () => {
    const plan = apart({ clusters: [routed, routed] });
    expect(wayOf(compared(plan, {}, { anyProtocol: true }), 'relays').excluded).toHaveLength(1);
    expect(wayOf(compared(plan, {}, { sourceKept: true }), 'relays').excluded).toEqual([
      'Behind a relay every caller has the relay’s address.',
    ]);
    // One gateway carries while the other stands by: 1,000 Mbit/s; both relays carry: 2,000.
    const planned = compared(plan, {}, { plannedMbps: 1500 });
    expect(planned.ways.map(({ excluded }) => excluded.length)).toEqual([1, 0, 0]);
    expect(compared(plan, {}, { plannedMbps: 2500 }).ways.map(({ excluded }) => excluded.length)).toEqual([1, 1, 0]);
    const floored = applied(plan, [
      setOperation('clusters', testId('clusters', 1), { podNeeds: ['mtu floor'], mtuFloor: 1450 }),
    ]);
    expect(wayOf(compared(floored), 'tunnels').excluded).toEqual([
      'c1 needs packets of 1,450 bytes, and 1,440 pass whole.',
    ]);
    expect(wayOf(compared(floored), 'flat').excluded).toEqual([]);
  });

  test('cost: gateways by their shape, and half of the traffic out of each side', () => {
    const plan = applied(apart({ clusters: [routed, routed] }), [
      setOperation('profiles', testId('profiles', 1), { priceZoneGb: 0.01, priceEgressGb: 0.08, priceBalancer: 18 }),
      ...add('shapes', { name: 'm', profileId: testId('profiles', 1), price: 50, id: testId('shapes', 1) }),
      ...ids(2).map((id) => setOperation('clusters', id, { shapeId: testId('shapes', 1) })),
    ]);
    const all = compared(plan, {}, { plannedMbps: 10 });
    // 10 Mbit/s for 30 days: 10 × 2,592,000 ÷ 8,000 = 3,240 GB, of one site to itself: 3,240 × 0.01 = 32.40.
    expect(said(wayOf(all, 'flat'), 'Cost per month')).toBe(32.4);
    // Four relays of 50 and two load balancers of 18.
    expect(said(wayOf(all, 'relays'), 'Cost per month')).toBe(268.4);
    expect(said(wayOf(all, 'tunnels'), 'Cost per month')).toBe(232.4);
  });

  test('the score is the weighted mean, and a weight that turns the winner does', () => {
    const plan = apart({ clusters: [routed, routed], more: served(2, 'db') });
    const { ways, winner, sensitivities } = compared(plan);
    for (const { score, scores } of ways) {
      const weights = connectionCriteria.map(({ field }) => plan.settings[field]);
      const sum = connectionCriteria.reduce((total, { id }, i) => total + scores[id] * (weights[i] ?? 0), 0);
      expect(score.value).toBeCloseTo((100 * sum) / weights.reduce((a, b) => a + b, 0), 1);
    }
    const best = [...ways].sort((a, b) => b.score.value - a.score.value)[0];
    expect(winner).toBe(best?.method);
    const winnerAt = (field: (typeof connectionCriteria)[number]['field'], weight: number) =>
      compared(applied(plan, [{ op: 'set', kind: 'settings', fields: { [field]: weight } }])).winner;
    for (const { criterion, turnsAt, winner: other } of sensitivities) {
      const field = connectionCriteria.find(({ id }) => id === criterion)?.field ?? 'weightConnectionReach';
      if (turnsAt !== undefined) expect(winnerAt(field, turnsAt)).toBe(other?.method);
      else for (const at of [0, 10]) expect(winnerAt(field, at)).toBe(winner);
    }
  });
});

describe('a proposal', () => {
  /** Nodes of the second network let in only what a rule says, and it has none yet; a firewall is not there. */
  const guarded = apart({
    clusters: [routed, routed],
    more: [
      ...served(1, 'web'),
      ...add('filters', {
        name: 'nodes of c2',
        clusterIds: [testId('clusters', 2)],
        defaultIn: 'deny',
        defaultOut: 'allow',
      }),
    ],
  });

  test('is one difference that makes every way work: gateways, openings, exports; planned until it is built', () => {
    const proposal = proposeConnection(guarded, wish());
    expect(proposal.problems).toEqual([]);
    const operations = proposal.groups.flatMap((group) => group.operations);
    const result = applyOperations(guarded, operations);
    expect(result.ok && result.plan).toEqual(proposal.plan);
    const { plan, connectionId } = proposal;
    expect(plan.connections).toMatchObject([{ name: 'new', isPlanned: true, keyReference: 'keys/connections/new' }]);
    expect(plan.members.map(({ memberId, gateways }) => [memberId, gateways])).toEqual([
      ['c1', 2],
      ['c2', 2],
    ]);
    expect(plan.serviceExports).toMatchObject([{ namespace: 'shop', name: 'web', createdOn: '2026-11-29' }]);
    const standing = asStanding(plan, connectionId);
    const connected = new ConnectionState(standing, Forwarding.of(standing));
    const [one, other] = connected.membersOf(connectionId);
    const connection = standing.connections[0];
    if (one === undefined || other === undefined || connection === undefined) throw new Error('no members');
    expect([connected.pair(connection, one, other).verdict, connected.pair(connection, other, one).verdict]).toEqual([
      'pass',
      'pass',
    ]);
    // Without the rules that it adds nothing is let in.
    const bare = { ...standing, filterRules: [] };
    expect(proposal.openings).toBeGreaterThan(0);
    const closed = new ConnectionState(bare, Forwarding.of(bare));
    expect(closed.pair(connection, one, other).verdict).not.toBe('pass');
  });

  test('opens for every gateway: with any that another takes over for lost, all ways still work', () => {
    // Gateways stand in zones whose nodes have subnets of their own, and each cluster lets in nothing by itself.
    const zonal = apart({
      clusters: [routed, routed],
      more: [
        setOperation('sites', testId('sites', 1), { zones: ['a', 'b'] }),
        ...[1, 2].flatMap((n) => [
          setOperation('allocations', testId('allocations', 3 * n - 2), { zone: 'a' }),
          ...add('allocations', {
            id: testId('allocations', 20 + n),
            clusterId: testId('clusters', n),
            purpose: 'node',
            zone: 'b',
            prefix: `10.${n}.8.0/24`,
          }),
        ]),
        ...add(
          'filters',
          ...[1, 2].map((n) => ({
            name: `nodes of c${n}`,
            clusterIds: [testId('clusters', n)],
            defaultIn: 'deny' as const,
            defaultOut: 'allow' as const,
          })),
        ),
      ],
    });
    for (const method of ['tunnels', 'relays'] as const) {
      const { plan, connectionId, problems } = proposeConnection(zonal, wish({ method }));
      expect([method, problems]).toEqual([method, []]);
      const standing = asStanding(plan, connectionId);
      const members = standing.members.filter((each) => each.connectionId === connectionId);
      const [one, other] = members;
      if (one === undefined || other === undefined) throw new Error('no members');
      const losses = [
        [],
        [`${one.id} 0`],
        [`${other.id} 0`],
        [`${one.id} 0`, `${other.id} 0`],
        [`${one.id} 1`, `${other.id} 0`],
      ];
      for (const lost of losses) {
        const connected = new ConnectionState(
          standing,
          Forwarding.of(standing).with({ ...NO_FAULTS, gateways: new Set(lost) }),
        );
        const [connection] = standing.connections;
        if (connection === undefined) throw new Error('no connection');
        expect([
          method,
          lost,
          connected.pair(connection, one, other).verdict,
          connected.pair(connection, other, one).verdict,
        ]).toEqual([method, lost, 'pass', 'pass']);
      }
    }
  });

  test('opens no more than what it needs: each rule taken away closes a way again', () => {
    const { plan, connectionId } = proposeConnection(guarded, wish());
    const standing = asStanding(plan, connectionId);
    const works = (of: Plan) => {
      const connected = new ConnectionState(of, Forwarding.of(of));
      const [connection] = of.connections;
      const members = connected.membersOf(connectionId);
      return members.every((from) =>
        members.every(
          (to) => from === to || (connection !== undefined && connected.pair(connection, from, to).verdict === 'pass'),
        ),
      );
    };
    expect(works(standing)).toBe(true);
    for (const rule of standing.filterRules)
      expect(works({ ...standing, filterRules: standing.filterRules.filter((each) => each !== rule) })).toBe(false);
  });

  test('one cluster alone is none, and a name that is taken is told', () => {
    expect(proposeConnection(guarded, wish({ clusterIds: ids(1) })).problems).toEqual([
      'A connection joins two or more clusters. Choose another one.',
    ]);
    const taken = applied(guarded, add('connections', { name: 'new', method: 'flat' }));
    expect(proposeConnection(taken, wish()).problems[0]).toContain('new');
  });

  test('a connection that stands is mended by what it lacks alone', () => {
    const { plan, connectionId } = proposeConnection(guarded, wish());
    const added = plan.filterRules.length;
    const lacking = { ...asStanding(plan, connectionId), filterRules: [] };
    const mended = mendConnection(lacking, connectionId);
    expect(mended?.problems).toEqual([]);
    expect(mended?.plan.filterRules).toHaveLength(added);
    expect(mended?.plan.members).toEqual(plan.members);
    expect(mendConnection(plan, 'none')).toBeUndefined();
  });
});

test('a value sheet tells each member’s builders what to type', () => {
  const plan = joined({
    clusters: [routed, routed],
    connection: { tunnel: 'esp-gcm-nat', rendezvous: '10.1.0.40', keyReference: 'keys/wan/coast' },
    members: [
      { translated: ['10.101.0.0/16 as 172.30.0.0/16'], gatewayAddresses: ['203.0.113.7', '203.0.113.8'] },
      { gateways: 1, dials: 'dials', dnsSuffix: 'two.set.internal' },
    ],
    exports: [{ namespace: 'shop', name: 'web' }],
    more: served(1, 'web'),
  });
  const [one, two, ...none] = valueSheets(plan, Forwarding.of(plan), testId('connections', 1));
  expect(none).toEqual([]);
  const of = (sheet: typeof one) => Object.fromEntries((sheet?.values ?? []).map(({ label, value }) => [label, value]));
  expect(of(one)).toMatchObject({
    'Cluster id': 'm1',
    'Pod ranges': '10.101.0.0/16',
    'Service ranges': '10.201.0.0/20',
    'Translated ranges': '10.101.0.0/16 as 172.30.0.0/16',
    'Service domain': 'clusterset.local',
    'DNS suffix': 'm1.clusterset.local',
    'Gateway addresses': expect.stringMatching(/^203\.0\.113\.7.*, 203\.0\.113\.8/) as string,
    Rendezvous: '10.1.0.40 tcp 443',
    'Key reference': 'keys/wan/coast',
    // RFC 7296 2 and 2.23: IKE on 500, with NAT traversal on 4500, which carries ESP too (RFC 3948).
    Openings: 'udp 4500, udp 500, tcp 443 to the rendezvous',
    'Exported services': 'shop/web',
    'Peer m2': 'dials here, in by udp 4500, udp 500; behind it 10.102.0.0/16, 10.202.0.0/20; does not come up yet',
  });
  expect(of(two)).toMatchObject({
    'DNS suffix': 'two.set.internal',
    Dials: 'dials',
    'Translated ranges': 'none',
    'Exported services': 'none',
    // Two addresses of a subnet are reserved, and two nodes come before the first gateway.
    'Gateway addresses': '10.2.0.4 in a (computed)',
    // As the other side shows them, at the addresses that were typed there; no network here has a way to the internet.
    'Peer m1':
      'dial 203.0.113.7, 203.0.113.8, out by udp 4500, udp 500; behind it 172.30.0.0/16, 10.201.0.0/20; does not come up yet',
  });
  const rows = sheetRows(valueSheets(plan, Forwarding.of(plan)));
  expect(rows[0]).toEqual({ connection: 'coast', cluster: 'c1', label: 'Cluster id', value: 'm1' });
});

test('a spoke’s sheet names the hub, all that is behind it, and the packets that pass', () => {
  const plan = joined({
    count: 3,
    clusters: [routed, routed, routed],
    connection: { shape: 'hub', takeoverSeconds: 7, dnsTtl: 30, maxLinks: 20 },
    members: [{ isHub: true, dials: 'is dialled' }, { dials: 'dials', gateways: 1 }, { dials: 'dials' }],
  });
  const [hub, spoke] = valueSheets(plan, Forwarding.of(plan)).map(({ values }) =>
    Object.fromEntries(values.map(({ label, value }) => [label, value])),
  );
  expect(spoke).toMatchObject({
    Hub: 'm1',
    'Peer m1':
      'dial 10.1.0.4 (computed), 10.1.0.5 (computed), out by udp 51820; behind it 10.101.0.0/16, 10.201.0.0/20, 10.103.0.0/16, 10.203.0.0/20',
    // WireGuard on IPv4: 60 bytes of headers (protocol paper, from memory); 40 of IPv4 and TCP (RFC 791, RFC 9293).
    Packets: 'up to 1,440 bytes inside the tunnels, TCP segments up to 1,400',
    Takeover: '7 s',
    'Name TTL': '30 s',
    Links: '1 of 20 that a gateway holds',
  });
  expect(spoke).not.toHaveProperty('Peer m3');
  expect(hub).toMatchObject({
    Hub: 'this one',
    'Peer m2': 'dials here, in by udp 51820; behind it 10.102.0.0/16, 10.202.0.0/20',
    Links: '2 of 20 that a gateway holds',
  });
});

test('VXLAN is dialled by nobody, and its value sheet says so (RFC 7348 4.1)', () => {
  const plan = joined({ clusters: [routed, routed], connection: { tunnel: 'vxlan' } });
  const [sheet] = valueSheets(plan, Forwarding.of(plan));
  expect(sheet?.values.find(({ label }) => label === 'Peer m2')?.value).toBe(
    'each sends to the other, in and out by udp 4789, at 10.2.0.4 (computed), 10.2.0.5 (computed); behind it 10.102.0.0/16, 10.202.0.0/20',
  );
});
