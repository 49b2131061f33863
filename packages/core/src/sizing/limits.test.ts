import fc from 'fast-check';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { addressBits } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { rangeOf, setOperation } from '../plan/index.js';
import type { Cluster, NodePool, Plan, Profile } from '../plan/index.js';
import { limitsOf, nativePodsPerNode, NODE_PORTS, rangesNeeded, sizingOf } from './index.js';
import type { Limit, Neighbours } from './index.js';

const ZONES = ['a', 'b', 'c'];

interface World {
  readonly profile: Partial<Profile>;
  readonly cluster: Partial<Cluster>;
  readonly pools: readonly Partial<NodePool>[];
  readonly zones: number;
  /** Lengths of node subnets, pod subnets or pod range, service range. */
  readonly lengths: {
    readonly node: readonly number[];
    readonly podSubnet: number;
    readonly pod: number;
    readonly service: number;
  };
  readonly shape:
    | { readonly podCap: number; readonly interfaces: number; readonly slotsPerInterface: number }
    | undefined;
  readonly neighbours: Neighbours;
}

const small = (max: number, min = 0) => fc.integer({ min, max });
const anyPool: fc.Arbitrary<Partial<NodePool>> = fc.record({
  kind: fc.constantFrom<'nodes' | 'pods'>('nodes', 'nodes', 'pods'),
  zones: fc.subarray(ZONES),
  nodesHorizon: small(30),
  nodesMax: small(20),
  surgePercent: fc.constantFrom(0, 7, 25, 100),
  podsPerNode: fc.option(small(60, 1)),
  isPublic: fc.boolean(),
});

const anyWorld: fc.Arbitrary<World> = fc.record({
  profile: fc.record({
    subnetScope: fc.constantFrom<'zone' | 'region'>('zone', 'region'),
    reservedFirst: small(4, 1),
    leastSurge: small(2),
    warmSpare: small(3),
    routesPerTable: small(120, 1),
    nodesPerCluster: small(150, 1),
    clustersPerSite: small(4, 1),
    membersPerBalancer: small(90, 1),
    publicAddresses: small(80),
    nativeRule: fc.constantFrom<Profile['nativeRule']>('addresses', 'prefixes'),
  }),
  cluster: fc.record({
    podMode: fc.constantFrom<Cluster['podMode']>('overlay', 'routed', 'native'),
    nodesHorizon: small(90, 1),
    surgePercent: fc.constantFrom(0, 10, 33, 50, 100),
    podsPerNode: small(120, 1),
    services: small(300, 60),
    nodePortServices: small(30),
    balancerServices: small(20),
    headlessServices: small(10),
    hasPublicBalancers: fc.boolean(),
    entryAddresses: small(9),
    hasEntrySubnets: fc.boolean(),
    natAddresses: small(2),
    snatPorts: fc.constantFrom(1024, 4096, 20_000, 40_000),
    controlPlane: fc.constantFrom<Cluster['controlPlane']>('hosted', 'self-run'),
    controlNodes: small(5, 1),
    apiEndpoint: fc.constantFrom<Cluster['apiEndpoint']>('public', 'private'),
    zoneCount: fc.option(small(3, 1)),
  }),
  pools: fc.array(anyPool, { maxLength: 2 }),
  zones: small(3, 1),
  lengths: fc.record({
    node: fc.array(small(29, 23), { minLength: 3, maxLength: 3 }),
    podSubnet: small(24, 18),
    pod: small(24, 15),
    service: small(28, 21),
  }),
  shape: fc.option(fc.record({ podCap: small(250, 10), interfaces: small(4, 2), slotsPerInterface: small(20, 2) }), {
    nil: undefined,
  }),
  neighbours: fc.record({ clusters: small(5, 1), publicAddresses: small(40) }),
});

function build(world: World): { plan: Plan; own: Cluster } {
  const clusterId = testId('clusters', 1);
  const zones = ZONES.slice(0, world.zones);
  const base = applied(ground(1), [
    setOperation('profiles', testId('profiles', 1), world.profile),
    setOperation('sites', testId('sites', 1), { zones }),
    ...add('shapes', { name: 's', profileId: testId('profiles', 1), ...world.shape }),
    ...add(
      'clusters',
      cluster('c', { ...world.cluster, shapeId: world.shape === undefined ? null : testId('shapes', 1) }),
    ),
    ...add(
      'nodePools',
      ...world.pools.map((pool, i) => ({
        clusterId,
        name: `p${i}`,
        nodesNow: 0,
        ...pool,
        zones: (pool.zones ?? []).filter((zone) => zones.includes(zone)),
      })),
    ),
  ]);
  const own = base.clusters[0] as Cluster;
  const next = { node: 0, pod: 0 };
  const ranges = rangesNeeded(sizingOf(base, own)).flatMap(({ purpose, zone }) => {
    const at = (text: string) => [{ clusterId, purpose, zone, prefix: text, isPinned: false }];
    const { lengths } = world;
    if (purpose === 'node') return at(`10.${next.node}.0.0/${lengths.node[next.node++]}`);
    if (purpose === 'service') return at(`10.200.0.0/${lengths.service}`);
    if (purpose === 'entry') return [];
    if (own.podMode !== 'native') return at(`10.64.0.0/${lengths.pod}`);
    return at(`10.${100 + next.pod++}.0.0/${lengths.podSubnet}`);
  });
  return { plan: applied(base, add('allocations', ...ranges)), own };
}

