import { finished } from '../working/index.js';
import { joined } from '../../test/connections.js';
import { route } from '../../test/ways.js';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { evaluate } from '../evaluation/index.js';
import { Forwarding, NO_FAULTS, trace } from '../forwarding/index.js';
import { readPacketQuestion, setOperation } from '../plan/index.js';
import type { Cluster, Member, Operation, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { compareWays, ConnectionState, proposeConnection } from './index.js';
import type { ConnectionRequest } from './index.js';

// Every expected answer is derived by hand from the rule that its test names, before the code was asked.

const [K1, K2] = [testId('clusters', 1), testId('clusters', 2)];
const codes = (plan: Plan) =>
  evaluate(plan)
    .findingsInWords()
    .map(({ code }) => code);
const pairOf = (plan: Plan, connection = 1, faults = NO_FAULTS) => {
  const connected = new ConnectionState(plan, Forwarding.of(plan).with(faults));
  const own = plan.connections.find(({ id }) => id === testId('connections', connection));
  const [one, other] = connected.membersOf(own?.id ?? '');
  if (own === undefined || one === undefined || other === undefined) throw new Error('no pair');
  const pair = connected.pair(own, one, other);
  return { ...pair, description: connected.description(pair) };
};
const passes = (plan: Plan, faults = NO_FAULTS) =>
  trace(Forwarding.of(plan).with(faults), expectGood(readPacketQuestion(plan, 'pod of c1', 'pod of c2 tcp 8080', 200)))
    .verdict;

describe('each connection is judged by its own tunnels', () => {
  const second = (fields: object, members: Partial<Member>[] = []): Operation[] => [
    ...add('connections', {}, { name: 'second', method: 'tunnels', ...fields }).slice(1),
    ...add(
      'members',
      {},
      {},
      { connectionId: testId('connections', 2), clusterId: K1, memberId: 'm1', ...members[0] },
      { connectionId: testId('connections', 2), clusterId: K2, memberId: 'm2', ...members[1] },
    ).slice(2),
  ];

  test('a second one between the same clusters has its own diallers and packet size', () => {
    const waiting = joined({ more: second({}, [{ dials: 'is dialled' }, { dials: 'is dialled' }]) });
    expect(pairOf(waiting, 1).verdict).toBe('pass');
    expect(pairOf(waiting, 2)).toMatchObject({
      verdict: 'broken',
      description: expect.stringContaining('Both wait') as string,
    });
    // ESP with GCM, tunnel mode, over 1,500: down to fours less 2 (RFC 4303 2, RFC 4106 5): 1,500 - 20 - 8 - 8 - 16 = 1,448, less 2 = 1,446.
    const esp = joined({ more: second({ tunnel: 'esp-gcm' }) });
    expect([pairOf(esp, 1).room, pairOf(esp, 2).room]).toEqual([1440, 1446]);
  });

  test('while the first one is cut, the second carries', () => {
    const plan = joined({ more: second({}) });
    const cut = (...ids: number[]) => ({ ...NO_FAULTS, members: new Set(ids.map((n) => testId('members', n))) });
    expect(passes(plan)).toBe('pass');
    expect(passes(plan, cut(2))).toBe('pass');
    expect(passes(plan, cut(2, 4))).toBe('broken');
    expect(passes(joined(), cut(2))).toBe('broken');
  });
});

describe('families', () => {
  const families = (one: Cluster['family'], other: Cluster['family'], method: 'tunnels' | 'relays' = 'tunnels') =>
    applied(ground(2), [
      ...add('links', { name: 'hub', kind: 'hub', networkIds: [1, 2].map((n) => testId('networks', n)) }),
      ...add(
        'clusters',
        cluster('c1', { family: one, networkId: testId('networks', 1) }),
        cluster('c2', { family: other, networkId: testId('networks', 2) }),
      ),
      ...add(
        'allocations',
        ...[one, other].flatMap((family, i) =>
          (['node', 'pod'] as const).flatMap((purpose) => [
            ...(family === 'ipv6'
              ? []
              : [
                  {
                    clusterId: testId('clusters', i + 1),
                    purpose,
                    prefix: `10.${purpose === 'node' ? i + 1 : 101 + i}.0.0/24`,
                  },
                ]),
            ...(family === 'ipv4'
              ? []
              : [
                  {
                    clusterId: testId('clusters', i + 1),
                    purpose,
                    prefix: `fd00:${purpose === 'node' ? i + 1 : 101 + i}::/64`,
                  },
                ]),
          ]),
        ),
      ),
      ...add('connections', { name: 'coast', method }),
      ...add(
        'members',
        ...[K1, K2].map((clusterId, i) => ({ connectionId: testId('connections', 1), clusterId, memberId: `m${i}` })),
      ),
    ]);
  test('two clusters without a common one are never joined, whatever the kind; the reason is that, and not a missing range', () => {
    for (const way of ['tunnels', 'relays'] as const)
      expect(pairOf(families('ipv4', 'ipv6', way))).toMatchObject({
        verdict: 'broken',
        description: 'c1 has IPv4 only and c2 has IPv6 only: nothing passes between them.',
      });
  });

  test('a dual one and one of IPv6 meet by IPv6, end to end', () => {
    const plan = families('dual', 'ipv6');
    expect(pairOf(plan).verdict).toBe('pass');
    const forwarding = Forwarding.of(plan);
    const [one, other] = plan.members;
    const [own] = plan.connections;
    if (one === undefined || other === undefined || own === undefined) throw new Error('no members');
    const tunnel = forwarding.tunnels.between(own, one, other);
    expect(tunnel.ok && [tunnel.value.from.address.family, tunnel.value.to.address.family]).toEqual([6, 6]);
  });

  test('two dual ones are judged by both: one IPv6 range twice is no way', () => {
    const plan = families('dual', 'dual');
    expect(pairOf(plan).verdict).toBe('pass');
    const twice = plan.allocations.filter(({ prefix, purpose }) => prefix.includes(':') && purpose === 'pod');
    const [first, last] = twice;
    if (first === undefined || last === undefined) throw new Error('no ranges');
    const same = {
      ...plan,
      allocations: plan.allocations.map((each) => (each.id === last.id ? { ...each, prefix: first.prefix } : each)),
    };
    expect(pairOf(same).verdict).not.toBe('pass');
  });
});

test('two spokes are as far apart as their way over the hub: 5,245 km there and back again, twice (200,000 km/s)', () => {
  const at = (longitude: number) => ({ latitude: 0, longitude });
  // On the equator one degree is 6,371.0088 × π ÷ 180 = 111.195 km: 47.169 degrees are 5,245 km.
  const plan = applied(joined({ count: 3, connection: { shape: 'hub' }, members: [{}, {}, { isHub: true }] }), [
    setOperation('sites', testId('sites', 1), at(0)),
    ...add(
      'sites',
      {},
      { name: 'far', kind: 'region', profileId: testId('profiles', 1), zones: ['a'], ...at(47.169) },
    ).slice(1),
    setOperation('clusters', testId('clusters', 3), { siteId: testId('sites', 2) }),
  ]);
  const { km, floorMs } = pairOf(plan);
  expect(Math.round(km ?? 0)).toBe(10_490);
  // There and back: 2 × 10,490 km ÷ 204,190 km/s = 102.7 to 104.9 ms, by the speed of light in fibre.
  expect(floorMs).toBeGreaterThan(102);
  expect(floorMs).toBeLessThan(105);
});

describe('a range that a member’s network reaches is not to be shown by another one', () => {
  const plan = (more: Operation[] = []) =>
    joined({
      pods: ['10.50.0.0/16', '10.60.0.0/16'],
      more: [
        ...add('networks', {}, {}, { name: 'works', note: '' }).slice(2),
        ...add(
          'links',
          {},
          { name: 'wan', kind: 'circuit', networkIds: [testId('networks', 2), testId('networks', 3)] },
        ).slice(1),
        ...add('inUse', { prefix: '10.50.0.0/16', owner: 'works', networkId: testId('networks', 3) }),
        ...more,
      ],
    });
  test('it is told, with its fix, and not where nobody reaches it or it is translated', () => {
    expect(codes(plan())).toContain('connection.shown-taken');
    const apart = applied(plan(), [{ op: 'remove', kind: 'links', id: testId('links', 2) }]);
    expect(codes(apart)).not.toContain('connection.shown-taken');
    const translated = applied(plan(), [
      setOperation('members', testId('members', 1), { translated: ['10.50.0.0/16 as 172.30.0.0/16'] }),
    ]);
    expect(codes(translated)).not.toContain('connection.shown-taken');
  });

  test('a proposal translates it', () => {
    const bare = { ...plan(), connections: [], members: [] };
    const pooled = applied(
      bare,
      add('pools', { name: 'all', prefix: '172.16.0.0/12', purposes: ['pod', 'service', 'node'] }),
    );
    const proposal = proposeConnection(pooled, { ...wish, clusterIds: [K1, K2] });
    expect(proposal.translated).toBe(1);
  });
});

const wish: ConnectionRequest = {
  name: 'coast',
  method: 'tunnels',
  clusterIds: [],
  tunnel: 'wireguard',
  shape: 'full mesh',
  sides: [],
  gateways: 1,
  rendezvous: '',
  today: '2026-11-30',
  exportsServices: false,
};

test('openings are one rule for each member, however many there are', () => {
  const count = 8;
  const numbers = Array.from({ length: count }, (_, i) => i + 1);
  const closed = applied({ ...joined({ count }), connections: [], members: [] }, [
    ...add(
      'filters',
      ...numbers.map((n) => ({ name: `f${n}`, clusterIds: [testId('clusters', n)], defaultOut: 'allow' as const })),
    ),
    // The pod network of each cluster is open already.
    ...add(
      'filterRules',
      ...numbers.map((n) => ({
        filterId: testId('filters', n),
        direction: 'in' as const,
        position: 10,
        protocol: 'udp' as const,
        ports: ['4789'],
        peers: [`10.${n}.0.0/24`],
      })),
    ),
  ]);
  const proposal = proposeConnection(closed, { ...wish, clusterIds: numbers.map((n) => testId('clusters', n)) });
  // Either side of a pair may be dialled, so that the one member that never is needs none.
  expect([proposal.problems, proposal.openings]).toEqual([[], count - 1]);
});

test('what has no price is not free, and where nothing was reached nothing survives', () => {
  const plan = { ...joined(), connections: [], members: [], links: [] };
  const needs = { anyProtocol: false, sourceKept: false, plannedMbps: 10, gatewayMbps: 1000 };
  for (const { consequences, method } of finished(compareWays(plan, { ...wish, clusterIds: [K1, K2] }, needs)).ways) {
    const cost = consequences.find(({ label }) => label === 'Cost per month');
    if (method !== 'flat') expect([method, cost !== undefined && 'words' in cost]).toEqual([method, true]);
  }
});

describe('clusters that meet over the internet alone', () => {
  /** A centre whose network is on the internet, and others behind a NAT device each; all pods in one range. */
  const apart = (count: number): Plan => {
    const numbers = Array.from({ length: count }, (_, i) => i + 1);
    const pods = numbers.map(() => '10.244.0.0/16');
    const behind = numbers.slice(1);
    return applied({ ...joined({ count, pods }), connections: [], members: [], links: [] }, [
      ...add('pools', { name: 'spare', prefix: '172.16.0.0/12', purposes: ['pod', 'service'] }),
      ...add(
        'routeTables',
        ...numbers.map((n) => ({ name: 'main', networkId: testId('networks', n), isMain: true })),
        ...behind.map((n) => ({ name: 'edge', networkId: testId('networks', n), isMain: false })),
      ),
      ...add(
        'subnets',
        ...behind.map((n, at) => ({
          networkId: testId('networks', n),
          siteId: testId('sites', 1),
          purpose: 'other' as const,
          name: `edge ${n}`,
          prefix: `10.${n}.9.0/24`,
          routeTableId: testId('routeTables', count + 1 + at),
        })),
      ),
      ...add(
        'natDevices',
        ...behind.map((n, at) => ({
          name: `nat ${n}`,
          subnetId: testId('subnets', at + 1),
          publicAddresses: [`203.0.113.${n}`],
        })),
      ),
      ...add(
        'routes',
        route(1, '0.0.0.0/0', 'internet'),
        ...behind.map((n, at) => route(n, '0.0.0.0/0', 'nat', { natDeviceId: testId('natDevices', at + 1) })),
        ...behind.map((_, at) => route(count + 1 + at, '0.0.0.0/0', 'internet')),
      ),
    ]);
  };
  const numbered = (count: number) => Array.from({ length: count }, (_, i) => testId('clusters', i + 1));
  const needs = { anyProtocol: false, sourceKept: false, plannedMbps: 0, gatewayMbps: 1000 };
  const answers = (plan: Plan, of: Partial<ConnectionRequest>) =>
    finished(
      compareWays(plan, { ...wish, gateways: 2, clusterIds: numbered(plan.clusters.length), ...of }, needs),
    ).ways.map(({ method, excluded, proposal }) => [method, excluded.length === 0, proposal.undecided]);

  // Only a public address is reached over the internet (RFC 1918 3): the one of the centre, which all others dial from behind their NAT (RFC 4787 4.1).
  test.each([2, 4])('%i of them by a hub: one open step, public addresses of the centre', (count) => {
    expect(answers(apart(count), { shape: 'hub' })).toEqual([
      ['tunnels', true, [K1]],
      ['relays', true, [K1]],
      ['flat', false, []],
    ]);
  });

  test('each with each from behind NAT devices they do not meet: the choice says who could be the hub, and asks for no address in vain', () => {
    const ways = finished(compareWays(apart(3), { ...wish, gateways: 2, clusterIds: numbered(3) }, needs)).ways.slice(
      0,
      2,
    );
    for (const { proposal, excluded } of ways) {
      expect(proposal.undecided).toEqual([K1]);
      expect(excluded[0]).toBe('Join all with the hub c1: each of them reaches it, and not each reaches each other.');
      expect(proposal.openSteps.filter((step) => step.startsWith('Give'))).toHaveLength(1);
    }
    // ESP without UDP has no ports that a NAT device could keep apart (RFC 3948 1).
    expect(answers(apart(2), { tunnel: 'esp-gcm' }).slice(0, 2)).toEqual([
      ['tunnels', false, []],
      ['relays', true, [K1]],
    ]);
    expect(answers(apart(2), { tunnel: 'esp-gcm-nat' })[0]).toEqual(['tunnels', true, [K1]]);
  });

  test('the stand-ins are in no row; the step names count and cluster', () => {
    const { groups, openSteps, problems } = proposeConnection(apart(2), {
      ...wish,
      method: 'relays',
      gateways: 2,
      clusterIds: [K1, K2],
    });
    expect(problems).toEqual([]);
    expect(openSteps.filter((step) => step.startsWith('Give'))).toEqual([
      'Give c1 2 public addresses, one for each relay, and enter them as its gateway addresses: others meet it only over the internet. Tried with stand-ins, which no row holds.',
    ]);
    expect(JSON.stringify(groups)).not.toContain('198.51.100.');
  });

  test('with public addresses said nothing is open, and who is said to dial is never dialled', () => {
    const plan = apart(2);
    const side = { clusterId: K1, isHub: false, dials: 'either' as const, gatewayAddresses: ['192.0.2.1'] };
    expect(answers(plan, { gateways: 1, sides: [side] }).slice(0, 2)).toEqual([
      ['tunnels', true, []],
      ['relays', true, []],
    ]);
    const dialling = [K1, K2].map((clusterId) => ({
      ...side,
      clusterId,
      gatewayAddresses: [],
      dials: 'dials' as const,
    }));
    expect(answers(plan, { sides: dialling }).slice(0, 2)).toEqual([
      ['tunnels', false, []],
      ['relays', false, []],
    ]);
  });

  test('the hub is who was chosen, not the first', () => {
    const plan = joined({ count: 3 });
    const side = { clusterId: K2, isHub: true, dials: 'either' as const, gatewayAddresses: [] };
    const { plan: made } = proposeConnection(
      { ...plan, connections: [], members: [] },
      { ...wish, shape: 'hub', sides: [side], clusterIds: numbered(3) },
    );
    expect(made.members.map(({ clusterId, isHub }) => [clusterId === K2, isHub]).every(([is, hub]) => is === hub)).toBe(
      true,
    );
  });
});
