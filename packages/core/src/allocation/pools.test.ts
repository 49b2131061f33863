import { finished } from '../working/index.js';
import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { formatPrefix, prefixSize } from '../address/index.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { rangeOf, setOperation } from '../plan/index.js';
import type { Plan, Profile } from '../plan/index.js';
import {
  controlPlaneReservation,
  howManyMore,
  MAX_COPIES,
  placeReservation,
  poolFigures,
  poolGrowth,
  propose,
} from './index.js';

const routed = (count: number, prefix: string) =>
  applied(ground(1), [
    ...add('pools', pool('p', prefix)),
    ...add(
      'clusters',
      ...Array.from({ length: count }, (_, i) =>
        cluster(`c${i}`, { podMode: 'routed', nodesNow: 4, nodesHorizon: 16, podsPerNode: 110, services: 30 }),
      ),
    ),
  ]);
const filled = (count: number, prefix: string) => {
  const plan = routed(count, prefix);
  return applied(plan, propose(plan).operations);
};

test('pools: size, free and taken add up on the demo; fragmentation and routes explain themselves', () => {
  for (const row of poolFigures(demoPlan())) {
    const size = prefixSize(rangeOf(row.pool));
    expect(row.taken).toBeCloseTo(1 - Number((row.free * 10_000n) / size) / 10_000, 6);
    expect(row.fragmentation.value).toBeGreaterThanOrEqual(0);
    expect(row.fragmentation.value).toBeLessThan(100);
    expect(row.routes.explain().steps.length).toBeGreaterThanOrEqual(row.routes.value > 0 ? 1 : 0);
  }
});

test('ranges of one site lie side by side, so few routes are advertised', () => {
  const plan = filled(8, '10.0.0.0/8');
  const [row] = poolFigures(plan);
  // Eight equal node ranges and eight equal pod ranges merge to one prefix each; services are advertised nowhere.
  expect(row?.routes.value).toBe(2);
  expect(row?.ranges).toBe(24);
});

test('an untouched pool is one free block; a full one has none', () => {
  const [empty] = poolFigures(applied(ground(1), add('pools', pool('p', '10.0.0.0/24'))));
  expect(empty).toMatchObject({ taken: 0, fragmentation: { value: 0 }, routes: { value: 0 } });
  expect(empty?.largestFree && formatPrefix(empty.largestFree)).toBe('10.0.0.0/24');
  const [full] = poolFigures(
    applied(ground(1), [
      ...add('pools', pool('p', '10.0.0.0/24')),
      ...add('inUse', { prefix: '10.0.0.0/16', owner: 'x', networkId: null, note: '' }),
    ]),
  );
  expect(full).toMatchObject({ taken: 1, free: 0n, largestFree: undefined, fragmentation: { value: 0 } });
});

test('how many more: exactly as many copies as then find a place', () => {
  for (const prefix of ['10.0.0.0/16', '10.0.0.0/17', '10.0.0.0/19']) {
    const plan = filled(1, prefix);
    const more = howManyMore(plan, testId('clusters', 1));
    const count = more?.count ?? -1;
    const fits = (copies: number) => {
      const grown = routed(1 + copies, prefix);
      const kept = applied(
        grown,
        plan.allocations.map((entity) => ({ op: 'add', kind: 'allocations', entity })),
      );
      return propose(kept).refusals.length === 0;
    };
    expect(fits(count)).toBe(true);
    expect(fits(count + 1)).toBe(false);
    expect(more?.stoppedBy).toMatch(/a \/\d+ (node|pod|service) range/);
  }
});

test('how many more: what shared pools give out again sets no limit, and counting stops', () => {
  const plan = applied(ground(1), [
    ...add('pools', pool('wide', 'fd00::/8', { isShared: true })),
    ...add('clusters', cluster('c', { family: 'ipv6' })),
    setOperation('profiles', testId('profiles', 1), { clustersPerSite: 5000 }),
  ]);
  expect(howManyMore(plan, testId('clusters', 1))).toEqual({ count: MAX_COPIES, stoppedBy: undefined });
  expect(howManyMore(plan, 'none')).toBeUndefined();
});

test('how many more: the quotas of the site count as the pools do', () => {
  const plan = (fields: Partial<Profile>) =>
    applied(filled(2, '10.0.0.0/8'), [setOperation('profiles', testId('profiles', 1), fields)]);
  // Two clusters are there.
  expect(howManyMore(plan({ clustersPerSite: 7 }), testId('clusters', 1))).toEqual({
    count: 5,
    stoppedBy: 'a place at here, where plain allows 7 clusters',
  });
  expect(howManyMore(plan({ clustersPerSite: 1 }), testId('clusters', 1))?.count).toBe(0);
  // Each takes 3 NAT addresses: 20 − 2 × 3 = 14, four times 3 and 2 left.
  const natted = applied(plan({ publicAddresses: 20 }), [
    setOperation('clusters', testId('clusters', 1), { natAddresses: 3 }),
    setOperation('clusters', testId('clusters', 2), { natAddresses: 3 }),
  ]);
  expect(howManyMore(natted, testId('clusters', 1))).toEqual({
    count: 4,
    stoppedBy: 'public addresses: it takes 3, and 2 of the 20 at here would be left',
  });
});

