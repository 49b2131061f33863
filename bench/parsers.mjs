// Texts that once took far more than four times as long when they were four times as long.
import { readPlanFile } from '@wide-lattice/core/exchange';
import { setOperation } from '@wide-lattice/core/plan';
import { readManifests } from '@wide-lattice/core/manifests';
import { readZoneFile } from '@wide-lattice/core/zones';
import { evaluate } from '@wide-lattice/core/evaluation';
import { add, each } from './everythingOf.mjs';
import { median, row, scaled } from './measure.mjs';
import { apply, organisation } from './organisation.mjs';

const plan = organisation(40, 8);
const cluster = plan.clusters[0];
const lines = (count, line) => each(count, line).join('\n');
const manifest = (text) => readManifests(plan, { clusterId: cluster.id, namespace: 'shop' }, text, '2026-12-01');

function aliases(count) {
  const zone = add('zones', 1, { name: 'out', apex: 'fleet.example', side: 'public', isDelegated: true });
  const held = apply(plan, [
    zone,
    ...each(count, (n) =>
      add('records', n, {
        zoneId: zone.entity.id,
        name: `a${n}`,
        type: 'CNAME',
        value: n === count - 1 ? 'www.else.example' : `a${n + 1}.fleet.example`,
        target: 'elsewhere',
      }),
    ),
  ]);
  // The rest of the plan is looked at before, so that the records alone are counted.
  const before = evaluate(apply(held, [setOperation('zones', zone.entity.id, { ttl: 61 })]));
  before.findings();
  return () => evaluate(held, before).findings();
}

const texts = [
  ['a manifest of one map with 8,000 keys', 2000, (n) => `kind: ConfigMap\ndata:\n${lines(n, (i) => `  k${i}: v`)}`],
  ['a manifest with 40,000 empty lines', 10_000, (n) => `kind: X\n${'\n'.repeat(n)}a: 1\n`],
  ['a manifest with 40,000 lines of blanks', 10_000, (n) => `kind: X\n${'   \n'.repeat(n)}a: 1\n`],
  ['a manifest with one anchor used 8,000 times', 2000, (n) => `a: &a x\n${lines(n, (i) => `b${i}: *a`)}`],
  ['a manifest of 80,000 levels', 20_000, (n) => `a: ${'['.repeat(n)}${']'.repeat(n)}`],
];
const cases = [
  ...texts.map(([what, count, text]) => [what, count, (n) => manifest.bind(undefined, text(n))]),
  ['a plan file of 80,000 levels', 20_000, (n) => readPlanFile.bind(undefined, `a: ${'['.repeat(n)}${']'.repeat(n)}`)],
  [
    'a zone file of 40,000 records',
    10_000,
    (n) => readZoneFile.bind(undefined, `$TTL 60\n${lines(n, (i) => `h${i} IN A 192.0.2.1`)}`, 'fleet.example'),
  ],
  ['the findings of a chain of 8,000 aliases', 2000, aliases],
];
for (const [what, count, ofSize] of cases) {
  const quarter = scaled(count, Math.ceil(count / 100));
  const [small, large] = [quarter, 4 * quarter].map((n) => median(ofSize(n), 3));
  row(what, large, 'a quarter of it', small);
}
