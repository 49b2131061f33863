import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { BEYOND_KERNEL, Coverage, ENOUGH, SUITE } from './coverage.js';
import { askedOf, counted } from './prove.js';
import { randomPlan } from './randomPlan.js';
import type { Failure } from '@wide-lattice/core/road';

/** Every way in which a packet may end: a new one has to be met, or it is said why it cannot be. */
const endings: Readonly<Record<Failure['code'], true>> = {
  'no-route': true,
  'no-taker': true,
  'route-drops': true,
  'hop-gone': true,
  'zone-lost': true,
  'device-lost': true,
  'zone-unsaid': true,
  'ipv6-narrow': true,
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

test('the published schema of traces names every way in which a packet may end', () => {
  const file = join(__dirname, '../../../../docs/trace.schema.json');
  const { $defs } = JSON.parse(readFileSync(file, 'utf8')) as { $defs: { failure: { enum: string[] } } };
  expect([...$defs.failure.enum].sort()).toEqual(Object.keys(endings).sort());
});

test('the flows of the seeds meet every event with every verdict, and every ending that the kernel can show, often enough', () => {
  const coverage = new Coverage();
  for (const seed of SUITE) for (const each of askedOf(randomPlan(seed), 160, coverage).asked) counted(each, coverage);
  const rows = coverage.rows();
  const met = new Set(rows.map(({ what }) => what.replace(/, answer$/, '')));
  const unmet = Object.keys(endings).filter((code) => !met.has(`fails: ${code}`));
  const rare = rows
    .filter(({ flows }) => flows < ENOUGH)
    .map(({ what, verdict, flows }) => `${what}, ${verdict}: ${flows}`);
  expect({ rare, unmet: unmet.sort() }).toEqual({ rare: [], unmet: Object.keys(BEYOND_KERNEL).sort() });
  expect(rows.length).toBeGreaterThan(180);
});
