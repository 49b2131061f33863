import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { Domains } from '../domains/index.js';
import { setOperation, withFallbacks } from '../plan/index.js';
import type { Cluster, Plan, PodMode, Profile, Shape } from '../plan/index.js';
import { nativePodsPerNode } from '../sizing/index.js';
import {
  advertisedPrefixes,
  comparePodNetworks,
  criteria,
  fullMeshSessions,
  moveSite,
  reflectedSessions,
  wirePaths,
} from './index.js';

const shape = (fields: Partial<Shape>) =>
  withFallbacks('shapes', {
    id: testId('shapes', 1),
    name: 's',
    profileId: testId('profiles', 1),
    vcpus: 4,
    ...fields,
  });

// Common practice: interfaces × (addresses − 1) + 2; with /28 prefixes × 16; 110 below 30 vCPU, 250 above.
test.each([
  [{ interfaces: 3, slotsPerInterface: 10 }, 'addresses', 29],
  [{ interfaces: 4, slotsPerInterface: 15 }, 'addresses', 58],
  [{ interfaces: 3, slotsPerInterface: 10 }, 'prefixes', 110],
  [{ interfaces: 8, slotsPerInterface: 30, vcpus: 32, podCap: 1000 }, 'addresses', 234],
  [{ interfaces: 8, slotsPerInterface: 30, vcpus: 32, podCap: 1000 }, 'prefixes', 250],
  [{ interfaces: 4, slotsPerInterface: 15, podCap: 40 }, 'addresses', 40],
  [{ interfaces: 4, slotsPerInterface: 15 }, 'none', 0],
] as const)('native pods per node: %j by %s: %d', (fields, nativeRule, pods) =>
  expect(nativePodsPerNode(shape(fields), { nativeRule }).value).toBe(pods),
);

test('BGP sessions, counted pair by pair (RFC 4456)', () => {
  for (const nodes of [1, 2, 10, 63]) {
    let pairs = 0;
    for (let a = 0; a < nodes; a++) for (let b = a + 1; b < nodes; b++) pairs++;
    expect(fullMeshSessions(nodes).value).toBe(pairs);
    const reflectors = Math.min(2, nodes);
    let reflected = 0;
    for (let a = 0; a < nodes; a++) for (let b = a + 1; b < nodes; b++) if (a < reflectors) reflected++;
    expect(reflectedSessions(nodes, reflectors).value).toBe(reflected);
  }
});