describe('the provider’s smallest and largest subnet', () => {
  const world = (fields: Partial<Profile>, nodes: number) =>
    applied(ground(1), [
      setOperation('profiles', testId('profiles', 1), fields),
      ...add('clusters', cluster('c', { nodesNow: nodes, nodesHorizon: nodes })),
      ...add('pools', pool('p', '10.0.0.0/8')),
    ]);
  const codes = (plan: Plan) =>
    evaluate(plan)
      .findingsInWords()
      .map(({ code }) => code);

  test('two nodes under a smallest /28 get a /28, and no error follows', () => {
    const plan = world({ smallestSubnet: 28, largestSubnet: 16 }, 2);
    const { ranges, operations } = propose(plan);
    expect(ranges.find(({ purpose }) => purpose === 'node')?.after).toMatch(/\/28$/);
    const after = codes(applied(plan, operations));
    expect(after).not.toContain('subnet.size');
    expect(after).not.toContain('range.too-small');
  });

  test('what needs more than the largest is refused with what fits, not placed', () => {
    // 300 nodes and two reserved addresses need a /23; a /24 holds about half of them.
    const plan = world({ smallestSubnet: 28, largestSubnet: 24 }, 300);
    const { ranges, refusals } = propose(plan);
    expect(ranges.map(({ purpose }) => purpose).sort()).toEqual(['pod', 'service']);
    expect(refusals).toMatchObject([{ purpose: 'node', length: 23 }]);
    expect(refusals[0]?.reason).toBe(
      'c needs a /23 node range (IPv4), and the largest subnet its provider makes is a /24.',
    );
    expect(refusals[0]?.fix).toContain('about 150 nodes instead of 300');
    expect(howManyMore(plan, testId('clusters', 1))).toMatchObject({ count: 0 });
  });
});

test('growth: the month of exhaustion is the first in which the sizes of that month do not fit, counted one by one', () => {
  const plan = filled(4, '10.0.0.0/16');
  const [only] = plan.pools;
  if (only === undefined) throw new Error('no pool');
  const growth = finished(poolGrowth(plan, only));
  const needAt = (month: number) => {
    const nodes = Math.max(4, Math.ceil(4 + (12 * month) / 36));
    const pow = (count: number) => 2 ** Math.ceil(Math.log2(count));
    // A /24 a node, node subnets with 2 reserved and their gateway, services doubled with their 2 and 2 more.
    return 4 * (256 * pow(nodes) + pow(nodes + 3) + pow(2 * 30 + 2 + 2));
  };
  for (const { month, required } of growth.points) expect(required).toBe(needAt(month));
  let first: number | undefined;
  for (let month = 0; month <= 108 && first === undefined; month++) if (needAt(month) > 65_536) first = month;
  expect(growth.exhausted).toBe(first);
  expect(growth.allocated).toBe(needAt(36));
});

describe('addresses in a row', () => {
  const plan = applied(ground(1), [
    ...add('clusters', cluster('c')),
    ...add('allocations', { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.0.0.0/28' }),
    ...add('inUse', { prefix: '10.0.0.4/32', owner: 'printer' }),
    ...add('reservations', { name: 'ingress', clusterId: testId('clusters', 1), first: '10.0.0.6', count: 1 }),
  ]);

  test('three control nodes need five: their own, the virtual one and the upgrade’s (common practice)', () => {
    expect(controlPlaneReservation(3).value).toBe(5);
    expect(controlPlaneReservation(3).explain().result).toBe('5 addresses');
  });

  test('the place is the lowest that is free, counted address by address', () => {
    // The gateway has 10.0.0.1, as no subnet says otherwise.
    const taken = new Set([0, 1, 4, 6, 15]);
    for (let count = 1; count <= 12; count++) {
      let first = 0;
      while (first + count <= 16 && Array.from({ length: count }, (_, i) => first + i).some((at) => taken.has(at)))
        first++;
      const place = placeReservation(plan, testId('clusters', 1), count);
      if (first + count > 16)
        expect(place).toMatchObject({ ok: false, reason: expect.stringContaining('has 8') as string });
      else expect(place).toEqual({ ok: true, first: `10.0.0.${first}`, subnet: '10.0.0.0/28' });
    }
  });

  test('a cluster without ranges has no place', () => {
    const bare = applied(ground(1), add('clusters', cluster('c')));
    expect(placeReservation(bare, testId('clusters', 1), 1)).toMatchObject({
      ok: false,
      fix: 'Allocate its ranges first.',
    });
  });
});
