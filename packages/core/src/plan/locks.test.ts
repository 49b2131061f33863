import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { applyOperations, rebuildsNeeded, removalOf, setOperation, withRebuilds } from './index.js';
import type { Cluster, Operation, Plan } from './index.js';

const id = testId('clusters', 1);
const world = (fields: Partial<Cluster> = {}): Plan =>
  applied(ground(2), [
    ...add('clusters', cluster('c', { isBuilt: true, podMode: 'native', ...fields })),
    ...add(
      'allocations',
      { clusterId: id, purpose: 'pod', prefix: '10.0.0.0/16' },
      { clusterId: id, purpose: 'node', prefix: '10.1.0.0/24' },
      { clusterId: id, purpose: 'service', prefix: '10.2.0.0/20' },
    ),
  ]);
const range = (n: number) => testId('allocations', n);
const codes = (plan: Plan, operations: readonly Operation[]) => {
  const tried = applyOperations(plan, operations);
  return tried.ok ? [] : tried.problems.map(({ code, field }) => `${code} ${field}`);
};
const decision = { reason: 'because', decidedOn: '2026-11-23', decidedBy: 'me' };

test.each<[string, Operation]>([
  ['podMode', setOperation('clusters', id, { podMode: 'overlay' })],
  ['family', setOperation('clusters', id, { family: 'dual' })],
  ['networkId', setOperation('clusters', id, { networkId: testId('networks', 2) })],
  ['perNodeLength', setOperation('clusters', id, { perNodeLength: 25 })],
  ['prefix', setOperation('allocations', range(1), { prefix: '10.9.0.0/16' })],
  ['prefix', { op: 'remove', kind: 'allocations', id: range(3) }],
  ['prefix', setOperation('allocations', range(2), { prefix: '10.3.0.0/24' })],
  ['prefix', setOperation('allocations', range(2), { prefix: '10.1.0.0/25' })],
])('what is locked in a built cluster changes only with a rebuild: %s', (field, operation) => {
  expect(codes(world(), [operation])).toEqual([`cluster.locked ${field}`]);
  expect(codes(world({ isBuilt: false }), [operation])).toEqual([]);
  const whole = withRebuilds(world(), [operation], decision);
  const after = applied(world(), whole);
  expect(after.rebuilds).toMatchObject([{ clusterId: id, ...decision }]);
  expect(after.rebuilds[0]?.what).toMatch(/ to /);
});

test.each<[string, Operation[]]>([
  ['a node subnet may grow in place', [setOperation('allocations', range(2), { prefix: '10.1.0.0/23' })]],
  ['a range may be pinned where it is', [setOperation('allocations', range(1), { isPinned: true })]],
  ['counts may change', [setOperation('clusters', id, { nodesHorizon: 40, services: 500 })]],
  ['the mark may be taken off with the change', [setOperation('clusters', id, { isBuilt: false, podMode: 'overlay' })]],
  ['the cluster may go', removalOf(world(), 'clusters', id)],
  ['the same value is no change', [setOperation('clusters', id, { podMode: 'native' })]],
])('what is not locked: %s', (_, operations) => {
  expect(codes(world(), operations)).toEqual([]);
  expect(withRebuilds(world(), operations, decision)).toEqual(operations);
});

test('a rebuild is taken back whole: the ledger entry with the decision', () => {
  const plan = world();
  const made = applyOperations(
    plan,
    withRebuilds(plan, [setOperation('clusters', id, { podMode: 'routed' })], decision),
  );
  if (!made.ok) throw new Error('not made');
  expect(applied(made.plan, made.inverse)).toEqual(plan);
  // The entry alone can be corrected, and without it the decision stays where it is.
  const entry = made.plan.rebuilds[0]?.id ?? '';
  expect(codes(made.plan, [setOperation('rebuilds', entry, { reason: 'better said' })])).toEqual([]);
  expect(
    codes(made.plan, [
      setOperation('rebuilds', entry, { reason: 'x' }),
      setOperation('clusters', id, { podMode: 'native' }),
    ]),
  ).toEqual(['cluster.locked podMode']);
});

test('what a rebuild would change is said in words, and a change that is wrong otherwise asks for none', () => {
  const needed = rebuildsNeeded(world(), [
    setOperation('clusters', id, { podMode: 'overlay', networkId: testId('networks', 2), perNodeLength: 25 }),
    setOperation('allocations', range(1), { prefix: '10.9.0.0/16' }),
  ]);
  expect(needed).toEqual([
    {
      clusterId: id,
      clusterName: 'c',
      changes: [
        'Network: n1 to n2',
        'Pod network: native to overlay',
        'Per-node prefix: as the pods need to /25',
        'pod range: 10.0.0.0/16 to 10.9.0.0/16',
      ],
    },
  ]);
  expect(rebuildsNeeded(world(), [setOperation('clusters', id, { podMode: 'overlay', podsPerNode: -1 })])).toEqual([]);
});
