import fc from 'fast-check';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { parsePrefix } from '../address/index.js';
import { evaluate } from '../evaluation/index.js';
import {
  answering,
  applyOperations,
  readContainerPort,
  readServicePort,
  selectedBy,
  setOperation,
} from '../plan/index.js';
import type { Cluster, ClusterService, NodePool, Operation, Plan, Workload } from '../plan/index.js';
import { expectGood } from '../result.js';
import { demand } from '../sizing/index.js';
import {
  addressFaults,
  FIRST_NODE_PORT,
  fitsSurely,
  LAST_NODE_PORT,
  LAST_STATIC_NODE_PORT,
  missing,
  nodePortFaults,
  placements,
  podsPerNodeOf,
} from './index.js';

const own = testId('clusters', 1);
/** A cluster in zones a, b and c, its nodes of 4 vCPU and 16 GiB with 20 pods each at most. */
const world = (fields: Partial<Cluster>, ...more: Operation[][]): Plan =>
  applied(ground(1), [
    setOperation('sites', testId('sites', 1), { zones: ['a', 'b', 'c'] }),
    ...add('shapes', { name: 'small', profileId: testId('profiles', 1), vcpus: 4, memoryGib: 16 }),
    ...add(
      'clusters',
      cluster('c', {
        shapeId: testId('shapes', 1),
        nodesNow: 3,
        nodesHorizon: 6,
        podsPerNode: 20,
        surgePercent: 0,
        ...fields,
      }),
      cluster('d'),
    ),
    ...more.flat(),
  ]);
const pods = (...all: Partial<Workload>[]): Operation[] =>
  add(
    'workloads',
    ...all.map((fields, n) => ({ name: `w${n}`, clusterId: own, replicasNow: 1, replicasHorizon: 1, ...fields })),
  );
const service = (fields: Partial<ClusterService>): ClusterService => {
  const plan = applied(world({}), add('services', { name: 's', clusterId: own, ports: ['tcp 80 to 8080'], ...fields }));
  return plan.services[0] as ClusterService;
};
const tried = (plan: Plan) => {
  const sizing = evaluate(plan).ask(demand).of(own);
  if (sizing === undefined) throw new Error('no sizing');
  return placements(sizing, plan.workloads, plan.nodePools);
};
const room = (plan: Plan) =>
  Object.fromEntries(
    tried(plan).map((each) => [
      each.case,
      each.workloads
        .map(({ placed, wanted, lacks }) => `${placed} of ${wanted}${lacks === undefined ? '' : ` ${lacks}`}`)
        .join(', '),
    ]),
  );

describe('ports', () => {
  test('container and service ports are read as they are written', () => {
    expect(readContainerPort('http tcp 8080')).toEqual({ name: 'http', protocol: 'tcp', port: 8080 });
    expect(readContainerPort('udp 53')).toEqual({ name: '', protocol: 'udp', port: 53 });
    expect(readServicePort('web tcp 80 to http node 30080')).toEqual({
      name: 'web',
      protocol: 'tcp',
      port: 80,
      target: 'http',
      nodePort: 30_080,
    });
    expect(readServicePort('tcp 443 to 8443')).toEqual({
      name: '',
      protocol: 'tcp',
      port: 443,
      target: '8443',
      nodePort: undefined,
    });
  });

  // RFC 6335 5.1: 1 to 15 of a-z, 0-9 and hyphen, at least one letter, no hyphen at either end. Ports have 16 bits.
  test.each([
    'tcp 0',
    'tcp 65536',
    'http 80',
    '-a tcp 80',
    'a- tcp 80',
    'sixteen-letters1 tcp 80',
    '123 tcp 80',
    'icmp 80',
  ])('%p is refused', (text) => {
    expect([readContainerPort(text), readServicePort(`${text} to x`)]).toEqual([undefined, undefined]);
  });
  test.each(['tcp 80 to 0', 'tcp 80 to 70000', 'tcp 80 to http node 0', 'tcp 80 to HTTP', 'tcp 80 -> 8080'])(
    '%p is refused',
    (text) => {
      expect(readServicePort(text)).toBeUndefined();
    },
  );
});

