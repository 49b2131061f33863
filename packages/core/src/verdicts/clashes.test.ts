import fc from 'fast-check';
import { joined } from '../../test/connections.js';
import { overlaps, parsePrefix } from '../address/index.js';
import { expectGood } from '../result.js';
import type { ConnectionMethod, Plan } from '../plan/index.js';
import { byRange, clashesOfMembers, formatClash, toMove } from './index.js';

const range = (text: string) => expectGood(parsePrefix(text));
const namesOf = (plan: Plan, way: ConnectionMethod) =>
  clashesOfMembers(plan, way, plan.members)
    .map((clash) => [clash.one.allocation.prefix, clash.other.allocation.prefix].sort().join(' '))
    .sort();

/** Ranges in a crowded space, so that they cover, equal and miss one another. */
const crowded = fc
  .tuple(fc.constantFrom(14, 15, 16, 17), fc.nat({ max: 15 }))
  .map(([length, at]) => `10.${96 + at - (at % 2 ** Math.max(0, 16 - length))}.0.0/${length}`);

test('ranges clash as every two of them compared by the definition do', () => {
  let met = 0;
  fc.assert(
    fc.property(
      fc.array(crowded, { minLength: 2, maxLength: 6 }),
      fc.array(crowded, { minLength: 6, maxLength: 6 }),
      fc.constantFrom<ConnectionMethod>('tunnels', 'flat', 'relays'),
      (pods, services, method) => {
        const plan = joined({ count: pods.length, pods, services, connection: { method } });
        // What one cluster shows must not overlap what another one has: pods and services by tunnels; nodes and pods flat, against all; nothing by relays.
        const shows = (purpose: string) =>
          method === 'tunnels' ? purpose !== 'node' : method === 'flat' ? purpose !== 'service' : false;
        const slowly = plan.allocations.flatMap((one, at) =>
          plan.allocations.slice(at + 1).flatMap((other) => {
            if (one.clusterId === other.clusterId || !overlaps(range(one.prefix), range(other.prefix))) return [];
            return shows(one.purpose) || shows(other.purpose) ? [[one.prefix, other.prefix].sort().join(' ')] : [];
          }),
        );
        expect(namesOf(plan, method)).toEqual(slowly.sort());
        met += slowly.length;
      },
    ),
    { numRuns: 300, seed: 14 },
  );
  expect(met).toBeGreaterThan(300);
});

test('once those that are named have moved nothing clashes, and what is built or pinned moves only for its like', () => {
  fc.assert(
    fc.property(
      fc.array(crowded, { minLength: 3, maxLength: 6 }),
      fc.array(fc.boolean(), { minLength: 6, maxLength: 6 }),
      (pods, built) => {
        const plan = joined({ count: pods.length, pods, clusters: built.map((isBuilt) => ({ isBuilt })) });
        const clashes = clashesOfMembers(plan, 'tunnels', plan.members);
        const moved = new Set(toMove(clashes).map(({ allocation }) => allocation.id));
        for (const { one, other } of clashes) {
          expect(moved.has(one.allocation.id) || moved.has(other.allocation.id)).toBe(true);
          const isLighter =
            one.cluster.isBuilt && !other.cluster.isBuilt
              ? other
              : !one.cluster.isBuilt && other.cluster.isBuilt
                ? one
                : undefined;
          if (isLighter !== undefined) expect(moved.has(isLighter.allocation.id)).toBe(true);
        }
        // None moves for nothing.
        for (const id of moved)
          expect(clashes.some(({ one, other }) => one.allocation.id === id || other.allocation.id === id)).toBe(true);
      },
    ),
    { numRuns: 300, seed: 14 },
  );
});

test('of a star the middle moves, and each range is told with those it meets', () => {
  // One /14 over three /16 of others, which miss one another: one range moves instead of three.
  const plan = joined({ count: 4, pods: ['10.100.0.0/14', '10.100.0.0/16', '10.101.0.0/16', '10.102.0.0/16'] });
  const clashes = clashesOfMembers(plan, 'tunnels', plan.members);
  expect(toMove(clashes).map(({ allocation }) => allocation.prefix)).toEqual(['10.100.0.0/14']);
  const of = new Map(
    byRange(clashes).map(({ range: { allocation }, others }) => [
      allocation.prefix,
      others.map(({ name }) => name).sort(),
    ]),
  );
  expect(of.get('10.100.0.0/14')).toEqual(['c2', 'c3', 'c4']);
  expect(of.get('10.101.0.0/16')).toEqual(['c1']);
});

test('a translated range clashes by what is shown, and says so', () => {
  const pods = ['10.100.0.0/16', '10.100.0.0/16'];
  const both = (one: string, other: string) =>
    joined({ pods, members: [{ translated: [one] }, { translated: [other] }] });
  const apart = both('10.100.0.0/16 as 172.30.0.0/16', '10.100.0.0/16 as 172.31.0.0/16');
  expect(namesOf(apart, 'tunnels')).toEqual([]);
  const same = both('10.100.0.0/16 as 172.30.0.0/16', '10.100.0.0/16 as 172.30.0.0/16');
  const [clash] = clashesOfMembers(same, 'tunnels', same.members);
  expect(clash === undefined ? '' : formatClash(clash)).toBe(
    'the pod range 10.100.0.0/16 of c1, shown as 172.30.0.0/16, and the pod range 10.100.0.0/16 of c2, shown as 172.30.0.0/16,',
  );
  // Only one of two is shown otherwise: what the other shows still lies in the first one's own range.
  expect(
    namesOf(joined({ pods, members: [{ translated: ['10.100.0.0/16 as 172.30.0.0/16'] }] }), 'tunnels'),
  ).toHaveLength(1);
});
