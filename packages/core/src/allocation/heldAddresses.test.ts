import fc from 'fast-check';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { formatAddress, parsePrefix } from '../address/index.js';
import { setOperation } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { freeAddressIn, heldAddresses, nthFreeAddress, placeReservation } from './index.js';

const here = { networkId: testId('networks', 1), siteId: testId('sites', 1) };
const subnetId = testId('subnets', 1);

/** A /28 of endpoints and a cluster whose nodes have all of it, under a profile that keeps `first` and one at the end. */
const world = (first: number, ...more: Operation[][]): Plan =>
  applied(ground(2), [
    setOperation('profiles', testId('profiles', 1), { reservedFirst: first, reservedLast: 1 }),
    ...add('subnets', { ...here, name: 'edge', purpose: 'node', prefix: '10.0.0.0/28' }),
    ...add('clusters', cluster('c'), cluster('other', { networkId: testId('networks', 2) })),
    ...add('allocations', { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.0.0.0/28' }),
    ...more.flat(),
  ]);

const place = (plan: Plan) => ({
  prefix: expectGood(parsePrefix('10.0.0.0/28')),
  networkId: here.networkId,
  profile: plan.profiles[0] as Plan['profiles'][number],
});

/** The last number of each free address, counted one by one. */
function free(plan: Plan): number[] {
  const found: number[] = [];
  for (let nth = 0; ; nth++) {
    const address = nthFreeAddress(plan, place(plan), nth);
    if (address === undefined) return found;
    found.push(Number(formatAddress(address).split('.')[3]));
  }
}

const but = (...held: number[]) => Array.from({ length: 16 }, (_, at) => at).filter((at) => !held.includes(at));

// A plain LAN: network and broadcast address, and the gateway at the first that is left (common practice).
test.each<[string, Plan, number[]]>([
  ['the gateway of a plain LAN is at its first address', world(1), but(0, 1, 15)],
  ['a provider that keeps four has its gateway among them', world(4), but(0, 1, 2, 3, 15)],
  [
    'a gateway of its own leaves the first address free',
    world(1, [setOperation('subnets', subnetId, { gateway: '10.0.0.14' })]),
    but(0, 14, 15),
  ],
  [
    'addresses kept for a cluster',
    world(1, add('reservations', { name: 'kept', clusterId: testId('clusters', 1), first: '10.0.0.4', count: 3 })),
    but(0, 1, 4, 5, 6, 15),
  ],
  [
    'addresses kept in another network are not held here',
    world(1, add('reservations', { name: 'kept', clusterId: testId('clusters', 2), first: '10.0.0.4', count: 3 })),
    but(0, 1, 15),
  ],
  [
    'a range in use of this network or of any',
    world(
      1,
      add(
        'inUse',
        { prefix: '10.0.0.8/30', owner: 'desks', networkId: here.networkId },
        { prefix: '10.0.0.2/32', owner: 'printer' },
      ),
    ),
    but(0, 1, 2, 8, 9, 10, 11, 15),
  ],
  [
    'a range in use of another network is not',
    world(1, add('inUse', { prefix: '10.0.0.8/30', owner: 'desks', networkId: testId('networks', 2) })),
    but(0, 1, 15),
  ],
  [
    'bastion, endpoint and internal load balancer',
    world(
      1,
      add('bastions', { name: 'b', subnetId, address: '10.0.0.3' }),
      add('endpoints', { name: 'e', subnetId, address: '10.0.0.5', serves: 'service' }),
      add('balancers', { name: 'l', subnetId, layer: '4', side: 'internal', address: '10.0.0.7' }),
    ),
    but(0, 1, 3, 5, 7, 15),
  ],
  [
    'a public load balancer holds an address of its provider',
    world(1, add('balancers', { name: 'l', subnetId, layer: '4', side: 'public', address: '203.0.113.7' })),
    but(0, 1, 15),
  ],
])('%s', (_, plan, expected) => {
  expect(free(plan)).toEqual(expected);
  expect(freeAddressIn(plan, subnetId)).toBe(`10.0.0.${expected[0]}`);
});

test('both addresses of a link of two are usable (RFC 3021 2.1)', () => {
  const plan = applied(world(1), [setOperation('subnets', subnetId, { prefix: '10.0.0.0/31' })]);
  expect(
    [0, 1, 2]
      .map((nth) => nthFreeAddress(plan, { ...place(plan), prefix: expectGood(parsePrefix('10.0.0.0/31')) }, nth))
      .map((each) => each && formatAddress(each)),
  ).toEqual(['10.0.0.0', '10.0.0.1', undefined]);
});

test('a link of two under a provider that keeps more has no address left, as it is sized', () => {
  const plan = applied(world(4), [setOperation('subnets', subnetId, { prefix: '10.0.0.0/31' })]);
  expect(freeAddressIn(plan, subnetId)).toBeUndefined();
});

test('a full subnet has none', () => {
  expect(
    freeAddressIn(
      world(1, add('reservations', { name: 'kept', clusterId: testId('clusters', 1), first: '10.0.0.2', count: 13 })),
      subnetId,
    ),
  ).toBeUndefined();
});

test('a row that is looked at does not stand in its own way', () => {
  const plan = world(1, add('bastions', { name: 'b', subnetId, address: '10.0.0.3' }));
  const taken = (except?: string) => heldAddresses(plan, place(plan), except).map(({ first }) => formatAddress(first));
  expect(taken()).toContain('10.0.0.3');
  expect(taken(plan.bastions[0]?.id)).not.toContain('10.0.0.3');
});

test('any runs, ranges and devices: the free ones are those that none of them names, in a row too', () => {
  const at = fc.integer({ min: 0, max: 15 });
  const rows = fc.record({
    first: fc.integer({ min: 1, max: 6 }),
    runs: fc.array(fc.record({ from: at, count: fc.integer({ min: 1, max: 4 }) }), { maxLength: 3 }),
    used: fc.array(at, { maxLength: 3 }),
    bastions: fc.array(at, { maxLength: 2 }),
    wanted: fc.integer({ min: 1, max: 8 }),
  });
  fc.assert(
    fc.property(rows, ({ first, runs, used, bastions, wanted }) => {
      const plan = world(
        first,
        add(
          'reservations',
          ...runs.map(({ from, count }, i) => ({
            name: `r${i}`,
            clusterId: testId('clusters', 1),
            first: `10.0.0.${from}`,
            count: Math.min(count, 16 - from),
          })),
        ),
        add('inUse', ...used.map((last) => ({ prefix: `10.0.0.${last}/32`, owner: 'desk' }))),
        add('bastions', ...bastions.map((last, i) => ({ name: `b${i}`, subnetId, address: `10.0.0.${last}` }))),
      );
      const kept = runs.flatMap(({ from, count }) => Array.from({ length: count }, (_, i) => from + i));
      const head = Array.from({ length: first }, (_, i) => i);
      const expected = but(...head, 1, 15, ...kept, ...used, ...bastions);
      expect(free(plan)).toEqual(expected);
      const start = expected.find((from) =>
        Array.from({ length: wanted }, (_, i) => from + i).every((each) => expected.includes(each)),
      );
      const run = placeReservation(plan, testId('clusters', 1), wanted);
      expect(run.ok ? run.first : undefined).toBe(start === undefined ? undefined : `10.0.0.${start}`);
    }),
    { numRuns: 300 },
  );
});
