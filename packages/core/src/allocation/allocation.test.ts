import fc from 'fast-check';
import { add, anyWorld, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { addressValue, formatPrefix, overlaps, prefix, prefixSize, totalSize } from '../address/index.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { addOperation, rangeOf, setOperation, withFallbacks } from '../plan/index.js';
import type { Cluster, Operation, Plan } from '../plan/index.js';
import { FreeSpace, growthRooms, inTheWay, propose } from './index.js';

const withPools = (plan: Plan): Plan =>
  applied(
    plan,
    add(
      'pools',
      pool('wide', '10.0.0.0/9', { purposes: ['node', 'pod'] }),
      pool('inside', '100.64.0.0/10', { purposes: ['pod', 'service'], isShared: true }),
    ),
  );

const anyClusters = fc.array(
  fc.record({
    network: fc.integer({ min: 1, max: 5 }),
    podMode: fc.constantFrom<Cluster['podMode']>('overlay', 'routed', 'native'),
    nodesHorizon: fc.integer({ min: 1, max: 200 }),
    podsPerNode: fc.integer({ min: 1, max: 250 }),
    services: fc.integer({ min: 0, max: 2000 }),
  }),
  { minLength: 1, maxLength: 8 },
);

/** A random world whose clusters still lack ranges, with pools to take them from. */
const anyTask = fc.tuple(anyWorld, anyClusters).map(([world, wanted]) => {
  const start = world.clusters.length;
  const operations = add(
    'clusters',
    ...wanted.map(({ network, ...fields }, i) =>
      cluster(`new${i}`, { networkId: testId('networks', network), ...fields }),
    ),
  );
  const shifted = operations.map((operation, i) =>
    operation.op === 'add' && operation.kind === 'clusters'
      ? { ...operation, entity: { ...operation.entity, id: testId('clusters', start + 50 + i) } }
      : operation,
  );
  return withPools(applied(world, shifted));
});

const spots = (plan: Plan) => new Map(plan.allocations.map((a) => [a.id, a.prefix]));

test('a proposal meets every need, breaks nothing that was whole and moves nothing', () => {
  let proposed = 0;
  fc.assert(
    fc.property(anyTask, (plan) => {
      const before = evaluate(plan).verdicts().length;
      const { operations, ranges, refusals } = propose(plan);
      const after = applied(plan, operations);
      // Only a network's own small blocks can be full; the pools are wide.
      expect(refusals.filter(({ reason }) => !reason.includes(' block '))).toEqual([]);
      const refused = new Set(refusals.map(({ clusterName, purpose }) => `${clusterName} ${purpose}`));
      expect(evaluate(after).verdicts().length).toBe(before);
      const now = spots(after);
      for (const [id, text] of spots(plan)) expect(now.get(id)).toBe(text);
      for (const { cluster: each, figures } of evaluate(after).clusters) {
        if (!each.name.startsWith('new')) continue;
        const met = figures.needs.filter(({ need }) => !refused.has(`${each.name} ${need.purpose}`));
        expect(met.every(({ ranges: own, isLargeEnough }) => own.length > 0 && isLargeEnough)).toBe(true);
      }
      proposed += ranges.length;
    }),
    { numRuns: 120 },
  );
  expect(proposed).toBeGreaterThan(100);
});

test('pools that overlap see what another gave, and shared ranges keep clear of every destination', () => {
  const overlapping = (plan: Plan): Plan =>
    applied(
      plan,
      add(
        'pools',
        pool('all', '10.0.0.0/12', { purposes: ['node', 'pod'] }),
        pool('low', '10.0.0.0/13', { purposes: ['node'] }),
        pool('repeat', '10.0.0.0/12', { purposes: ['pod', 'service'], isShared: true }),
      ),
    );
  fc.assert(
    fc.property(anyTask, (task) => {
      const plan = overlapping({ ...task, pools: [] });
      const { operations } = propose(plan);
      const before = new Set(
        evaluate(plan)
          .verdicts()
          .map(({ a, b }) => `${a.id} ${b.id}`),
      );
      const gained = evaluate(applied(plan, operations))
        .verdicts()
        .filter(({ a, b }) => !before.has(`${a.id} ${b.id}`));
      expect(gained).toEqual([]);
    }),
    { numRuns: 120 },
  );
});

test('two pools over the same space give ranges that lie apart, whichever pool was asked first', () => {
  const profileId = testId('profiles', 1);
  const there = addOperation(
    'sites',
    withFallbacks('sites', { id: testId('sites', 2), name: 'there', kind: 'edge', profileId, zones: ['a'] }),
  );
  const native = { podMode: 'native', nodesHorizon: 8, podsPerNode: 100, entryAddresses: 300 } as const;
  const plan = applied(ground(1), [
    there,
    ...add(
      'pools',
      pool('nodes', '10.0.0.0/20', { purposes: ['node'] }),
      pool('pods', '10.0.0.0/20', { purposes: ['pod'] }),
    ),
    // By size: pods here, nodes here, pods there; so the pool for pods is asked, then the other, then it again.
    ...add(
      'clusters',
      cluster('here', native),
      cluster('there', { ...native, siteId: testId('sites', 2), nodesHorizon: 1, podsPerNode: 30, entryAddresses: 0 }),
    ),
  ]);
  const ranges = propose(plan).ranges.map(({ after }) => prefix(after));
  expect(ranges).toHaveLength(4);
  ranges.forEach((one, i) => expect(ranges.slice(i + 1).some((other) => overlaps(one, other))).toBe(false));
});

test('the same plan gets the same answer', () => {
  const plan = demoPlan();
  const show = () =>
    propose(plan).ranges.map(
      ({ clusterName, purpose, zone, family, after }) => `${clusterName} ${purpose} ${zone} ${family} ${after}`,
    );
  expect(show()).toEqual(show());
  expect(show().length).toBeGreaterThan(10);
});

test('adding a cluster moves none of the others', () => {
  const plan = demoPlan();
  const site = plan.sites[0];
  const more = applied(plan, [
    ...add(
      'clusters',
      cluster('late', { siteId: site?.id ?? '', networkId: plan.networks[0]?.id ?? '', nodesHorizon: 400 }),
    ),
  ]);
  const after = applied(more, propose(more).operations);
  for (const [id, text] of spots(plan)) expect(spots(after).get(id)).toBe(text);
});

test('the distinct ranges of one site and purpose lie in one summary prefix', () => {
  const plan = withPools(
    applied(
      ground(1),
      add(
        'clusters',
        ...Array.from({ length: 12 }, (_, i) => cluster(`c${i}`, { podMode: 'routed', nodesHorizon: 20 + i })),
      ),
    ),
  );
  const { ranges } = propose(plan);
  const sum = (purpose: string) => ranges.filter((each) => each.purpose === purpose).map((each) => prefix(each.after));
  for (const purpose of ['node', 'pod']) {
    const blocks = sum(purpose);
    const total = totalSize(blocks);
    const [low] = blocks.map(addressValue).sort((a, b) => (a < b ? -1 : 1));
    const [high] = blocks.map((b) => addressValue(b) + prefixSize(b)).sort((a, b) => (a > b ? -1 : 1));
    expect((high ?? 0n) - (low ?? 0n)).toBeLessThan(2n * total);
  }
});

test('dual stack, zonal subnets: each zone and family gets its own', () => {
  const zonal = applied(ground(1), [
    setOperation('profiles', testId('profiles', 1), { subnetScope: 'zone' }),
    setOperation('sites', testId('sites', 1), { zones: ['a', 'b', 'c'] }),
  ]);
  const plan = applied(zonal, [
    ...add(
      'pools',
      pool('four', '10.0.0.0/8'),
      pool('six', 'fd00:1::/40', { purposes: ['node', 'pod'] }),
      pool('six services', 'fd00:2::/96', { purposes: ['service'] }),
    ),
    ...add('clusters', cluster('both', { family: 'dual', podMode: 'native' })),
  ]);
  const { ranges, refusals } = propose(plan);
  expect(refusals).toEqual([]);
  expect(ranges.map(({ purpose, zone, family }) => `${purpose}${zone}${family}`).sort()).toEqual([
    'nodea4',
    'nodea6',
    'nodeb4',
    'nodeb6',
    'nodec4',
    'nodec6',
    'poda4',
    'poda6',
    'podb4',
    'podb6',
    'podc4',
    'podc6',
    'service4',
    'service6',
  ]);
  expect(ranges.find(({ purpose, family }) => purpose === 'node' && family === 6)?.after).toMatch(/\/64$/);
});

describe('refusals say why and the way out', () => {
  const need = (pools: Parameters<typeof applied>[1]) =>
    propose(applied(ground(1), [...add('clusters', cluster('big', { nodesHorizon: 100, podsPerNode: 110 })), ...pools]))
      .refusals;

  test('no pool', () => expect(need([])[0]?.reason).toContain('no pool gives'));

  test('too little room: the largest free block is named', () => {
    const refusal = need(add('pools', pool('small', '10.0.0.0/20'))).find(({ purpose }) => purpose === 'pod');
    expect(refusal?.reason).toMatch(/needs a \/17 pod range.*the largest free block is 10\.0\.\d+\.0\/\d+ in small/);
    expect(refusal?.fix).toMatch(/nodes instead of 100, or \d+ pods per node instead of 110/);
  });

  test('a pinned range and a built cluster are not moved', () => {
    const plan = demoPlan();
    const pinned = plan.allocations.find(({ isPinned }) => isPinned);
    expect(propose(plan, { move: [pinned?.id ?? ''] })).toMatchObject({
      operations: [],
      refusals: [{ reason: '10.23.96.0/25 is pinned.' }],
    });
    const built = plan.clusters.find(({ isBuilt }) => isBuilt);
    const own = plan.allocations.find(({ clusterId, isPinned }) => clusterId === built?.id && !isPinned);
    expect(propose(plan, { move: [own?.id ?? ''] }).refusals[0]?.reason).toContain('is built');
  });
});

test('moving a range ends its conflict', () => {
  const plan = demoPlan();
  const shadowing = evaluate(plan)
    .verdicts()
    .find(({ kind }) => kind === 'shadowed');
  const after = applied(plan, propose(plan, { move: [shadowing?.a.id ?? ''] }).operations);
  expect(
    evaluate(after)
      .verdicts()
      .filter(({ kind }) => kind === 'shadowed'),
  ).toEqual([]);
  expect(after.allocations.length).toBe(plan.allocations.length);
});

test('free space: what is taken and what is left add up, and never overlap', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 24, max: 30 }), { maxLength: 20 }), (lengths) => {
      const whole = prefix('10.0.0.0/22');
      const space = FreeSpace.within(whole);
      const taken = lengths.flatMap((length) => space.take(length) ?? []);
      expect(totalSize(taken) + totalSize(space.free)).toBe(prefixSize(whole));
      const all = [...taken, ...space.free];
      all.forEach((a, i) => expect(all.slice(i + 1).some((b) => overlaps(a, b))).toBe(false));
    }),
  );
});