describe('who answers', () => {
  const plan = world(
    {},
    pods(
      { name: 'v1', labels: ['app=tide', 'version=1'], ports: ['http tcp 8080'] },
      { name: 'v2', labels: ['app=tide', 'version=2'], ports: ['http tcp 8081', 'http-udp udp 8080'] },
      { name: 'bare', labels: ['app=tide'], ports: [] },
      { name: 'elsewhere', namespace: 'other', labels: ['app=tide'] },
      { name: 'else-where', clusterId: testId('clusters', 2), labels: ['app=tide'] },
      { name: 'flagged', labels: ['canary'] },
    ),
  );
  const names = (fields: Partial<ClusterService>) =>
    selectedBy(service(fields), plan.workloads).map(({ name }) => name);

  test('every label must be there, in the same namespace and cluster; no selector selects nothing', () => {
    expect(names({ selector: ['app=tide'] })).toEqual(['v1', 'v2', 'bare']);
    expect(names({ selector: ['app=tide', 'version=2'] })).toEqual(['v2']);
    expect(names({ selector: ['app=tide'], namespace: 'other' })).toEqual(['elsewhere']);
    expect(names({ selector: ['version=3'] })).toEqual([]);
    expect(names({ selector: [] })).toEqual([]);
    // A label without a value has an empty one.
    expect(names({ selector: ['canary='] })).toEqual(['flagged']);
  });

  test('a port is found by name and protocol, each workload its own; by number where a container states it, or states nothing', () => {
    const at = (text: string) =>
      answering(service({ selector: ['app=tide'], ports: [text] }), plan.workloads)[0]?.members.map(({ port }) => port);
    expect(at('tcp 80 to http')).toEqual([8080, 8081, undefined]);
    expect(at('tcp 80 to 8080')).toEqual([8080, undefined, 8080]);
    expect(at('udp 80 to 8080')).toEqual([undefined, 8080, 8080]);
    expect(at('udp 80 to http')).toEqual([undefined, undefined, undefined]);
  });
});

describe('fixed addresses and ports', () => {
  // /24: 256 / 16 = 16 fixed ones, from the first usable address (10.0.0.1) to 10.0.0.16. From memory of the Kubernetes documentation.
  const range = expectGood(parsePrefix('10.0.0.0/24'));
  const faults = (address: string | null, others: ClusterService[] = []) =>
    addressFaults(service({ address }), [range], others).map(
      ({ isBroken, code, fact }) =>
        `${isBroken ? 'broken' : 'doubtful'} ${code} ${'address' in fact ? fact.address : ''}`,
    );

  test('an address is of the range, in its static band, not the API’s, and of one service', () => {
    expect(faults(null)).toEqual([]);
    expect(faults('10.0.0.2')).toEqual([]);
    expect(faults('10.0.0.16')).toEqual([]);
    expect(faults('10.0.0.17')).toEqual(['doubtful service.address:band 10.0.0.17']);
    expect(faults('10.0.1.2')).toEqual(['broken service.address:outside 10.0.1.2']);
    expect(faults('10.0.0.1')).toEqual(['broken service.address:api 10.0.0.1']);
    const other = { ...service({ name: 'other', address: '10.0.0.3' }), id: testId('services', 9) };
    expect(faults('10.0.0.3', [other])).toEqual(['broken service.address:taken 10.0.0.3']);
  });

  // 2,768 ports: min(max(16, 2768 / 32), 128) = 86 fixed ones, 30000 to 30085. From memory of the Kubernetes documentation.
  test('a NodePort is of the range, in its static band, and of one service over one protocol', () => {
    expect([FIRST_NODE_PORT, LAST_STATIC_NODE_PORT, LAST_NODE_PORT]).toEqual([30_000, 30_085, 32_767]);
    const ports = (node: number, others: ClusterService[] = []) =>
      nodePortFaults(service({ type: 'NodePort', ports: [`tcp 80 to http node ${node}`] }), others).map(
        ({ isBroken }) => isBroken,
      );
    expect([ports(30_000), ports(30_085), ports(30_086), ports(32_767), ports(32_768), ports(80)]).toEqual([
      [],
      [],
      [false],
      [false],
      [true],
      [true],
    ]);
    const other = (protocol: string) => ({
      ...service({ type: 'NodePort', ports: [`${protocol} 53 to 53 node 30053`] }),
      id: testId('services', 9),
    });
    expect([ports(30_053, [other('tcp')]), ports(30_053, [other('udp')])]).toEqual([[true], []]);
  });
});