function limitsIn({ neighbours }: World, plan: Plan, own: Cluster): Limit[] {
  const held = new Map(plan.allocations.map((range) => [`${range.purpose} ${range.zone}`, rangeOf(range)]));
  return limitsOf({
    sizing: sizingOf(plan, own),
    neighbours,
    rangesOf: (purpose, zone) => [held.get(`${purpose} ${zone}`) ?? []].flat().map((range) => ({ range, others: [] })),
  });
}

/** A stock of things handed out one by one; what is out is out. */
class Stock {
  constructor(private left: number) {}
  get isOverdrawn(): boolean {
    return this.left < 0;
  }
  take(count = 1): void {
    for (let i = 0; i < count; i++) this.left--;
  }
}

/**
 * The slow reference: a cluster of so many nodes is brought up node by node, with everything each takes, in an allocator that
 * knows nothing of the formulas. Returns the names of what ran out.
 */
function bringUp(world: World, plan: Plan, own: Cluster, total: number): Set<string> {
  const profile = plan.profiles[0] as Profile;
  const zones = (plan.sites[0]?.zones ?? []).slice(0, own.zoneCount ?? undefined);
  const subnets = profile.subnetScope === 'zone' ? zones : [''];
  const range = (purpose: string, zone = '') => {
    const found = plan.allocations.find((each) => each.purpose === purpose && each.zone === zone);
    return found === undefined ? undefined : rangeOf(found);
  };
  const hosts = (of: Prefix | undefined) => {
    if (of === undefined) return new Stock(Number.MAX_SAFE_INTEGER);
    // Where the provider keeps the network's address alone, the gateway takes the next.
    const keeps = profile.reservedFirst + profile.reservedLast + (profile.reservedFirst === 1 ? 1 : 0);
    return new Stock(Math.max(0, 2 ** (32 - of.length) - keeps));
  };
  const nodeStock = new Map(subnets.map((zone) => [zone, hosts(range('node', zone))]));
  const podStock = new Map(subnets.map((zone) => [zone, hosts(range('pod', zone))]));

  const ofNodes = plan.nodePools.filter(({ kind }) => kind === 'nodes');
  const groups = [
    { horizon: own.nodesHorizon, zones, pods: own.podsPerNode, surge: own.surgePercent, isPublic: false },
    ...ofNodes.map((pool) => {
      const inside = zones.filter((zone) => pool.zones.includes(zone));
      return {
        horizon: Math.max(pool.nodesMax, pool.nodesHorizon),
        zones: inside.length === 0 ? zones : inside,
        pods: pool.podsPerNode ?? own.podsPerNode,
        surge: pool.surgePercent,
        isPublic: pool.isPublic,
      };
    }),
  ];
  const all = groups.reduce((sum, { horizon }) => sum + horizon, 0);
  // As many as keep the proportions of the horizon, and never fewer.
  const share = (part: number) => {
    let count = 0;
    while (count * all < total * part) count++;
    return count;
  };
  const surged = (count: number, percent: number) => {
    let extra = 0;
    while (extra * 100 < count * percent) extra++;
    return count + (count === 0 ? 0 : Math.max(extra, profile.leastSurge));
  };
  const each = (part: number, over: number) => {
    let count = 0;
    while (count * over < part) count++;
    return count;
  };

  const most = Math.max(...groups.map(({ pods }) => pods));
  let slice = 32;
  while (2 ** (32 - slice) < 2 * most) slice--;
  const podRange = own.podMode === 'native' ? undefined : range('pod');
  const slices =
    podRange === undefined
      ? Number.MAX_SAFE_INTEGER
      : Math.min(65_536, Math.floor(2 ** (addressBits(4) - podRange.length) / 2 ** (32 - slice)));
  const stock = {
    'Pod range': new Stock(slices),
    'Nodes per cluster': new Stock(profile.nodesPerCluster),
    'Pods per cluster': new Stock(150_000),
    'Routes per table': new Stock(own.podMode === 'routed' ? profile.routesPerTable : Number.MAX_SAFE_INTEGER),
    'SNAT ports': new Stock(own.natAddresses * Math.floor((65_536 - 1024) / own.snatPorts)),
    'Public addresses': new Stock(Math.max(0, profile.publicAddresses - world.neighbours.publicAddresses)),
    'Clusters per site': new Stock(
      profile.clustersPerSite < world.neighbours.clusters
        ? 0
        : profile.nodesPerCluster * (1 + profile.clustersPerSite - world.neighbours.clusters),
    ),
    NodePorts: new Stock(NODE_PORTS),
    'Service range': new Stock(2 ** (32 - (range('service')?.length ?? 0)) - 2),
    'Load balancer members': new Stock(profile.membersPerBalancer),
  };
  let workers = 0;
  let pods = 0;
  const failed = new Set<string>();
  const arrive = (isPublic: boolean) => {
    stock['Pod range'].take();
    stock['Routes per table'].take();
    stock[isPublic ? 'Public addresses' : 'SNAT ports'].take();
  };
  for (const group of groups) {
    const rest = share(group.horizon);
    for (let i = 0; i < rest; i++) {
      stock['Nodes per cluster'].take();
      stock['Clusters per site'].take();
      stock['Pods per cluster'].take(group.pods);
      pods += group.pods;
    }
    for (let i = 0; i < surged(rest, group.surge); i++) {
      arrive(group.isPublic);
      workers++;
    }
    for (const zone of subnets) {
      if (zone !== '' && !group.zones.includes(zone)) continue;
      const here = surged(zone === '' ? rest : each(rest, group.zones.length), group.surge);
      nodeStock.get(zone)?.take(here);
      podStock.get(zone)?.take(here * (group.pods + profile.warmSpare));
    }
    const held = world.shape === undefined ? undefined : plan.shapes[0];
    if (held !== undefined && rest > 0) {
      const room = own.podMode === 'native' ? nativePodsPerNode(held, profile).value : held.podCap;
      if (group.pods > room) failed.add('Machine shape');
    }
  }
  if (own.controlPlane === 'self-run') {
    for (let i = 0; i < own.controlNodes; i++) {
      stock['Nodes per cluster'].take();
      stock['Clusters per site'].take();
    }
    for (let i = 0; i < own.controlNodes + 1; i++) arrive(false);
    for (const zone of subnets) {
      const here = (zone === '' ? own.controlNodes : each(own.controlNodes, zones.length)) + 1;
      nodeStock.get(zone)?.take(here + 2);
      podStock.get(zone)?.take(here * (own.podsPerNode + profile.warmSpare));
    }
  } else if (own.apiEndpoint === 'private') for (const zone of subnets) nodeStock.get(zone)?.take(1);
  for (const pool of plan.nodePools.filter(({ kind }) => kind === 'pods')) {
    const inside = zones.filter((zone) => pool.zones.includes(zone));
    const where = inside.length === 0 ? zones : inside;
    const count = share(Math.max(pool.nodesMax, pool.nodesHorizon));
    stock['Pods per cluster'].take(count);
    pods += count;
    for (const zone of subnets) {
      if (zone !== '' && !where.includes(zone)) continue;
      const subnet = own.podMode === 'native' ? podStock : nodeStock;
      subnet.get(zone)?.take(zone === '' ? count : each(count, where.length));
    }
  }
  if (!own.hasEntrySubnets) for (const zone of subnets) nodeStock.get(zone)?.take(own.entryAddresses);
  stock.NodePorts.take(share(own.nodePortServices + own.balancerServices));
  stock['Service range'].take(2 + share(own.services - own.headlessServices));
  stock['Public addresses'].take(own.natAddresses + (own.hasPublicBalancers ? share(own.balancerServices) : 0));
  stock['Load balancer members'].take(own.podMode === 'overlay' ? workers : each(pods, own.services));
  for (const [name, each_] of Object.entries(stock)) if (each_.isOverdrawn) failed.add(name);
  if ([...nodeStock.values()].some((each_) => each_.isOverdrawn)) failed.add('Node subnets');
  if (own.podMode === 'native' && [...podStock.values()].some((each_) => each_.isOverdrawn)) failed.add('Pod subnets');
  return failed;
}