describe('comparison', () => {
  const world = (fields: Partial<Cluster>, profile: Partial<Profile> = {}) =>
    applied(ground(1), [
      setOperation('profiles', testId('profiles', 1), profile),
      ...add('pools', pool('p', '10.0.0.0/12'), pool('i', '100.64.0.0/10', { purposes: ['service'], isShared: true })),
      ...add('shapes', shape({ interfaces: 4, slotsPerInterface: 15, podCap: 250 })),
      ...add('clusters', cluster('c', { nodesHorizon: 100, ...fields })),
    ]);
  const compared = (plan: Plan) => {
    const found = comparePodNetworks(plan, testId('clusters', 1));
    if (found === undefined) throw new Error('no comparison');
    return found;
  };
  const mode = (plan: Plan, of: PodMode) => compared(plan).modes.find((each) => each.mode === of);
  const figure = (plan: Plan, of: PodMode, label: string) => {
    const found = mode(plan, of)?.consequences.find((each) => each.label === label);
    return found !== undefined && 'figure' in found ? found.figure.value : undefined;
  };

  test('computed for this cluster: addresses, routes and packets of each mode', () => {
    const plan = world({});
    expect(figure(plan, 'overlay', 'Addresses from routable space')).toBe(0);
    // 100 nodes with a /24 each: a /17.
    expect(figure(plan, 'routed', 'Addresses from routable space')).toBe(2 ** 15);
    // 100 × 110 + 2 reserved: a /18.
    expect(figure(plan, 'native', 'Addresses from routable space')).toBe(2 ** 14);
    expect(['overlay', 'routed', 'native'].map((of) => figure(plan, of as PodMode, 'Routes in the table'))).toEqual([
      0, 100, 0,
    ]);
    expect(['overlay', 'routed'].map((of) => figure(plan, of as PodMode, 'Largest packet between pods'))).toEqual([
      1450, 1500,
    ]);
    // 128 prefixes of a /24 in a /17; 16,382 addresses of a /18 by 110.
    expect(
      ['overlay', 'routed', 'native'].map((of) => figure(plan, of as PodMode, 'Nodes its pod ranges allow')),
    ).toEqual([128, 128, 148]);
    expect(compared(plan).modes.every(({ excluded }) => excluded.length === 0)).toBe(true);
  });

  test.each<[string, Partial<Cluster>, Partial<Profile>, PodMode, RegExp]>([
    ['reachable', { podNeeds: ['reachable'] }, {}, 'overlay', /end at the cluster/],
    ['source kept', { podNeeds: ['source kept'] }, {}, 'overlay', /source address must be kept/],
    ['encryption bare', { podNeeds: ['encryption'] }, {}, 'overlay', /choose WireGuard/],
    ['encryption routed', { podNeeds: ['encryption'] }, {}, 'routed', /send it bare/],
    ['multicast', { podNeeds: ['multicast'] }, {}, 'native', /carry none/],
    ['one family', { podNeeds: ['dual stack'] }, {}, 'overlay', /make its family dual/],
    ['no native', {}, { nativeRule: 'none' }, 'native', /gives pods no addresses/],
    ['route table', {}, { routesPerTable: 99 }, 'routed', /100 nodes with surge need a route each/],
    ['shape', { shapeId: testId('shapes', 1) }, {}, 'native', /runs at most 58 pods; 110 are required/],
    ['MTU floor', { mtuFloor: 1460 }, {}, 'overlay', /1,450 is the largest/],
    ['no room', { nodesHorizon: 10_000 }, { routesPerTable: 100_000 }, 'routed', /No pool has room for a \/10/],
  ])('excluded with the reason: %s', (_, fields, profile, of, reason) => {
    expect(mode(world(fields, profile), of)?.excluded.join(' ')).toMatch(reason);
  });

  test('WireGuard meets encryption, both families meet dual stack', () => {
    const plan = world({ podNeeds: ['encryption'], encapsulation: 'wireguard' });
    expect(mode(plan, 'overlay')?.excluded).toEqual([]);
    expect(compared(plan).winner).toBe('overlay');
  });

  test('the score is the weighted mean, and a turning weight turns the winner while the one before it does not', () => {
    for (const fields of [{}, { nodesHorizon: 20 }, { podsPerNode: 30 }] as const) {
      const plan = world(fields);
      const { modes, winner, sensitivities } = compared(plan);
      for (const { scores, score } of modes) {
        const weights = criteria.map(({ field }) => plan.settings[field]);
        const sum = criteria.reduce((total, { id }, i) => total + scores[id] * (weights[i] ?? 0), 0);
        expect(score.value).toBeCloseTo((100 * sum) / weights.reduce((a, b) => a + b, 0), 1);
      }
      const best = [...modes].sort((a, b) => b.score.value - a.score.value)[0];
      expect(best?.mode).toBe(winner);
      const winnerAt = (field: (typeof criteria)[number]['field'], weight: number) =>
        compared(applied(plan, [{ op: 'set', kind: 'settings', fields: { [field]: weight } }])).winner;
      for (const { criterion, weight, turnsAt, winner: other } of sensitivities) {
        const field = criteria.find(({ id }) => id === criterion)?.field ?? 'weightReach';
        if (turnsAt === undefined) {
          for (const at of [0, 3, 7, 10]) expect(winnerAt(field, at)).toBe(winner);
        } else {
          expect(winnerAt(field, turnsAt)).toBe(other?.mode);
          expect(winnerAt(field, turnsAt + Math.sign(weight - turnsAt))).toBe(winner);
        }
      }
    }
  });

  test('every cluster of the demo is compared, and what it needs is never met by a mode that cannot', () => {
    const plan = demoPlan();
    for (const { id } of plan.clusters) expect(comparePodNetworks(plan, id)?.modes).toHaveLength(3);
    expect(comparePodNetworks(plan, 'none')).toBeUndefined();
  });
});

