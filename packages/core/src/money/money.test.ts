import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { setOperation } from '../plan/index.js';
import type { Cluster, Plan, Profile } from '../plan/index.js';
import { clusterCost, costDifference, planCost, formatMoney } from './index.js';
import { sizingOf } from '../sizing/index.js';

const prices = {
  priceControlPlane: 70,
  priceBalancer: 20,
  priceNat: 30,
  priceNatGb: 0.05,
  priceAddress: 3,
  priceZoneGb: 0.01,
  priceEgressGb: 0.1,
} as const;
const world = (fields: Partial<Cluster> = {}, profile: Partial<Profile> = {}): Plan =>
  applied(ground(1), [
    setOperation('profiles', testId('profiles', 1), { ...prices, subnetScope: 'zone', ...profile }),
    setOperation('sites', testId('sites', 1), { zones: ['a', 'b', 'c'] }),
    ...add(
      'shapes',
      { name: 'm', profileId: testId('profiles', 1), price: 100 },
      { name: 'big', profileId: testId('profiles', 1), price: 400 },
    ),
    ...add('clusters', cluster('c', { shapeId: testId('shapes', 1), nodesNow: 10, nodesHorizon: 20, ...fields })),
  ]);
const amounts = (plan: Plan, time: 'now' | 'horizon' = 'now') =>
  Object.fromEntries(planCost(plan, time).lines.map(({ item, monthly }) => [item, monthly?.value]));

test('item by item, reckoned by hand', () => {
  const plan = world({
    services: 40,
    balancerServices: 4,
    hasPublicBalancers: true,
    natAddresses: 2,
    zoneGb: 10,
    egressGb: 50,
  });
  expect(amounts(plan)).toEqual({
    Nodes: 1000,
    'Control plane': 70,
    // Four services at twenty nodes are two at ten.
    'Load balancers': 2 * 20,
    // One device in each of three zones; 10 nodes × 50 GB through them.
    NAT: 90,
    'NAT traffic': 500 * 0.05,
    // Two NAT addresses and two public balancers.
    'Public addresses': 4 * 3,
    'Traffic between zones': 100 * 0.01,
    'Traffic out': 500 * 0.1,
  });
  expect(amounts(plan, 'horizon')).toMatchObject({ Nodes: 2000, 'Load balancers': 80, 'Traffic out': 100 });
  expect(planCost(plan, 'now').total).toBe(1000 + 70 + 40 + 90 + 25 + 12 + 1 + 50);
});

test('a self-run control plane costs its nodes; public pools need addresses and no translation', () => {
  const plan = applied(
    world({
      controlPlane: 'self-run',
      controlNodes: 3,
      controlShapeId: testId('shapes', 2),
      natAddresses: 1,
      egressGb: 10,
    }),
    [
      ...add('nodePools', {
        clusterId: testId('clusters', 1),
        name: 'edge',
        isPublic: true,
        nodesNow: 5,
        nodesMax: 5,
        nodesHorizon: 5,
        surgePercent: 0,
      }),
    ],
  );
  expect(amounts(plan)).toMatchObject({
    'Control nodes': 1200,
    'Nodes, main': 1000,
    'Nodes, edge': 500,
    'NAT traffic': 100 * 0.05,
    'Public addresses': 6 * 3,
    'Traffic out': 150 * 0.1,
  });
});

test('one zone has no traffic between zones, a regional provider one NAT device', () => {
  expect(amounts(world({ zoneGb: 10, zoneCount: 1 }))).not.toHaveProperty('Traffic between zones');
  expect(amounts(world({ natAddresses: 1 }, { subnetScope: 'region' }))).toMatchObject({ NAT: 30 });
});

test('what has no price is not counted, and says what is missing', () => {
  const plan = world({ shapeId: null, natAddresses: 1 }, { priceNat: null });
  const lines = clusterCost(sizingOf(plan, plan.clusters[0] as Cluster), 'now');
  const cannot = lines.filter(({ monthly }) => monthly === undefined).map(({ item, cannot: why }) => `${item}: ${why}`);
  expect(cannot).toEqual(['Nodes: no machine shape is decided', 'NAT: plain has no price for address translation']);
  expect(planCost(plan, 'now').total).toBe(70 + 3);
});

test('the working of each line multiplies to its amount', () => {
  for (const { monthly, quantity, price } of planCost(demoPlan(), 'horizon').lines) {
    if (monthly === undefined) continue;
    expect(monthly.value).toBeCloseTo(quantity * (price ?? 0), 2);
    expect(monthly.explain().result).toContain(formatMoney(monthly.value));
  }
});

test('two designs: the difference is the sum of its drivers, the largest first', () => {
  const before = demoPlan();
  const north = before.clusters.find(({ name }) => name === 'booking-north')?.id ?? '';
  const tide = before.clusters.find(({ name }) => name === 'tide-models')?.id ?? '';
  const after = applied(before, [
    setOperation('clusters', north, { nodesNow: 60, name: 'renamed' }),
    setOperation('clusters', tide, { shapeId: before.shapes.find(({ name }) => name === 'orrery-m4')?.id ?? '' }),
  ]);
  const { drivers, before: from, after: to } = costDifference(before, after, 'now');
  expect(drivers.reduce((sum, { difference }) => sum + difference, 0)).toBeCloseTo(to - from, 2);
  expect(drivers[0]).toMatchObject({ clusterName: 'tide-models', item: 'Nodes', difference: 60 * (104 - 416) });
  const sizes = drivers.map(({ difference }) => Math.abs(difference));
  expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
  expect(costDifference(before, before, 'horizon').drivers).toEqual([]);
});
