import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { evaluate } from '../evaluation/index.js';
import { Forwarding } from '../forwarding/index.js';
import { matrixColumns, MatrixMaker } from '../reach/index.js';
import { setOperation } from '../plan/index.js';
import type { Allocation, Cluster, Plan } from '../plan/index.js';
import { clusters, rowOf, sizingOf, takenIn } from '../sizing/index.js';
import { propose } from './index.js';

type Given = Partial<Omit<Allocation, 'prefix'>> & { readonly prefix: string };

/** A cluster with these subnets for its nodes; each node takes one address, of each subnet three go to network, broadcast and gateway, and nothing else takes any. */
function world(fields: Partial<Omit<Cluster, 'id'>>, ...ranges: readonly Given[]): Plan {
  return applied(ground(1), [
    ...add('pools', pool('all', '10.0.0.0/8', { purposes: ['node', 'pod', 'service', 'entry'] })),
    ...add('clusters', cluster('a', { podMode: 'overlay', nodesNow: 10, ...fields })),
    ...add(
      'allocations',
      ...ranges.map((range) => ({ clusterId: testId('clusters', 1), purpose: 'node' as const, ...range })),
    ),
  ]);
}

const id = (n: number) => testId('allocations', n);
const resultOf = (plan: Plan, n = 1) => {
  const found = evaluate(plan).ask(clusters).of(testId('clusters', n));
  if (found === undefined) throw new Error('no such cluster');
  return found;
};
const limitOf = (plan: Plan, n = 1) => resultOf(plan, n).figures.limits.find(({ code }) => code === 'node-subnets');
const taken = (plan: Plan, n = 1) => {
  const { cluster: own, allocations } = resultOf(plan, n);
  const row = rowOf(allocations, allocations[0] as Allocation);
  return row.map((range) => takenIn({ sizing: sizingOf(plan, own), range, row }));
};
const smallOf = (plan: Plan) =>
  evaluate(plan)
    .findingsInWords()
    .filter(({ code }) => code === 'range.too-small');

describe('several subnets of one zone', () => {
  // A /26 has 61 to give.
  const two = (nodes: number, more: Partial<Omit<Cluster, 'id'>> = {}) =>
    world({ nodesHorizon: nodes, ...more }, { prefix: '10.0.0.0/26' }, { prefix: '10.0.9.0/26', turn: 2 });

  test('hold together what one need asks for: 122 nodes in two of 61, and not 123', () => {
    expect(limitOf(two(122))?.nodes.value).toBe(122);
    expect(smallOf(two(122))).toEqual([]);
    expect(resultOf(two(122)).figures.strays).toEqual([]);
    expect(smallOf(two(123))).toMatchObject([{ severity: 'warning', title: 'a: its 2 node subnets are too small' }]);
  });

  test('are filled in their turn, whichever was entered first and wherever it lies', () => {
    expect(taken(two(100))).toEqual([61, 39]);
    expect(taken(two(40))).toEqual([40, 0]);
    const turned = world({ nodesHorizon: 100 }, { prefix: '10.0.0.0/26', turn: 2 }, { prefix: '10.0.9.0/25' });
    // A /25 has 125.
    expect(taken(turned)).toEqual([100, 0]);
    expect(resultOf(turned).figures.needs[0]?.ranges.map(({ prefix }) => prefix)).toEqual([
      '10.0.9.0/25',
      '10.0.0.0/26',
    ]);
  });

  test('another cluster beside the further one is left what the first gives over to it', () => {
    const beside = applied(two(100), [
      ...add('clusters', {}, cluster('b', { podMode: 'overlay', nodesNow: 1, nodesHorizon: 20 })).slice(1),
      ...add('allocations', {}, {}, { clusterId: testId('clusters', 2), purpose: 'node', prefix: '10.0.9.0/26' }).slice(
        2,
      ),
    ]);
    // 39 of 61 are a's, so b may have 22; a has 61 and the 41 beside b's 20.
    expect([limitOf(beside, 1)?.nodes.value, limitOf(beside, 2)?.nodes.value]).toEqual([102, 22]);
    expect(smallOf(beside)).toEqual([]);
    expect(
      smallOf(applied(beside, [setOperation('clusters', testId('clusters', 2), { nodesHorizon: 23 })])),
    ).toHaveLength(2);
  });

  test('of pods of an overlay and of services there is one: a further one serves nothing', () => {
    const plan = applied(world({ nodesHorizon: 10 }), [
      ...add(
        'allocations',
        { clusterId: testId('clusters', 1), purpose: 'pod', prefix: '10.64.0.0/18' },
        { clusterId: testId('clusters', 1), purpose: 'pod', prefix: '10.65.0.0/18', turn: 2 },
      ),
    ]);
    const stray = evaluate(plan)
      .findingsInWords()
      .find(({ code }) => code === 'range.stray');
    expect(stray?.detail).toBe('A cluster has one pod range; only subnets can be several. Remove it.');
  });

  test('each of them is asked from in the matrix: one without a way out is told', () => {
    const base = two(100);
    const own = { networkId: testId('networks', 1), siteId: testId('sites', 1), purpose: 'node' as const, zone: '' };
    const open = applied(base, [
      ...add(
        'routeTables',
        { networkId: testId('networks', 1), name: 'open' },
        { networkId: testId('networks', 1), name: 'shut' },
        { networkId: testId('networks', 1), name: 'edge' },
      ),
      ...add(
        'subnets',
        { ...own, name: 'one', prefix: '10.0.0.0/26', routeTableId: testId('routeTables', 1), isPublic: false },
        { ...own, name: 'two', prefix: '10.0.9.0/26', routeTableId: testId('routeTables', 1) },
        {
          ...own,
          purpose: 'other',
          name: 'edge',
          prefix: '10.0.8.0/26',
          routeTableId: testId('routeTables', 3),
          isPublic: true,
        },
      ),
      ...add('natDevices', { name: 'nat', subnetId: testId('subnets', 3) }),
      ...add(
        'routes',
        {
          routeTableId: testId('routeTables', 1),
          prefix: '0.0.0.0/0',
          nextHop: 'nat',
          natDeviceId: testId('natDevices', 1),
        },
        { routeTableId: testId('routeTables', 3), prefix: '0.0.0.0/0', nextHop: 'internet' },
      ),
    ]);
    const internet = (plan: Plan) => {
      const [own] = plan.clusters;
      if (own === undefined) throw new Error('no cluster');
      const columns = matrixColumns(plan);
      const at = columns.findIndex(({ kind }) => kind === 'internet');
      return new MatrixMaker(Forwarding.of(plan)).row(own, columns)[at];
    };
    const shut = applied(open, [
      setOperation('subnets', testId('subnets', 2), { routeTableId: testId('routeTables', 2) }),
    ]);
    const [before, after] = [internet(open), internet(shut)];
    expect(after?.verdict).toBe('broken');
    expect(after?.from).toBe('10.0.9.2 in n1');
    expect(before?.verdict).toBe('pass');
  });
});