test('paths: the smallest part decides, tunnels wrap on their part, and a way that narrows says so', () => {
  const plan = demoPlan();
  const harbour = plan.clusters.find(({ name }) => name === 'harbour-ops');
  if (harbour === undefined) throw new Error('no cluster');
  const paths = wirePaths(plan, harbour, new Domains(plan.networks, plan.links, plan.attachments));
  const to = (name: string) => paths.find((path) => path.to === name);
  expect(to('pods on other nodes')).toMatchObject({ packet: { value: 1450 }, segment: { value: 1410 } });
  // ESP with AES-GCM and NAT traversal on 1500: 1438 (RFC 4303, 4106, 3948).
  expect(to('coast-radar')).toMatchObject({ by: 'radar-tunnel', packet: { value: 1438 }, isNarrowing: true });
  expect(to('models')).toMatchObject({ packet: { value: 1500 }, isNarrowing: false });
  expect(to('coaches')).toMatchObject({ isPlanned: true });
});

describe('families, wishes, kernels and encryption', () => {
  const world = (fields: Partial<Cluster>, of: Partial<Shape> = {}) =>
    applied(ground(1), [
      ...add('pools', pool('p', '10.0.0.0/12'), pool('v6', 'fd00::/40', { purposes: ['node', 'pod'] })),
      ...add('shapes', shape({ interfaces: 4, slotsPerInterface: 15, podCap: 250, ...of })),
      ...add('clusters', cluster('c', { nodesHorizon: 100, shapeId: testId('shapes', 1), podsPerNode: 50, ...fields })),
    ]);
  const families = (plan: Plan) => comparePodNetworks(plan, testId('clusters', 1))?.families ?? [];
  const excluded = (plan: Plan, family: string, of: PodMode) =>
    families(plan)
      .find((each) => each.family === family)
      ?.modes.find(({ mode }) => mode === of)
      ?.excluded.join(' ');

  test('modes times families: dual stack takes a route a node and family, IPv6 no routable IPv4', () => {
    const plan = world({});
    expect(families(plan).map(({ family, modes }) => [family, modes.length])).toEqual([
      ['ipv4', 3],
      ['ipv6', 3],
      ['dual', 3],
    ]);
    const figure = (family: string, label: string) => {
      const routed = families(plan)
        .find((each) => each.family === family)
        ?.modes.find(({ mode }) => mode === 'routed');
      const found = routed?.consequences.find((each) => each.label === label);
      return found !== undefined && 'figure' in found ? found.figure.value : undefined;
    };
    expect(['ipv4', 'ipv6', 'dual'].map((family) => figure(family, 'Routes in the table'))).toEqual([100, 100, 200]);
    expect(figure('ipv6', 'Addresses from routable space')).toBe(0);
    // RFC 8200: 60 bytes of headers instead of 40.
    expect(['ipv4', 'ipv6'].map((family) => figure(family, 'TCP segment'))).toEqual([1460, 1440]);
  });

  test('the cluster’s own family gives the modes and the winner', () => {
    const plan = world({ family: 'dual' });
    const found = comparePodNetworks(plan, testId('clusters', 1));
    expect(found?.modes).toBe(found?.families[2]?.modes);
    expect(found?.winner).toBe(found?.families[2]?.winner);
  });

  test('a kernel that cannot wrap, and a machine with one interface, exclude with the reason', () => {
    expect(excluded(world({}, { encapsulations: ['none', 'ipip'] }), 'ipv4', 'overlay')).toMatch(
      /kernel of shape s cannot wrap packets in VXLAN/,
    );
    expect(excluded(world({}, { encapsulations: ['none'] }), 'ipv4', 'routed')).toBe('');
    expect(excluded(world({ podNeeds: ['several attachments'] }, { interfaces: 1 }), 'ipv4', 'routed')).toMatch(
      /has one interface/,
    );
  });

  test('encryption between nodes meets the requirement in every mode, and its headers are taken off', () => {
    const plan = world({ podNeeds: ['encryption'], encryption: 'wireguard' });
    expect(['overlay', 'routed', 'native'].map((of) => excluded(plan, 'ipv4', of as PodMode))).toEqual(['', '', '']);
    const [overlay, routed] = families(plan)[0]?.modes ?? [];
    const packet = (of: typeof overlay) =>
      of?.consequences.find(({ label }) => label === 'Largest packet between pods');
    // WireGuard 60 over IPv4 (from memory: 20 + 8 + 32), and VXLAN 50 within it (RFC 7348).
    expect(packet(routed)).toMatchObject({ figure: { value: 1440 } });
    expect(packet(overlay)).toMatchObject({ figure: { value: 1390 } });
  });

  test('an MTU floor is hard, or weighed when it is named as a wish', () => {
    const overlay = (fields: Partial<Cluster>) => families(world({ mtuFloor: 1460, ...fields }))[0]?.modes[0];
    expect(overlay({})?.excluded).toEqual(['Packets of 1,460 bytes must pass, and 1,450 is the largest.']);
    expect(overlay({ podNeeds: ['mtu floor'] })?.excluded).toHaveLength(1);
    expect(overlay({ podPreferences: ['mtu floor'] })).toMatchObject({ excluded: [], scores: { wishes: 0 } });
    expect(overlay({ podPreferences: ['mtu floor'], mtuFloor: 1450 })?.scores.wishes).toBe(1);
  });

  test('a wish weighs and does not exclude', () => {
    const plan = world({ podPreferences: ['reachable', 'network policy'] });
    const [overlay, routed] = families(plan)[0]?.modes ?? [];
    expect([overlay?.excluded, overlay?.scores.wishes, routed?.scores.wishes]).toEqual([[], 0.5, 1]);
  });
});