test('best fit keeps the large blocks whole', () => {
  const space = FreeSpace.within(prefix('10.0.0.0/24'), [prefix('10.0.0.0/28')]);
  expect(formatPrefix(space.take(28) ?? prefix('::/0'))).toBe('10.0.0.16/28');
  expect(formatPrefix(space.largest() ?? prefix('::/0'))).toBe('10.0.0.128/25');
  expect(rangeOf({ prefix: '10.0.0.0/24' }).length).toBe(24);
});

const inner = pool('i', '100.64.0.0/10', { purposes: ['pod', 'service'], isShared: true });

describe('networks with address blocks', () => {
  const plan = applied(ground(2), [
    ...add('pools', pool('wide', '10.0.0.0/8'), inner),
    ...add('blocks', { networkId: testId('networks', 1), prefix: '10.7.0.0/24' }),
    ...add('subnets', {
      name: 'endpoints',
      networkId: testId('networks', 1),
      siteId: testId('sites', 1),
      purpose: 'endpoint',
      prefix: '10.7.0.0/26',
    }),
    ...add(
      'clusters',
      cluster('in', { nodesHorizon: 50, podMode: 'routed', podsPerNode: 8 }),
      cluster('out', { nodesHorizon: 50, networkId: testId('networks', 2) }),
    ),
  ]);
  const placedAt = (name: string, purpose: string) =>
    propose(plan).ranges.find((range) => range.clusterName === name && range.purpose === purpose)?.after;

  test('subnets come from the block, past what stands in it; routed pods and other networks keep out of it', () => {
    expect(placedAt('in', 'node')).toBe('10.7.0.64/26');
    for (const range of propose(plan).ranges) {
      if (range.clusterName === 'in' && range.purpose === 'node') continue;
      expect(overlaps(prefix(range.after), prefix('10.7.0.0/24'))).toBe(false);
    }
  });

  test('a block that is full is named, and so is the mend', () => {
    const crowded = applied(plan, [setOperation('clusters', testId('clusters', 1), { nodesHorizon: 200 })]);
    const { refusals, operations, ranges } = propose(crowded);
    const [refusal] = refusals;
    expect(refusal).toMatchObject({ purpose: 'node', length: 24 });
    expect(refusal?.reason).toContain('the largest free block is 10.7.0.128/25 in n1 block 10.7.0.0/24');
    const offered =
      /^Add the address block (10\.7\.\d+\.0\/24) in wide, which is free, to n1/.exec(refusal?.fix ?? '')?.[1] ?? '';
    // It is free beside what the same proposal gives, and with it the refusal is gone.
    for (const { after } of ranges)
      expect([after, overlaps(rangeOf({ prefix: after }), rangeOf({ prefix: offered }))]).toEqual([after, false]);
    const block = { id: testId('blocks', 9), networkId: testId('networks', 1), prefix: offered };
    expect(propose(applied(crowded, [...operations, ...add('blocks', block)])).refusals).toEqual([]);
  });
});