test('every limit is the count at which a node-by-node bring-up still holds, and one more node fails', () => {
  const seen = new Map<string, number>();
  fc.assert(
    fc.property(anyWorld, (world) => {
      const { plan, own } = build(world);
      for (const { name, nodes } of limitsIn(world, plan, own)) {
        const limit = nodes.value;
        if (limit > 3000) continue;
        seen.set(name, (seen.get(name) ?? 0) + 1);
        if (limit > 0) expect(bringUp(world, plan, own, limit)).not.toContain(name);
        expect(bringUp(world, plan, own, limit + 1)).toContain(name);
      }
    }),
    { numRuns: 160, seed: 20261123 },
  );
  // Each limit of the handbook was met often enough to mean something.
  for (const name of [
    'Node subnets',
    'Pod subnets',
    'Pod range',
    'Service range',
    'Routes per table',
    'Nodes per cluster',
    'Clusters per site',
    'Machine shape',
    'Load balancer members',
    'SNAT ports',
    'Public addresses',
  ])
    expect([name, (seen.get(name) ?? 0) > 5]).toEqual([name, true]);
});

test('what ran out first by adding nodes one by one is the first of the limits', () => {
  fc.assert(
    fc.property(anyWorld, (world) => {
      const { plan, own } = build(world);
      const limits = limitsIn(world, plan, own);
      const first = limits[0]?.nodes.value ?? 0;
      fc.pre(first < 400);
      const known = new Set(limits.map(({ name }) => name));
      let total = 0;
      while ([...bringUp(world, plan, own, total + 1)].every((name) => !known.has(name))) total++;
      expect(total).toBe(first);
    }),
    { numRuns: 60, seed: 7 },
  );
});