describe('room on the nodes', () => {
  // 3 nodes of 4 vCPU: each holds four pods of 1,000 m, so 12 today and 24 at the horizon; 8 with a zone lost and while one is drained.
  test('by CPU, in each case', () => {
    const all = (replicas: number) =>
      room(world({}, pods({ cpuMillis: 1000, replicasNow: replicas, replicasHorizon: 2 * replicas })));
    expect(all(8)).toEqual({ now: '8 of 8', horizon: '16 of 16', 'zone lost': '8 of 8', upgrade: '8 of 8' });
    expect(all(12)).toEqual({
      now: '12 of 12',
      horizon: '24 of 24',
      'zone lost': '8 of 12 CPU',
      upgrade: '8 of 12 CPU',
    });
    expect(all(13)).toEqual({
      now: '12 of 13 CPU',
      horizon: '24 of 26 CPU',
      'zone lost': '8 of 13 CPU',
      upgrade: '8 of 13 CPU',
    });
  });

  test('a surge takes the place of the drained node', () => {
    // 10 % of 3 nodes is one more, rounded up: 4 less the drained one.
    expect(room(world({ surgePercent: 10 }, pods({ cpuMillis: 1000, replicasNow: 12 })))['upgrade']).toBe('12 of 12');
  });

  test('by memory, and by pods a node', () => {
    // 16 GiB hold five pods of 3 GiB.
    expect(room(world({}, pods({ memoryMib: 3072, replicasNow: 16 })))['now']).toBe('15 of 16 memory');
    expect(room(world({}, pods({ replicasNow: 61 })))['now']).toBe('60 of 61 pods per node');
  });

  test('on the node pool and labels asked for; tainted nodes run only what asks for them', () => {
    const pool = (fields: Partial<NodePool>) =>
      add('nodePools', {
        clusterId: own,
        name: 'extra',
        nodesNow: 1,
        nodesMax: 1,
        nodesHorizon: 1,
        zones: ['a'],
        ...fields,
      });
    const on = (fields: Partial<Workload>, of: Partial<NodePool>) =>
      room(world({}, pool(of), pods({ cpuMillis: 2000, replicasNow: 8, spread: 'anywhere', ...fields })))['now'];
    // Two on each of four nodes.
    expect(on({}, {})).toBe('8 of 8');
    expect(on({}, { taints: ['dedicated=search:NoSchedule'] })).toBe('6 of 8 CPU');
    expect(on({}, { taints: ['dedicated=search:PreferNoSchedule'] })).toBe('8 of 8');
    expect(on({ nodePoolId: testId('nodePools', 1) }, { taints: ['dedicated=search:NoSchedule'] })).toBe('2 of 8 CPU');
    expect(on({ nodeLabels: ['disk=fast'] }, { labels: ['disk=fast'] })).toBe('2 of 8 CPU');
    expect(on({ nodeLabels: ['disk=slow'] }, { labels: ['disk=fast'] })).toBe('0 of 8 no such node');
  });

  test('spread over zones, a full zone is not helped by another', () => {
    const two = world({ nodesNow: 4 }, pods({ cpuMillis: 4000, replicasNow: 4 }));
    // Of 4 nodes zone a has two, b and c one each; shares are 2, 1 and 1.
    expect(room(two)['now']).toBe('4 of 4');
    const uneven = world(
      { nodesNow: 4 },
      pods({ cpuMillis: 4000, replicasNow: 1, spread: 'anywhere' }, { cpuMillis: 3000, replicasNow: 3 }),
    );
    expect(room(uneven)['now']).toBe('1 of 1, 3 of 3');
    const full = world(
      { nodesNow: 4 },
      pods({ cpuMillis: 4000, replicasNow: 2, spread: 'anywhere' }, { cpuMillis: 3000, replicasNow: 2 }),
    );
    // The first two may stand on a's first node and b's; the others are shared between a and b, and b is full.
    expect(room(full)['now']).toBe('2 of 2, 1 of 2 zone');
  });

  test('zones with as many nodes are each lost where a smaller one stands between them', () => {
    // Two nodes in c and a, one in b, a pod each. Without c, a takes two and b one; without a, b should take two and has room for one.
    const plan = applied(
      world(
        {},
        add('nodePools', {
          clusterId: own,
          name: 'extra',
          nodesNow: 2,
          nodesMax: 2,
          nodesHorizon: 2,
          zones: ['c', 'a'],
        }),
        pods({ cpuMillis: 4000, replicasNow: 3 }),
      ),
      [setOperation('sites', testId('sites', 1), { zones: ['c', 'b', 'a'] })],
    );
    expect(room(plan)['zone lost']).toBe('2 of 3 zone');
  });

  test('no pod is placed twice and no node holds more than it has, whatever is asked', () => {
    const some = fc.array(
      fc.record({
        replicasNow: fc.integer({ min: 0, max: 30 }),
        cpuMillis: fc.integer({ min: 0, max: 5000 }),
        memoryMib: fc.integer({ min: 0, max: 20_000 }),
        spread: fc.constantFrom('zones' as const, 'anywhere' as const),
      }),
      { minLength: 1, maxLength: 5 },
    );
    fc.assert(
      fc.property(some, fc.integer({ min: 1, max: 7 }), (workloads, nodesNow) => {
        const plan = world({ nodesNow, nodesHorizon: 9 }, pods(...workloads));
        for (const each of tried(plan)) {
          expect(each.asked.cpu).toBeLessThanOrEqual(each.held.cpu);
          expect(each.asked.memory).toBeLessThanOrEqual(each.held.memory);
          expect(each.asked.pods).toBeLessThanOrEqual(each.held.pods);
          expect(missing(each)).toBe(each.workloads.reduce((sum, { wanted, placed }) => sum + wanted - placed, 0));
          for (const { placed, wanted, lacks } of each.workloads)
            expect([placed <= wanted, placed < wanted]).toEqual([true, lacks !== undefined]);
        }
      }),
      { numRuns: 60 },
    );
  });
});

