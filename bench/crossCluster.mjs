// Clusters by exported services of a large connection: made from nothing, after one edit, and in a drill. Prints ratios of the same run.
import { faultsOf, connected, runDrill, setMatrix } from '@wide-lattice/core/crosscluster';
import { evaluate } from '@wide-lattice/core/evaluation';
import { applyOperations, emptyPlan, newId, setOperation, withFallbacks } from '@wide-lattice/core/plan';
import { median, row, scaled } from './measure.mjs';

const CLUSTERS = scaled(300, 20);
const EXPORTS = scaled(1000, 30);
const NETWORKS = scaled(30, 4);
const range = (count, of) => Array.from({ length: count }, (_, at) => of(at));
const sorted = (all) => all.sort((a, b) => (a.id < b.id ? -1 : 1));
const make = (kind, fields) => withFallbacks(kind, { id: newId(), ...fields });

// Networks of ten clusters on one hub; every fifth cluster has the pod range of the one before it and is translated, as that is.
const profile = make('profiles', {
  name: 'p',
  reservedFirst: 1,
  reservedLast: 1,
  subnetScope: 'region',
  routesPerTable: 1000,
});
const sites = range(10, (n) =>
  make('sites', {
    name: `s${n}`,
    kind: 'region',
    profileId: profile.id,
    zones: ['a', 'b'],
    latitude: 40 + n,
    longitude: n,
  }),
);
const networks = range(NETWORKS, (n) => make('networks', { name: `n${n}`, note: '' }));
const hub = make('links', { name: 'hub', kind: 'hub', networkIds: networks.map(({ id }) => id) });
const clusters = range(CLUSTERS, (n) =>
  make('clusters', {
    name: `c${n}`,
    siteId: sites[n % 10].id,
    networkId: networks[n % NETWORKS].id,
    podMode: 'overlay',
    nodesNow: 3,
    nodesHorizon: 5,
  }),
);
const podRange = (n) => (n % 5 === 1 ? n - 1 : n);
const allocations = clusters.flatMap(({ id }, n) =>
  [
    ['node', `10.${n >> 6}.${(n & 63) * 4}.0/24`],
    ['pod', `10.${32 + (podRange(n) >> 2)}.${(podRange(n) & 3) * 64}.0/18`],
    ['service', `10.${128 + (n >> 4)}.${(n & 15) * 16}.0/20`],
  ].map(([purpose, prefix]) => make('allocations', { clusterId: id, purpose, prefix })),
);
const filters = clusters.map(({ id, name }) =>
  make('filters', { name: `nodes of ${name}`, clusterIds: [id], defaultIn: 'deny', defaultOut: 'allow' }),
);
const filterRules = filters.map(({ id }) =>
  make('filterRules', {
    filterId: id,
    direction: 'in',
    position: 10,
    action: 'allow',
    protocol: 'udp',
    ports: ['4789', '51820'],
    peers: ['10.0.0.0/8'],
  }),
);
const shownAt = (n) => 2 * Math.floor(n / 5) + (n % 5);
const connection = make('connections', { name: 'wide', method: 'tunnels', maxLinks: 1000 });
const members = clusters.map(({ id, name }, n) =>
  make('members', {
    connectionId: connection.id,
    clusterId: id,
    memberId: name,
    translated:
      n % 5 < 2
        ? [
            `10.${32 + (podRange(n) >> 2)}.${(podRange(n) & 3) * 64}.0/18 as 100.${64 + (shownAt(n) >> 2)}.${(shownAt(n) & 3) * 64}.0/18`,
          ]
        : [],
  }),
);
const names = range(EXPORTS, (at) => ({ cluster: at % CLUSTERS, name: `app-${at % 400}` }));
const workloads = names.map(({ cluster, name }) =>
  make('workloads', {
    clusterId: clusters[cluster].id,
    namespace: 'shop',
    name,
    labels: [`app=${name}`],
    ports: ['http tcp 8080'],
    replicasNow: 2,
    replicasHorizon: 2,
  }),
);
const services = names.map(({ cluster, name }) =>
  make('services', {
    clusterId: clusters[cluster].id,
    namespace: 'shop',
    name,
    selector: [`app=${name}`],
    ports: ['web tcp 80 to http'],
  }),
);
const serviceExports = names.map(({ cluster, name }, at) =>
  make('serviceExports', {
    memberId: members[cluster].id,
    namespace: 'shop',
    name,
    rank: 1 + (at % 2),
    createdOn: '2026-11-01',
  }),
);

const whole = {
  profiles: [profile],
  sites,
  networks,
  links: [hub],
  clusters,
  allocations,
  filters,
  filterRules,
  connections: [connection],
  members,
  workloads,
  services,
  serviceExports,
};
let plan = { ...emptyPlan(), ...Object.fromEntries(Object.entries(whole).map(([kind, all]) => [kind, sorted(all)])) };

const made = median(() => evaluate(plan).ask(setMatrix), 3);
let evaluation = evaluate(plan);
const first = evaluation.ask(setMatrix);
const cells = first.columns.reduce((sum, column) => sum + column.cells.filter((cell) => cell !== undefined).length, 0);
console.log(
  `${CLUSTERS} clusters, ${EXPORTS.toLocaleString('en-US')} exports: ${cells.toLocaleString('en-US')} cells, ${first.reached.toLocaleString('en-US')} reached`,
);

/** Mean time of the matrix after each of some edits; what else the plan tells is not asked. */
function after(edits) {
  let spent = 0;
  for (const edit of edits) {
    const applied = applyOperations(plan, [edit]);
    if (!applied.ok) throw new Error(JSON.stringify(applied.problems));
    plan = applied.plan;
    const from = performance.now();
    evaluation = evaluate(plan, evaluation);
    evaluation.ask(setMatrix);
    spent += performance.now() - from;
  }
  return spent / edits.length;
}

const some = (all) => range(20, (at) => all[(at * 7) % all.length]);
row(
  'one edit of an export',
  after(some(serviceExports).map(({ id }, at) => setOperation('serviceExports', id, { weight: 2 + at }))),
  'the matrix from nothing',
  made,
);
row(
  'one edit of a filter rule',
  after(
    some(filterRules).map(({ id }, at) =>
      setOperation('filterRules', id, { ports: ['4789', '51820', String(6000 + at)] }),
    ),
  ),
  'the matrix from nothing',
  made,
);
row(
  'one edit of a rule that closes a member',
  after(some(filterRules).map(({ id }) => setOperation('filterRules', id, { ports: ['4789'] }))),
  'the matrix from nothing',
  made,
);

const base = { parts: plan, connected: evaluation.ask(connected), matrix: evaluation.ask(setMatrix) };
const faults = faultsOf(plan, base.connected);
for (const kind of new Set(faults.map((each) => each.kind))) {
  const each = faults.filter((fault) => fault.kind === kind).slice(0, 10);
  let at = 0;
  const drilled = median(() => runDrill(base, [each[at++ % each.length]]), 9);
  row(`a drill: ${kind} lost`, drilled, 'the matrix from nothing', made);
}