describe('room to grow', () => {
  const grower = { nodesNow: 10, nodesHorizon: 200 };
  const empty = applied(ground(1), [
    ...add('pools', pool('p', '10.0.0.0/22', { purposes: ['node'] }), inner),
    ...add('clusters', cluster('a', grower), cluster('b', grower)),
  ]);
  const nodeRanges = (plan: Plan) =>
    plan.allocations.filter(({ purpose }) => purpose === 'node').map((allocation) => allocation.prefix);

  test('sized for now, subnets start at the block they need at the horizon, and the rest is left free', () => {
    const plan = applied(empty, propose(empty, { sizeFor: 'now' }).operations);
    expect(nodeRanges(plan).sort()).toEqual(['10.0.0.0/28', '10.0.1.0/28']);
    expect(
      growthRooms(plan)
        .map(({ grown }) => formatPrefix(grown))
        .sort(),
    ).toEqual(['10.0.0.0/24', '10.0.1.0/24']);
    // A third cluster of the same size keeps out of the room; only a fourth and fifth have to use it.
    const more = [0, 1, 2].map((i) =>
      addOperation('clusters', { id: testId('clusters', 10 + i), ...cluster(`m${i}`, { nodesHorizon: 200 }) }),
    );
    const [third, fourth, fifth] = more as [Operation, Operation, Operation];
    const two = applied(plan, propose(applied(plan, [third, fourth]), {}).operations.length > 0 ? [third, fourth] : []);
    const placed = applied(two, propose(two).operations);
    expect(
      nodeRanges(placed)
        .filter((text) => text.endsWith('/24'))
        .sort(),
    ).toEqual(['10.0.2.0/24', '10.0.3.0/24']);
    const crowded = applied(placed, [fifth, setOperation('clusters', testId('clusters', 12), { nodesHorizon: 60 })]);
    expect(propose(crowded).refusals).toEqual([]);
    expect(propose(crowded).ranges.find(({ purpose }) => purpose === 'node')?.after).toMatch(/^10\.0\.[01]\./);
  });

  test('a range grows in place where nothing is in the way, and says what is otherwise', () => {
    const plan = applied(empty, propose(empty, { sizeFor: 'now' }).operations);
    const [first] = growthRooms(plan);
    if (first === undefined) throw new Error('no room');
    expect(inTheWay(plan, first)).toEqual([]);
    const grown = propose(plan, { grow: [first.allocation.id] });
    expect(grown.ranges).toMatchObject([{ before: first.allocation.prefix, after: formatPrefix(first.grown) }]);
    expect(evaluate(applied(plan, grown.operations)).verdicts()).toEqual([]);
    const other = formatPrefix(first.room[0] ?? prefix('::/0'));
    const blocked = applied(plan, add('inUse', { prefix: other, owner: 'printers' }));
    expect(propose(blocked, { grow: [first.allocation.id] })).toMatchObject({
      ranges: [],
      refusals: [{ reason: expect.stringContaining(`${other} of printers`) as string }],
    });
    const large = plan.allocations.find(({ purpose }) => purpose === 'service');
    expect(propose(plan, { grow: [large?.id ?? ''] }).refusals[0]?.reason).toContain('as large as');
  });
});