test('pods a node follow from workloads, rounded up', () => {
  // 50 pods at the horizon on 6 nodes: 8.3.
  const plan = world({}, pods({ replicasHorizon: 50 }));
  const sizing = evaluate(plan).ask(demand).of(own);
  expect(sizing === undefined ? 0 : podsPerNodeOf(sizing, plan.workloads)).toBe(9);
  expect(sizing === undefined ? 0 : podsPerNodeOf(sizing, [])).toBeUndefined();
});

describe('bad input', () => {
  const problems = (kind: 'workloads' | 'services', fields: object) => {
    const result = applyOperations(
      world(
        {},
        add('nodePools', {
          clusterId: testId('clusters', 2),
          name: 'theirs',
          nodesNow: 1,
          nodesMax: 1,
          nodesHorizon: 1,
        }),
      ),
      add(kind, {
        name: 's',
        clusterId: own,
        ...(kind === 'services' ? { ports: ['tcp 80 to http'] } : { replicasNow: 1, replicasHorizon: 1 }),
        ...fields,
      }),
    );
    return result.ok ? [] : result.problems.map(({ field, message }) => `${field}: ${message}`);
  };
  test.each([
    ['workloads', { name: 'Basket' }, 'name: “Basket” is no DNS label.'],
    ['workloads', { namespace: '-shop' }, 'namespace: “-shop” is no DNS label.'],
    ['workloads', { ports: ['http tcp 80', 'http tcp 81'] }, 'ports: Two container ports are called http.'],
    ['workloads', { nodePoolId: testId('nodePools', 1) }, 'nodePoolId: The node pool theirs is of another cluster.'],
    [
      'services',
      { type: 'headless', address: '10.0.0.2' },
      'address: A service of the type headless has no address of its own.',
    ],
    ['services', { type: 'ExternalName', ports: [] }, 'externalName: An ExternalName service stands for another name.'],
    ['services', { externalName: 'x.example' }, 'externalName: A ClusterIP service stands for no other name.'],
    ['services', { ports: [] }, 'ports: A ClusterIP service has at least one port.'],
    ['services', { ports: ['tcp 80 to http node 30080'] }, 'ports: A service of the type ClusterIP has no NodePort.'],
    ['services', { ports: ['tcp 80 to http', 'tcp 80 to 8080'] }, 'ports: tcp 80 is there twice.'],
  ] as const)('%s with %j: %s', (kind, fields, message) => {
    expect(problems(kind, fields)).toEqual([message]);
  });
  test('what is good is taken, and a removed cluster takes its workloads and services along', () => {
    expect([problems('workloads', {}), problems('services', {})]).toEqual([[], []]);
  });
});

