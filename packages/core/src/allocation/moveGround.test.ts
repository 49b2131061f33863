import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { setOperation } from '../plan/index.js';
import type { Kind, Operation, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { moveGround } from './index.js';

const first = (kind: Kind) => testId(kind, 1);

/** A network with a block, a subnet, nodes and devices in it, and rows elsewhere that name its addresses. */
function world(...more: readonly Operation[]): Plan {
  const place = { networkId: first('networks'), siteId: testId('sites', 1) };
  return applied(ground(2), [
    ...add('pools', pool('all', '10.0.0.0/8', { purposes: ['node', 'pod', 'service', 'entry'] })),
    ...add('blocks', { networkId: first('networks'), prefix: '10.0.0.0/24' }),
    ...add('subnets', {
      ...place,
      name: 's',
      zone: '',
      purpose: 'node',
      prefix: '10.0.0.64/26',
      gateway: '10.0.0.126',
    }),
    ...add('clusters', cluster('a', { podMode: 'overlay' })),
    ...add(
      'allocations',
      { clusterId: first('clusters'), purpose: 'node', prefix: '10.0.0.64/26' },
      { clusterId: first('clusters'), purpose: 'pod', prefix: '10.64.0.0/18' },
    ),
    ...add('endpoints', { name: 'e', subnetId: first('subnets'), address: '10.0.0.100' }),
    ...add('reservations', { clusterId: first('clusters'), name: 'control', first: '10.0.0.70', count: 5 }),
    ...add('filters', { name: 'f' }),
    ...add('filterRules', {
      filterId: testId('filters', 1),
      direction: 'in',
      position: 10,
      peers: ['10.0.0.64/26', '10.0.0.0/16', '10.0.0.0/8', '10.0.1.0/24'],
      note: 'nodes of 10.0.0.64/26',
    }),
    ...add('zones', { name: 'z', apex: 'z.example' }),
    ...add('records', { zoneId: testId('zones', 1), name: 'gate', type: 'A', value: '10.0.0.100' }),
    ...more,
  ]);
}
const move = (plan: Plan, to: string, kind: 'blocks' | 'subnets' = 'blocks') => moveGround(plan, kind, first(kind), to);

test('a block moves with its subnets, ranges, devices and whoever names them, each in its place of it', () => {
  const plan = world();
  const { operations, keeps, from, to } = expectGood(move(plan, '10.7.3.0/24'));
  expect([from, to]).toEqual(['10.0.0.0/24', '10.7.3.0/24']);
  const after = applied(plan, operations);
  expect(after.blocks[0]?.prefix).toBe('10.7.3.0/24');
  expect(after.subnets[0]).toMatchObject({ prefix: '10.7.3.64/26', gateway: '10.7.3.126' });
  expect(after.allocations.map(({ prefix }) => prefix)).toEqual(['10.7.3.64/26', '10.64.0.0/18']);
  expect(after.endpoints[0]?.address).toBe('10.7.3.100');
  expect(after.reservations[0]?.first).toBe('10.7.3.70');
  expect(after.records[0]?.value).toBe('10.7.3.100');
  expect(after.filterRules[0]).toMatchObject({
    peers: ['10.7.3.64/26', '10.0.0.0/16', '10.0.0.0/8', '10.0.1.0/24'],
    note: 'nodes of 10.0.0.64/26',
  });
  // A /16 around the old addresses does not hold the new ones; the /8 holds both.
  expect(keeps).toHaveLength(1);
  expect(keeps[0]).toMatch(
    /^filter rule .* names 10\.0\.0\.0\/16, which holds the old addresses and not the new ones\.$/,
  );
});

test('whoever of another network names its addresses follows, and is told where they are used twice', () => {
  const far = {
    id: testId('clusters', 2),
    ...cluster('far', { networkId: testId('networks', 2), dnsUpstream: ['10.0.0.100'] }),
  };
  const plan = world(...add('clusters', far));
  const after = applied(plan, expectGood(move(plan, '10.7.3.0/24')).operations);
  expect(after.clusters.find(({ name }) => name === 'far')?.dnsUpstream).toEqual(['10.7.3.100']);
  const twice = world(
    ...add('clusters', far),
    ...add('blocks', {}, { networkId: testId('networks', 2), prefix: '10.0.0.0/24' }).slice(1),
  );
  const { keeps, operations } = expectGood(move(twice, '10.7.3.0/24'));
  expect(applied(twice, operations).clusters.find(({ name }) => name === 'far')?.dnsUpstream).toEqual(['10.0.0.100']);
  expect(keeps).toContain('cluster far names addresses of 10.0.0.0/24, which another network uses too.');
});

test('there and back is as it was', () => {
  const plan = world();
  const there = applied(plan, expectGood(move(plan, '10.7.3.0/24')).operations);
  const { keeps: _, operations } = expectGood(move(there, '10.0.0.0/24'));
  expect(applied(there, operations)).toEqual(plan);
});

test('a subnet moves alone, and its block stays', () => {
  const plan = world();
  const after = applied(plan, expectGood(move(plan, '10.0.0.192/26', 'subnets')).operations);
  expect(after.blocks[0]?.prefix).toBe('10.0.0.0/24');
  expect(after.subnets[0]).toMatchObject({ prefix: '10.0.0.192/26', gateway: '10.0.0.254' });
  expect(after.allocations[0]?.prefix).toBe('10.0.0.192/26');
});

test('where another network uses the same addresses, rows of nobody in particular are told and left', () => {
  const plan = world(...add('blocks', {}, { networkId: testId('networks', 2), prefix: '10.0.0.0/24' }).slice(1));
  const { operations, keeps } = expectGood(move(plan, '10.7.3.0/24'));
  const after = applied(plan, operations);
  expect(after.blocks.map(({ prefix }) => prefix)).toEqual(['10.7.3.0/24', '10.0.0.0/24']);
  expect(after.filterRules).toEqual(plan.filterRules);
  expect(after.records).toEqual(plan.records);
  expect(keeps.filter((each) => each.includes('which another network uses too'))).toHaveLength(2);
});

test.each<[string, readonly Operation[], string, string]>([
  ['a built cluster', [setOperation('clusters', first('clusters'), { isBuilt: true })], '10.7.3.0/24', 'move.built'],
  [
    'a fixed range',
    [setOperation('allocations', first('allocations'), { isPinned: true })],
    '10.7.3.0/24',
    'move.pinned',
  ],
  [
    'somebody else',
    add('inUse', { prefix: '10.0.0.0/28', owner: 'desks', networkId: first('networks') }),
    '10.7.3.0/24',
    'move.others',
  ],
  ['another size', [], '10.7.0.0/16', 'move.size'],
  ['another family', [], 'fd00::/24', 'move.size'],
  ['its own place', [], '10.0.0.0/24', 'move.same'],
  ['no prefix', [], 'anywhere', 'address.ipv4-parts'],
])('%s stands in the way, and it says so', (_, more, to, code) => {
  const answer = move(world(...more), to);
  expect(answer.ok).toBe(false);
  if (!answer.ok) expect(answer.problem.code).toBe(code);
});

test('without a target it goes where nothing is, and a conflict that it was in is over', () => {
  // Joined with a network that has the same block.
  const plan = world(
    ...add('blocks', {}, { networkId: testId('networks', 2), prefix: '10.0.0.0/24' }).slice(1),
    ...add('links', { name: 'l', kind: 'peering', networkIds: [first('networks'), testId('networks', 2)] }),
  );
  const conflicts = (of: Plan) =>
    evaluate(of)
      .findingsInWords()
      .filter(({ code }) => code === 'overlap.conflict').length;
  expect(conflicts(plan)).toBeGreaterThan(0);
  expect(conflicts(applied(plan, expectGood(moveGround(plan, 'blocks', first('blocks'))).operations))).toBe(0);
});

test('every block of the demo that may move goes and comes back, and no finding but of its overlaps differs on the way', () => {
  const demo = demoPlan();
  const codes = (plan: Plan) =>
    evaluate(plan)
      .findingsInWords()
      .map(({ code }) => code)
      .filter((code) => !code.startsWith('overlap.') && !code.startsWith('need.') && !code.startsWith('range.outside'))
      .sort();
  let moved = 0;
  for (const { id, prefix } of demo.blocks) {
    const there = moveGround(demo, 'blocks', id);
    if (!there.ok) continue;
    moved++;
    const after = applied(demo, there.value.operations);
    expect(after.blocks.find((block) => block.id === id)?.prefix).toBe(there.value.to);
    const back = expectGood(moveGround(after, 'blocks', id, prefix));
    expect(applied(after, back.operations).subnets).toEqual(demo.subnets);
    expect(applied(after, back.operations).allocations).toEqual(demo.allocations);
    if (there.value.keeps.length === 0) expect(codes(after)).toEqual(codes(demo));
  }
  expect(moved).toBeGreaterThan(0);
});
