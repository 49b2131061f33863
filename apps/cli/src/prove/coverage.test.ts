import { BEYOND_KERNEL, Coverage, ENOUGH } from './coverage.js';
import { askedOf, SMALL } from './prove.js';
import { randomPlan } from './randomPlan.js';
import type { Failure } from '@wide-lattice/core/road';

/** Every way in which a packet may end: a new one has to be met, or it is said why it cannot be. */
const endings: Readonly<Record<Failure['code'], true>> = {
  'no-route': true,
  'no-taker': true,
  'route-drops': true,
  'hop-gone': true,
  'zone-lost': true,
  ambiguous: true,
  loop: true,
  'many-ways': true,
  nobody: true,
  'private-source': true,
  'private-destination': true,
  'not-on-internet': true,
  'service-address': true,
  elsewhere: true,
  'overlay-pod': true,
  filter: true,
  firewall: true,
  'no-state': true,
  avoided: true,
  'other-source': true,
  unsolicited: true,
  family: true,
  'no-gateway': true,
  'too-big': true,
  policy: true,
  shadowed: true,
};

/** What meets only where two rare things come together: fewer flows of the seeds than are enough, and at least one. */
const FEW = 24;

test('the flows of 200 seeds meet every event, and every ending that the kernel can show, often enough to be proved', () => {
  const coverage = new Coverage();
  for (let seed = 1; seed <= 200; seed++)
    for (const { flow, bytes } of askedOf(randomPlan(seed), 160, coverage).asked)
      if (bytes === SMALL) coverage.add(flow);
  const rows = coverage.rows();
  const met = new Map<string, number>();
  for (const { what, flows } of rows) {
    const thing = what.replace(/, answer$/, '');
    met.set(thing, (met.get(thing) ?? 0) + flows);
  }
  const seldom = [...met].filter(([, flows]) => flows < ENOUGH);
  const unmet = Object.keys(endings).filter((code) => !met.has(`fails: ${code}`));
  expect({ seldom, unmet: unmet.sort() }).toEqual({ seldom: [], unmet: Object.keys(BEYOND_KERNEL).sort() });
  const rare = rows
    .filter(({ flows }) => flows < ENOUGH)
    .map(({ what, verdict, flows }) => `${what}, ${verdict}: ${flows}`);
  expect(rare.length > FEW ? rare : []).toEqual([]);
  expect(rows.length).toBeGreaterThan(150);
});