test('what is told to fit without being tried has room in every case when it is', () => {
  const anyPods = fc.record({
    replicasNow: fc.nat({ max: 12 }),
    replicasHorizon: fc.nat({ max: 24 }),
    cpuMillis: fc.constantFrom(0, 100, 500, 1000, 1900, 4000),
    memoryMib: fc.constantFrom(0, 128, 1024, 4096, 16_384),
    spread: fc.constantFrom('zones' as const, 'anywhere' as const),
    nodeLabels: fc.constantFrom<string[]>([], [], [], [], ['disk=fast']),
  });
  const anyNodes = fc.record({
    nodesNow: fc.nat({ max: 12 }),
    nodesHorizon: fc.nat({ max: 24 }),
    podsPerNode: fc.integer({ min: 8, max: 40 }),
    surgePercent: fc.constantFrom(0, 25, 100),
    shapeId: fc.constantFrom(testId('shapes', 1), testId('shapes', 1), null),
    zones: fc.constantFrom<string[]>(['a'], ['a', 'b'], ['a', 'b', 'c']),
  });
  const seen = { surely: 0, maybe: 0 };
  fc.assert(
    fc.property(anyNodes, fc.array(anyPods, { minLength: 1, maxLength: 5 }), ({ zones, ...nodes }, all) => {
      const plan = applied(world(nodes, pods(...all)), [setOperation('sites', testId('sites', 1), { zones })]);
      const sizing = evaluate(plan).ask(demand).of(own);
      if (sizing === undefined) throw new Error('no sizing');
      if (!fitsSurely(sizing, plan.workloads, plan.nodePools)) {
        seen.maybe++;
        return;
      }
      seen.surely++;
      for (const each of placements(sizing, plan.workloads, plan.nodePools))
        if (each.case !== 'zone lost' || zones.length > 1)
          expect([each.case, each.zone, missing(each)]).toEqual([each.case, each.zone, 0]);
    }),
    { numRuns: 3000, seed: 6 },
  );
  expect(seen.surely).toBeGreaterThan(500);
  expect(seen.maybe).toBeGreaterThan(500);
});

test.each([
  // One zone lost leaves 12 pods to each of two zones with a node: 1.2 of 3.9 CPUs, 768 of 16,320 MiB and 12 of 20 pods are 0.955 of it.
  [3, 24, true],
  // 13 pods are 0.333 + 0.051 + 0.65 = 1.034.
  [3, 26, false],
  // Two nodes to a zone, and one while another is upgraded: 9 pods to each of three zones are 0.72.
  [6, 26, true],
  [0, 1, false],
])(
  'by hand: %i nodes in three zones, %i pods of 100 m and 64 MiB spread over them: %s',
  (nodes, replicas, expected) => {
    const plan = world(
      { nodesNow: nodes, nodesHorizon: nodes },
      pods({
        replicasNow: replicas,
        replicasHorizon: replicas,
        cpuMillis: 100,
        memoryMib: 64,
        spread: 'zones',
      }),
    );
    const sizing = evaluate(plan).ask(demand).of(own);
    expect(sizing && fitsSurely(sizing, plan.workloads, plan.nodePools)).toBe(expected);
  },
);