describe('a site that moves', () => {
  test('to native: addresses of all clusters together, the pool that is exhausted, more nodes where a shape holds fewer pods', () => {
    const plan = applied(ground(1), [
      // Room for one cluster's native pods, not for two: 100 × 110 + 2 are a /18 each.
      ...add('pools', pool('small', '10.0.0.0/18', { purposes: ['pod'] })),
      ...add('shapes', shape({ interfaces: 4, slotsPerInterface: 15, podCap: 250, price: 10 })),
      ...add(
        'clusters',
        cluster('a', { nodesHorizon: 100, isBuilt: true }),
        cluster('b', { nodesHorizon: 100, shapeId: testId('shapes', 1) }),
      ),
    ]);
    const move = moveSite(plan, testId('sites', 1), 'native');
    expect(move.clusters.map(({ without, isRebuild }) => [without.length, isRebuild])).toEqual([
      [0, true],
      [1, false],
    ]);
    expect(move.exhausted).toEqual(['small']);
    expect(move.clusters.map(({ before, after }) => after.addresses - before.addresses)).toEqual([16_384, 16_384]);
    // 58 of 110 wanted pods fit on a node: 11,000 pods need 190 nodes.
    expect(move.clusters[1]?.after).toMatchObject({ nodes: 190 });
    expect((move.clusters[1]?.after.monthly ?? 0) - (move.clusters[1]?.before.monthly ?? 0)).toBe(900);
    expect(move.clusters[0]?.after.monthly).toBeNull();
  });

  test('what each takes in the mode it moves to is what the comparison of that cluster says', () => {
    const plan = demoPlan();
    for (const site of plan.sites.slice(0, 4))
      for (const to of ['overlay', 'routed', 'native'] as const)
        for (const { clusterId, after } of moveSite(plan, site.id, to).clusters) {
          const compared = comparePodNetworks(plan, clusterId)?.modes.find(({ mode }) => mode === to);
          const figure = (label: string) => {
            const found = compared?.consequences.find((each) => each.label === label);
            return found !== undefined && 'figure' in found ? found.figure.value : undefined;
          };
          expect([after.addresses, after.routes]).toEqual([
            figure('Addresses from routable space'),
            figure('Routes in the table'),
          ]);
        }
  });

  test('where the provider gives none, it says so', () => {
    const plan = demoPlan();
    const orrery = plan.sites.find(({ name }) => name === 'Orrery east')?.id ?? '';
    expect(moveSite(plan, orrery, 'native').cannot).toMatch(/gives pods no addresses/);
    expect(moveSite(plan, orrery, 'overlay').cannot).toBe('');
  });
});