describe('ways to raise a limit', () => {
  const base: World = {
    profile: { subnetScope: 'zone' },
    cluster: { nodesHorizon: 60, podsPerNode: 50, entryAddresses: 8, natAddresses: 1, snatPorts: 1024 },
    pools: [],
    zones: 3,
    lengths: { node: [28, 28, 28], podSubnet: 24, pod: 20, service: 24 },
    shape: undefined,
    neighbours: { clusters: 1, publicAddresses: 0 },
  };
  const limit = (world: World, name: string) => {
    const { plan, own } = build(world);
    const found = limitsIn(world, plan, own).find((each) => each.name === name);
    if (found === undefined) throw new Error(`no limit ${name}`);
    return found;
  };

  test('the subnet that is proposed holds the horizon, and one bit less does not', () => {
    const [raise] = limit(base, 'Node subnets').raises();
    const length = Number(/A \/(\d+)/.exec(raise?.words ?? '')?.[1]);
    const with_ = (bits: number) =>
      limit({ ...base, lengths: { ...base.lengths, node: [bits, bits, bits] } }, 'Node subnets');
    expect(with_(length).nodes.value).toBeGreaterThanOrEqual(60);
    expect(with_(length + 1).nodes.value).toBeLessThan(60);
    expect(raise?.addresses).toBe(2 ** (32 - length) - 2 ** 4);
  });

  test('a pod range can be raised by a longer prefix a node without more addresses; a built cluster is rebuilt for it', () => {
    const raises = limit(base, 'Pod range').raises();
    expect(raises.map(({ words }) => words).join(' ')).toMatch(/A \/19 pod range|A \/18 pod range/);
    expect(raises.some(({ words, addresses }) => /A \/26 for each node/.test(words) && addresses === 0)).toBe(true);
    const built = limit({ ...base, cluster: { ...base.cluster, isBuilt: true } }, 'Pod range').raises();
    expect(built.every(({ isRebuild }) => isRebuild)).toBe(true);
  });

  test('SNAT: one address carries 63 nodes at 1,024 ports (common practice); more addresses have their price', () => {
    expect(limit(base, 'SNAT ports').nodes.value).toBe(63);
    const dear = {
      ...base,
      profile: { ...base.profile, priceAddress: 3.5 },
      cluster: { ...base.cluster, nodesHorizon: 200 },
    };
    const raises = limit(dear, 'SNAT ports').raises();
    expect(raises.find(({ words }) => words.includes('more NAT addresses'))?.monthly).toBe(3 * 3.5);
  });

  test('a shape is exchanged for the cheapest that holds the pods', () => {
    const { plan, own } = build({ ...base, shape: { podCap: 40, interfaces: 2, slotsPerInterface: 4 } });
    const shapes = [
      { id: testId('shapes', 8), name: 'dear', price: 90 },
      { id: testId('shapes', 9), name: 'cheap', price: 30 },
    ];
    const more = applied(
      plan,
      add('shapes').concat(
        shapes
          .map((shape) => add('shapes', { profileId: testId('profiles', 1), podCap: 100, ...shape })[0] ?? [])
          .flat(),
      ),
    );
    const found = limitsIn(base, more, own).find(({ name }) => name === 'Machine shape');
    const others = found?.raises().filter(({ words }) => words.startsWith('Shape'));
    expect(others?.map(({ words, monthly }) => [words, monthly])).toEqual([
      ['Shape cheap instead of s.', 1800],
      ['Shape dear instead of s.', 5400],
    ]);
  });

  test('each limit explains itself with the count that holds and the one that does not', () => {
    const { plan, own } = build(base);
    for (const { nodes, month } of limitsIn(base, plan, own)) {
      const working = nodes.explain();
      expect(working.steps.join(' ')).toContain(`${nodes.value.toLocaleString('en-US')} nodes`);
      expect(working.source.text.length).toBeGreaterThan(10);
      expect(month.explain().result).not.toBe('');
    }
  });
});
