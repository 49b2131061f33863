import { addressValue, formatPrefix, prefixSize } from '../address/index.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { rangeOf } from '../plan/index.js';
import { addressPlan } from './index.js';

const evaluation = evaluate(demoPlan());
const { plan } = evaluation;
const printed = addressPlan(evaluation);

test('every range, network and pool of the plan is printed once, and what is missing too', () => {
  const ranges = printed.sites.flatMap(({ clusters }) => clusters).flatMap((cluster) => cluster.ranges);
  expect(
    ranges
      .filter(({ prefix }) => prefix !== '')
      .map(({ prefix }) => prefix)
      .sort(),
  ).toEqual(plan.allocations.map(({ prefix }) => prefix).sort());
  expect(ranges.filter(({ verdict }) => verdict === 'missing')).toHaveLength(15);
  expect(printed.networks.map(({ name }) => name).sort()).toEqual(plan.networks.map(({ name }) => name).sort());
  expect(printed.networks.flatMap(({ subnets }) => subnets)).toHaveLength(plan.subnets.length);
  expect(printed.networks.flatMap(({ blocks }) => blocks)).toHaveLength(plan.blocks.length);
  expect(printed.inUse).toHaveLength(plan.inUse.length);
});

test('bars lie to scale: each part where its range is', () => {
  for (const pool of printed.pools) {
    const whole = rangeOf(plan.pools.find(({ name }) => name === pool.name) ?? { prefix: pool.prefix });
    expect(formatPrefix(whole)).toBe(pool.prefix);
    const inside = [...plan.allocations, ...plan.inUse].map(rangeOf).filter((range) => range.family === whole.family);
    for (const { start, width } of pool.bar) {
      expect(start).toBeGreaterThanOrEqual(0);
      expect(start + width).toBeLessThanOrEqual(1.0001);
      const at = addressValue(whole) + BigInt(Math.round(start * Number(prefixSize(whole))));
      const near = inside.find((range) => {
        const off = Number(addressValue(range) - at) / Number(prefixSize(whole));
        return Math.abs(off) < 1e-5;
      });
      expect(near).toBeDefined();
    }
  }
});

test('verdicts, runs, plans of links and findings are said', () => {
  const clusters = printed.sites.flatMap((site) => site.clusters);
  const verdicts = new Set(clusters.flatMap(({ ranges }) => ranges.map(({ verdict }) => verdict)));
  expect([...verdicts].sort()).toEqual(['clear', 'conflict', 'missing', 'planned conflict', 'shadowed', 'too small']);
  expect(clusters.find(({ name }) => name === 'harbour-ops')?.reservations).toMatchObject([{ count: 5 }]);
  expect(printed.networks.find(({ name }) => name === 'coaches')?.links).toEqual([
    'peering coach-join (planned): basalt-lan',
  ]);
  expect(printed.findings.every(({ severity }) => severity !== 'note')).toBe(true);
  expect(printed.summary.find(({ label }) => label === 'Errors')?.value).toBe(
    String(printed.findings.filter(({ severity }) => severity === 'error').length),
  );
});