test('prefixes advertised: one a node and family, or one a family where they are summed up (RFC 4271 9.2.2.2)', () => {
  expect(advertisedPrefixes(63, 2, false).value).toBe(126);
  expect(advertisedPrefixes(63, 2, true).value).toBe(2);
});

describe('room in the pools, range by range', () => {
  const zonal = (...taken: string[]) =>
    applied(ground(1), [
      setOperation('profiles', testId('profiles', 1), { subnetScope: 'zone' }),
      setOperation('sites', testId('sites', 1), { zones: ['a', 'b'] }),
      ...add('pools', pool('p', '10.0.0.0/16', { purposes: ['pod'] })),
      ...add('inUse', ...taken.map((prefix) => ({ prefix, owner: 'x', networkId: testId('networks', 1) }))),
      // 50 nodes a zone × 110 pods + 2: a /19 in each.
      ...add('clusters', cluster('c', { nodesHorizon: 100 })),
    ]);
  const native = (plan: Plan) =>
    comparePodNetworks(plan, testId('clusters', 1))?.modes.find(({ mode }) => mode === 'native')?.excluded;

  test('two gaps that are apart hold two subnets; one gap holds one, and the zone without is named', () => {
    expect(native(zonal('10.0.32.0/19', '10.0.64.0/18', '10.0.128.0/18', '10.0.192.0/19'))).toEqual([]);
    expect(native(zonal('10.0.32.0/19', '10.0.64.0/18', '10.0.128.0/17'))).toEqual([
      'No pool has room for a /19 pod range in zone b.',
    ]);
  });

  test('a site that moves gives its present pod ranges back first', () => {
    const full = applied(ground(1), [
      ...add('pools', pool('p', '10.0.0.0/17', { purposes: ['pod'] })),
      ...add('clusters', cluster('c', { podMode: 'routed', nodesHorizon: 100 })),
      ...add('allocations', { clusterId: testId('clusters', 1), purpose: 'pod', prefix: '10.0.0.0/17' }),
    ]);
    expect(moveSite(full, testId('sites', 1), 'native').exhausted).toEqual([]);
  });
});

test('a network that another one passes on is on the list of ways, with every link of it', () => {
  const plan = demoPlan();
  const tide = plan.clusters.find(({ name }) => name === 'tide-models');
  if (tide === undefined) throw new Error('no cluster');
  const paths = wirePaths(plan, tide, new Domains(plan.networks, plan.links, plan.attachments));
  // The hall tells the hub of the radar posts behind its tunnel: ESP with NAT traversal on 1500 leaves 1438.
  expect(paths.find(({ to }) => to === 'coast-radar')).toMatchObject({
    by: 'skerry-hub, radar-tunnel',
    packet: { value: 1438 },
  });
  // 1398 of the tunnel's 1500 + 38 bytes on the wire (IEEE 802.3).
  expect(paths.find(({ to }) => to === 'coast-radar')?.efficiency.value).toBe(90.9);
  expect(paths.find(({ to }) => to === 'clearing')).toBeUndefined();
});