test('a proposal counts the prefixes each site advertises, before and after', () => {
  const plan = applied(ground(1), [
    ...add('pools', pool('p', '10.0.0.0/16', { purposes: ['node'] }), inner),
    ...add('clusters', ...Array.from({ length: 4 }, (_, i) => cluster(`c${i}`))),
    ...add(
      'allocations',
      { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.0.0.0/28' },
      { clusterId: testId('clusters', 2), purpose: 'node', prefix: '10.0.0.32/28' },
    ),
  ]);
  // Two apart; with the gap and the next one filled, all four are one /26.
  expect(propose(plan).routes).toEqual([{ siteName: 'here', purpose: 'node', before: 2, after: 1 }]);
});

test('free space: fit avoids what it must and takes nothing; giving back joins halves again', () => {
  const space = FreeSpace.within(prefix('10.0.0.0/24'));
  expect(formatPrefix(space.fit(26, [prefix('10.0.0.0/26')]) ?? prefix('::/0'))).toBe('10.0.0.64/26');
  expect(space.fit(24, [prefix('10.0.0.9/32')])).toBeUndefined();
  const taken = [26, 26, 25].flatMap((length) => space.take(length) ?? []);
  expect(space.free).toEqual([]);
  space.giveBack(taken);
  expect(space.free.map(formatPrefix)).toEqual(['10.0.0.0/24']);
  expect(space.exclude(prefix('10.0.0.0/25')).map(formatPrefix)).toEqual(['10.0.0.0/25']);
  expect(space.exclude(prefix('10.0.0.0/16')).map(formatPrefix)).toEqual(['10.0.0.128/25']);
});