describe('another subnet is proposed', () => {
  test('for what the others have no place for, beside a built cluster that cannot move', () => {
    // 100 nodes in a /26: 39 over, and 3 reserved, are a /26.
    const plan = world({ nodesHorizon: 100, isBuilt: true }, { prefix: '10.0.0.0/26', isPinned: true });
    const { operations, ranges, refusals } = propose(plan, { further: [id(1)] });
    expect(refusals).toEqual([]);
    expect(ranges).toMatchObject([{ purpose: 'node', before: '' }]);
    const after = applied(plan, operations);
    expect(after.allocations.map(({ turn, prefix }) => [turn, prefix.split('/')[1]])).toEqual([
      [1, '26'],
      [2, '26'],
    ]);
    expect(after.allocations[0]?.prefix).toBe('10.0.0.0/26');
    expect(smallOf(after)).toEqual([]);
    expect(evaluate(after).verdicts()).toEqual([]);
  });

  test('in a subnet that stands and has room, and never in the one that is full', () => {
    const place = { networkId: testId('networks', 1), siteId: testId('sites', 1), purpose: 'node', zone: '' } as const;
    const plan = applied(world({ nodesHorizon: 100 }, { prefix: '10.0.0.0/26' }), [
      ...add(
        'subnets',
        { ...place, name: 'full', prefix: '10.0.0.0/26' },
        { ...place, name: 'spare', prefix: '10.0.4.0/24' },
      ),
    ]);
    expect(propose(plan, { further: [id(1)] }).ranges).toMatchObject([
      { after: '10.0.4.0/24', poolName: 'subnet spare' },
    ]);
  });

  test('only where something is over', () => {
    expect(propose(world({ nodesHorizon: 61 }, { prefix: '10.0.0.0/26' }), { further: [id(1)] }).ranges).toEqual([]);
  });

  test('and the last of several grows where it is by what is over alone', () => {
    // 61 in the first; 39 and 3 reserved grow the /28 to a /26.
    const plan = world({ nodesHorizon: 100 }, { prefix: '10.0.0.0/26' }, { prefix: '10.0.9.0/28', turn: 2 });
    expect(propose(plan, { grow: [id(2)] }).ranges).toMatchObject([{ before: '10.0.9.0/28', after: '10.0.9.0/26' }]);
    expect(propose(plan, { grow: [id(1)] }).ranges).toEqual([]);
  });
});

test('a shared subnet is full in the month in which all in it, as they grow, ask for more than it has', () => {
  // 125 in a /25. a: 20 + 40 t/36, b: 30 + 60 t/36. Month 27: 50 + 75 = 125; month 28: 52 + 77 = 129.
  const plan = applied(ground(1), [
    ...add(
      'clusters',
      cluster('a', { podMode: 'overlay', nodesNow: 20, nodesHorizon: 60 }),
      cluster('b', { podMode: 'overlay', nodesNow: 30, nodesHorizon: 90 }),
    ),
    ...add(
      'allocations',
      ...[1, 2].map((n) => ({ clusterId: testId('clusters', n), purpose: 'node' as const, prefix: '10.0.0.0/25' })),
    ),
  ]);
  expect(plan.settings.horizonMonths).toBe(36);
  // Beside b at its largest a has 35; that is no month, since b is not there yet.
  expect(limitOf(plan, 1)?.nodes.value).toBe(35);
  expect(limitOf(plan, 1)?.month.value).toBe(28);
  expect(limitOf(plan, 2)?.month.value).toBe(28);
  expect(limitOf(plan, 1)?.month.explain().steps.at(-1)).toBe('month 28: 52 + 77 = 129');
});
