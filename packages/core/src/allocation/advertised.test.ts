import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import { contains, overlaps, prefix } from '../address/index.js';
import { evaluate } from '../evaluation/index.js';
import type { Plan, Pool } from '../plan/index.js';
import { growthRooms, inTheWay } from './growthRoom.js';
import { propose } from './index.js';

const [cloud, premises] = [testId('networks', 1), testId('networks', 2)];

/** A cloud's network and one on-premises, joined by a circuit; on-premises advertises what is given. */
function world(advertises: string[], pools: Omit<Pool, 'id'>[], networkId = cloud): Plan {
  return applied(ground(2), [
    ...add('links', { name: 'circuit', kind: 'circuit', networkIds: [cloud, premises] }),
    ...add('attachments', { linkId: testId('links', 1), networkId: premises, advertises }),
    ...add('clusters', cluster('one', { networkId, podMode: 'routed' })),
    ...add('pools', ...pools),
  ]);
}

const placed = (plan: Plan) =>
  propose(plan).ranges.map(({ purpose, after, poolName }) => ({ purpose, after, poolName }));

test('nothing is placed in what a link brings, while the rest of the pool is free', () => {
  const ranges = placed(world(['10.150.0.0/16'], [pool('wide', '10.144.0.0/12')]));
  expect(ranges.map(({ purpose }) => purpose).sort()).toEqual(['node', 'pod', 'service']);
  for (const { after } of ranges) expect(overlaps(prefix(after), prefix('10.150.0.0/16'))).toBe(false);
});

test('the same plan without that circuit may use all of the pool', () => {
  // The only free half of the pool is the advertised one, so that it shows.
  const taken = add('inUse', { prefix: '10.151.0.0/16', owner: 'others', networkId: null });
  const narrow = [pool('narrow', '10.150.0.0/15')];
  expect(placed(applied(world([], narrow), taken))).toHaveLength(3);
  expect(placed(applied(world(['10.150.0.0/16'], narrow), taken))).toHaveLength(0);
});

test('another pool is taken, and when there is none the refusal says what is kept free and why', () => {
  const same = pool('a same', '10.150.0.0/16');
  const other = placed(world(['10.150.0.0/16'], [same, pool('z other', '10.200.0.0/16')]));
  expect(new Set(other.map(({ poolName }) => poolName))).toEqual(new Set(['z other']));
  const [refusal] = propose(world(['10.150.0.0/16'], [same])).refusals;
  expect(refusal?.reason).toContain('nothing is free in a same');
  expect(refusal?.reason).toContain('10.150.0.0/16 (prefix advertised by n2)');
});

test('clusters of the network that advertises it stand in it, but their services do not', () => {
  const ranges = placed(
    world(
      ['10.150.0.0/16'],
      [pool('home', '10.150.0.0/16'), pool('services', '100.96.0.0/16', { isShared: true, purposes: ['service'] })],
      premises,
    ),
  );
  expect(ranges.map(({ purpose, poolName }) => [purpose, poolName])).toEqual([
    ['node', 'home'],
    ['pod', 'home'],
    ['service', 'services'],
  ]);
});

describe('a summary around the pools', () => {
  const wide = ['10.0.0.0/8'];

  test('leaves destinations in them, which win by their longer prefix', () => {
    const ranges = placed(
      world(wide, [
        pool('inner', '10.64.0.0/16'),
        pool('services', '100.96.0.0/16', { purposes: ['service'], isShared: true }),
      ]),
    );
    expect(ranges.filter(({ poolName }) => poolName === 'inner').map(({ purpose }) => purpose)).toEqual([
      'node',
      'pod',
    ]);
  });

  test('is avoided by them where a pool outside it has room', () => {
    const ranges = placed(world(wide, [pool('a inner', '10.64.0.0/16'), pool('z outside', '172.16.0.0/14')]));
    expect(new Set(ranges.map(({ poolName }) => poolName))).toEqual(new Set(['z outside']));
  });

  test('is never a place for services, which would hide it', () => {
    const { refusals } = propose(world(wide, [pool('inner', '10.64.0.0/16')]));
    expect(refusals.map(({ purpose }) => purpose)).toEqual(['service']);
    expect(refusals[0]?.reason).toContain('10.0.0.0/8 (prefix advertised by n2)');
  });
});

test('after a proposal nothing is shadowed and nothing conflicts', () => {
  const plan = world(
    ['10.150.0.0/16', '100.100.0.0/16'],
    [pool('wide', '10.144.0.0/12'), pool('services', '100.96.0.0/12', { isShared: true, purposes: ['service'] })],
  );
  const evaluation = evaluate(applied(plan, propose(plan).operations));
  expect(evaluation.verdicts()).toEqual([]);
  expect(evaluation.findingsInWords().filter(({ code }) => code === 'overlap.hidden')).toEqual([]);
});

test('a range does not grow into what another network advertises', () => {
  const plan = applied(
    world(['10.150.1.0/24'], [pool('wide', '10.144.0.0/12')]),
    add('allocations', { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.150.0.0/30' }),
  );
  const [room] = growthRooms(plan);
  if (room === undefined) throw new Error('the range is smaller than its need');
  const larger = { ...room, grown: prefix('10.150.0.0/23') };
  expect(contains(larger.grown, prefix('10.150.1.0/24'))).toBe(true);
  expect(inTheWay(plan, larger)).toEqual(['10.150.1.0/24 (prefix advertised by n2)']);
});
