import fc from 'fast-check';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { setOperation } from '../plan/index.js';
import type { Cluster, NodePool } from '../plan/index.js';
import {
  countsAtHorizon,
  countsInMonth,
  countsOf,
  countsRunning,
  countsToday,
  nodesAtOnce,
  nodesAtRest,
  podsOf,
  rangesNeeded,
  sizingOf,
} from './index.js';
import type { Counts } from './index.js';

const count = (max: number) => fc.integer({ min: 0, max });
const anySizing = fc
  .record({
    main: fc.record({ nodesNow: count(60), nodesHorizon: fc.integer({ min: 1, max: 200 }), surgePercent: count(100) }),
    growth: fc.constantFrom<Cluster['growth']>('linear', 'compound', 'steps'),
    controlPlane: fc.constantFrom<Cluster['controlPlane']>('hosted', 'self-run'),
    podMode: fc.constantFrom<Cluster['podMode']>('overlay', 'native'),
    pools: fc.array(
      fc.record({
        kind: fc.constantFrom<NodePool['kind']>('nodes', 'pods'),
        low: count(10),
        more: count(30),
        horizon: count(90),
        zones: fc.subarray(['a', 'b', 'c']),
      }),
      { maxLength: 3 },
    ),
  })
  .map(({ main, pools, ...fields }) => {
    const plan = applied(ground(1), [
      setOperation('profiles', testId('profiles', 1), { subnetScope: 'zone', leastSurge: 1 }),
      setOperation('sites', testId('sites', 1), { zones: ['a', 'b', 'c'] }),
      ...add('clusters', cluster('c', { ...main, ...fields, growthSteps: ['6=20', '12=40'] })),
      ...add(
        'nodePools',
        ...pools.map(({ kind, low, more, horizon, zones }, i) => ({
          clusterId: testId('clusters', 1),
          name: `p${i}`,
          kind,
          zones,
          nodesNow: low,
          nodesMax: low + more,
          nodesHorizon: horizon,
        })),
      ),
    ]);
    return sizingOf(plan, plan.clusters[0] as Cluster);
  });
const isAtLeast = (more: Counts, less: Counts) =>
  more.nodes.every((nodes, i) => nodes >= (less.nodes[i] ?? 0)) &&
  more.pods.every((pods, i) => pods >= (less.pods[i] ?? 0));

test('shares of the horizon’s total are exactly the horizon’s counts, and shares never fall as nodes are added', () => {
  fc.assert(
    fc.property(anySizing, count(300), (sizing, total) => {
      const { growth, groups } = sizing;
      expect(groups.reduce((sum, { horizon }) => sum + horizon, 0)).toBe(growth.nodesHorizon);
      expect(countsOf(sizing, growth.nodesHorizon)).toEqual(countsAtHorizon(sizing));
      const [some, more] = [countsOf(sizing, total), countsOf(sizing, total + 1)];
      expect(isAtLeast(more, some)).toBe(true);
      expect(some.nodes.reduce((sum, nodes) => sum + nodes, 0)).toBeGreaterThanOrEqual(total);
      expect(nodesAtOnce(sizing, more)).toBeGreaterThanOrEqual(nodesAtOnce(sizing, some));
      expect(nodesAtRest(sizing, some)).toBeLessThanOrEqual(nodesAtOnce(sizing, some));
      expect(podsOf(sizing, more)).toBeGreaterThanOrEqual(podsOf(sizing, some));
    }),
  );
});

test('what runs now fits in today’s ranges, today’s needs in those of any month, and a growing cluster ends at its horizon', () => {
  fc.assert(
    fc.property(anySizing, count(36), (sizing, month) => {
      expect(isAtLeast(countsToday(sizing), countsRunning(sizing))).toBe(true);
      expect(isAtLeast(countsInMonth(sizing, month), countsToday(sizing))).toBe(true);
      const atEnd = countsInMonth(sizing, 36);
      sizing.groups.forEach(({ horizon, most }, i) =>
        expect(atEnd.nodes[i]).toBeGreaterThanOrEqual(Math.max(horizon, most)),
      );
      const lengths = (counts: Counts) => rangesNeeded(sizing, counts).map(({ length }) => length.value);
      const [now, then] = [lengths(countsToday(sizing)), lengths(atEnd)];
      // More nodes never need a smaller range.
      now.forEach((length, i) => expect(then[i]).toBeLessThanOrEqual(length));
    }),
  );
});
