import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { prefix } from '../address/index.js';
import { setOperation } from '../plan/index.js';
import type { Cluster, NodePool, Profile, Shape } from '../plan/index.js';
import { limitsOf, sizingOf } from './index.js';
import type { Raise } from './index.js';

interface Case {
  readonly cluster?: Partial<Cluster>;
  readonly profile?: Partial<Profile>;
  readonly shapes?: readonly Partial<Shape>[];
  readonly pools?: readonly Partial<NodePool>[];
  readonly ranges?: Readonly<Partial<Record<'node' | 'pod' | 'service', string>>>;
}

function raisesOf(
  limit: string,
  { cluster: fields = {}, profile = {}, shapes = [], pools = [], ranges = {} }: Case,
): readonly Raise[] {
  const plan = applied(ground(1), [
    setOperation('profiles', testId('profiles', 1), profile),
    ...add('shapes', ...shapes.map((shape) => ({ profileId: testId('profiles', 1), ...shape }))),
    ...add('clusters', cluster('c', { nodesHorizon: 100, podsPerNode: 110, ...fields })),
    ...add(
      'nodePools',
      ...pools.map((pool) => ({ clusterId: testId('clusters', 1), nodesNow: 0, nodesMax: 0, ...pool })),
    ),
  ]);
  const found = limitsOf({
    sizing: sizingOf(plan, plan.clusters[0] as Cluster),
    neighbours: { clusters: 1, publicAddresses: 0 },
    rangesOf: (purpose) => (ranges[purpose] === undefined ? [] : [{ range: prefix(ranges[purpose]), others: [] }]),
  }).find(({ name }) => name === limit);
  if (found === undefined) throw new Error(`no limit ${limit}`);
  return found.raises();
}
const words = (limit: string, of: Case) => raisesOf(limit, of).map((raise) => raise.words);

test.each<[string, Case, RegExp[]]>([
  // Reserved on a plain LAN are three: network, broadcast, gateway.
  // 100 nodes with 8 entry addresses and those need a /25; without the entry addresses a /26 does not hold them either.
  // A /26 has 61 to give: the 47 over and 3 reserved fit in a further /26.
  [
    'Node subnets',
    { ranges: { node: '10.0.0.0/26' }, cluster: { entryAddresses: 8 } },
    [/^A \/25 instead of the \/26/, /^An additional \/26, filled once the first is full/],
  ],
  // 60 nodes, 4 entry, 3 reserved: 67 do not fit in 64, 63 do; the 3 over and 3 reserved are a /29.
  [
    'Node subnets',
    { ranges: { node: '10.0.0.0/26' }, cluster: { entryAddresses: 4, nodesHorizon: 60 } },
    [/^An additional \/29/, /^Entry addresses in subnets of their own/, /^A \/25/],
  ],
  // 11,000 pods, and a /19 has 8,189 to give: the 2,811 over and 3 reserved are a /20.
  [
    'Pod subnets',
    { ranges: { pod: '10.0.0.0/19' }, cluster: { podMode: 'native' } },
    [/^81 pods per node instead of 110/, /^An additional \/20/, /^A \/18/],
  ],
  // 64 node prefixes of a /24 for 100 nodes: a /17, or a /25 per node, which holds 110 pods once.
  [
    'Pod range',
    { ranges: { pod: '10.0.0.0/18' }, cluster: { podMode: 'routed' } },
    [/^A \/25 for each node.*rest less/, /^A \/17 pod range/],
  ],
  ['Pod range', { ranges: { pod: '10.0.0.0/18' } }, [/^A \/17 pod range/, /^A \/25 for each node/]],
  [
    'Service range',
    { ranges: { service: '10.9.0.0/26' }, cluster: { services: 100 } },
    [/^A \/25 service range/, /headless/],
  ],
  ['Nodes per cluster', { profile: { nodesPerCluster: 50 } }, [/^Ask plain to allow 100 nodes per cluster/]],
  ['Pods per cluster', { cluster: { podsPerNode: 1000, nodesHorizon: 200 } }, []],
  [
    'Routes per table',
    { cluster: { podMode: 'routed' }, profile: { routesPerTable: 60 } },
    [/^Pods in an overlay/, /^Ask plain to allow 100 routes/],
  ],
  ['NodePorts', { cluster: { services: 4000, nodePortServices: 3000 } }, [/^232 of them as ClusterIP/]],
  [
    'Load balancer members',
    { cluster: { balancerServices: 1 }, profile: { membersPerBalancer: 50, priceBalancer: 0 } },
    [/^A second load balancer/, /^Routed or native pods/, /^Ask plain/],
  ],
  ['SNAT ports', { cluster: { natAddresses: 1 } }, [/^645 ports per node/, /^1 more NAT address\./]],
  [
    'Clusters per site',
    { profile: { clustersPerSite: 1, nodesPerCluster: 50 } },
    [/^Ask plain to allow 2 clusters per site/],
  ],
])('%s can be raised, the cheapest way first', (limit, of, expected) => {
  const found = words(limit, of);
  expect(found).toHaveLength(expected.length);
  expected.forEach((pattern, i) => expect(found[i]).toMatch(pattern));
});

test('a rebuild comes last, and an unknown price counts as dear', () => {
  const built = { cluster: { podMode: 'routed', isBuilt: true }, profile: { routesPerTable: 60 } } as const;
  expect(raisesOf('Routes per table', built).map(({ isRebuild, isAsked }) => [isRebuild, isAsked])).toEqual([
    [false, true],
    [true, false],
  ]);
  const dear = raisesOf('SNAT ports', { cluster: { natAddresses: 1 } });
  expect(dear.map(({ monthly }) => monthly)).toEqual([0, null]);
});

test('public nodes that take the site’s addresses can be private', () => {
  const pool = { name: 'edge', isPublic: true, nodesHorizon: 60, surgePercent: 0 };
  const of = { cluster: { nodesHorizon: 10 }, pools: [pool], profile: { publicAddresses: 20 } };
  expect(words('Public addresses', of)[0]).toMatch(/^Private nodes in edge/);
});

test('shapes of other providers are not offered, and those that hold too few pods neither', () => {
  const of: Case = {
    cluster: { shapeId: testId('shapes', 1), podsPerNode: 110 },
    shapes: [
      { name: 'small', podCap: 50, price: 10 },
      { name: 'still small', podCap: 100, price: 1 },
      { name: 'fits', podCap: 110, price: 25 },
    ],
  };
  // Free, and it keeps the shape: fewer pods come before fifteen hundred a month.
  expect(words('Machine shape', of)).toEqual(['50 pods per node instead of 110.', 'Shape fits instead of small.']);
  expect(raisesOf('Machine shape', of)[1]?.monthly).toBe(1500);
});
