// Look-ups in a large zone, names of a large plan at every vantage, and one record's edit. Prints ratios against references of the same run.
import { ZoneTree } from '@wide-lattice/core/zones';
import { Random } from '@wide-lattice/core/load';
import { NameState, VantageTable } from '@wide-lattice/core/naming';
import { applyOperations, emptyPlan, newId, setOperation, withFallbacks } from '@wide-lattice/core/plan';
import { median, row, scaled } from './measure.mjs';

const random = new Random(13);

const NAMES = scaled(100_000, 2000);
const names = Array.from({ length: NAMES }, (_, at) => `h${at}.d${at % 300}.big.example`);
const tree = ZoneTree.of(
  'big.example',
  names.map((name, at) => ({
    name,
    type: 'A',
    ttl: 60,
    value: `10.${at >> 16}.${(at >> 8) & 255}.${at & 255}`,
    target: undefined,
  })),
);
const asked = Array.from({ length: scaled(200_000, 4000) }, () => names[random.below(NAMES)]);
const map = new Map(names.map((name, at) => [name, at]));
const looked = median(() => asked.forEach((name) => tree.lookUp(name, 'A')), 5);
const bound = median(() => asked.forEach((name) => map.get(name)), 5);
row(
  '200,000 look-ups in a zone of 100,000 names',
  looked,
  'a plain Map, which knows no delegation, wildcard or alias',
  bound,
);

// 5,000 clusters in 100 networks, each with a name in a public zone and in its network's own.
const CLUSTERS = scaled(5000, 60);
const NETWORKS = scaled(100, 6);
const sorted = (all) => all.sort((a, b) => (a.id < b.id ? -1 : 1));
const make = (kind, fields) => withFallbacks(kind, { id: newId(), ...fields });
const networks = sorted(Array.from({ length: NETWORKS }, (_, n) => make('networks', { name: `n${n}`, note: '' })));
const profile = make('profiles', {
  name: 'p',
  reservedFirst: 1,
  reservedLast: 1,
  subnetScope: 'region',
  routesPerTable: 100,
});
const site = make('sites', { name: 's', kind: 'region', profileId: profile.id, zones: ['a'] });
const clusters = sorted(
  Array.from({ length: CLUSTERS }, (_, n) =>
    make('clusters', {
      name: `c${n}`,
      siteId: site.id,
      networkId: networks[n % NETWORKS].id,
      nodesNow: 3,
      nodesHorizon: 3,
    }),
  ),
);
const open = make('zones', { name: 'out', apex: 'fleet.example', side: 'public' });
const own = networks.map(({ id }, n) =>
  make('zones', { name: `in${n}`, apex: `n${n}.fleet.example`, side: 'private', networkIds: [id] }),
);
const zones = sorted([open, ...own]);
const records = sorted(
  clusters.flatMap(({ name }, n) => [
    make('records', {
      zoneId: open.id,
      name: `${name}.n${n % NETWORKS}`,
      type: 'A',
      value: `203.0.${(n >> 8) & 255}.${n & 255}`,
      target: 'elsewhere',
    }),
    make('records', {
      zoneId: own[n % NETWORKS].id,
      name,
      type: 'A',
      value: `10.0.${(n >> 8) & 255}.${n & 255}`,
      target: 'elsewhere',
    }),
  ]),
);
let plan = { ...emptyPlan(), profiles: [profile], sites: [site], networks, clusters, zones, records };
let state = NameState.of(plan);
const whole = median(() => VantageTable.of(NameState.of(plan)), 3);
let table = VantageTable.of(state);
const edits = Array.from({ length: 20 }, (_, at) =>
  setOperation('records', records[(at * 400) % records.length].id, { ttl: 60 + at }),
);
let spent = 0;
for (const edit of edits) {
  const applied = applyOperations(plan, [edit]);
  if (!applied.ok) throw new Error(JSON.stringify(applied.problems));
  plan = applied.plan;
  const before = state;
  const from = performance.now();
  state = new NameState(plan, before.forwarding, before);
  table = table.after(state);
  spent += performance.now() - from;
}
if (table.rows.size !== CLUSTERS) throw new Error(`${table.rows.size} names`);
row(
  `one record's edit with ${CLUSTERS.toLocaleString('en-US')} names at ${table.vantages.length} vantages`,
  spent / edits.length,
  'all of them asked anew',
  whole,
);
