// Findings of a plan that has everything: from nothing, against the same plan without its second half, and after an edit of each kind.
import { evaluate } from '@wide-lattice/core/evaluation';
import { addOperation, kinds, setOperation, withFallbacks } from '@wide-lattice/core/plan';
import { alternate, median, row, scaled } from './measure.mjs';
import { apply, organisation } from './organisation.mjs';

const id = (kind, n) =>
  `019e0000-${kinds.indexOf(kind).toString(16).padStart(4, '0')}-7000-8000-${n.toString(16).padStart(12, '0')}`;
const add = (kind, n, fields) => addOperation(kind, withFallbacks(kind, { id: id(kind, n), ...fields }));
const each = (count, make) => Array.from({ length: count }, (_, n) => make(n));

/** What a cluster runs and what stands in front of it: 8 workloads and services, 6 routes, 4 records, a filter of 6 rules, a policy. */
function secondHalf({ id: clusterId, name }, c) {
  const host = `${name.replace(' ', '-')}.fleet.example`;
  const where = { clusterId, namespace: 'shop' };
  return [
    ...each(8, (n) =>
      add('workloads', 8 * c + n, {
        ...where,
        name: `app-${n}`,
        labels: [`app=app-${n}`],
        replicasNow: 2,
        replicasHorizon: 3,
        ports: ['http tcp 8080'],
      }),
    ),
    ...each(8, (n) =>
      add('services', 8 * c + n, {
        ...where,
        name: `app-${n}`,
        type: n === 0 ? 'NodePort' : 'ClusterIP',
        selector: [`app=app-${n}`],
        ports: [n === 0 ? `tcp 80 to http node ${30000 + n}` : 'tcp 80 to http'],
      }),
    ),
    add('controllers', c, { clusterId, name: `front ${c}`, classes: ['front'], serviceId: id('services', 8 * c) }),
    ...each(6, (n) =>
      add('ingressRoutes', 6 * c + n, {
        ...where,
        name: `route-${n}`,
        className: 'front',
        hosts: [host],
        path: `/a${n}`,
        pathType: 'Prefix',
        backends: [`app-${n + 1} 80`],
      }),
    ),
    ...each(4, (n) =>
      add('records', 4 * c + n, {
        zoneId: id('zones', 0),
        name: `r${n}.${name.replace(' ', '-')}`,
        type: 'A',
        value: `192.0.2.${(c + n) % 250}`,
        target: 'elsewhere',
      }),
    ),
    add('filters', c, { name: `filter ${c}`, clusterIds: [clusterId], defaultOut: 'allow' }),
    ...each(6, (n) =>
      add('filterRules', 6 * c + n, {
        filterId: id('filters', c),
        direction: 'in',
        position: 10 * (n + 1),
        action: 'allow',
        protocol: n === 0 ? 'icmp' : 'tcp',
        ports: n === 0 ? [] : [String(8000 + n)],
        peers: ['10.0.0.0/8'],
      }),
    ),
    add('networkPolicies', c, {
      ...where,
      name: 'only-http',
      selector: ['app=app-1'],
      directions: ['ingress'],
      allowIn: ['10.0.0.0/8 on tcp 8080'],
    }),
  ];
}

const bare = organisation(scaled(1000, 30), scaled(60, 8));
const plan = apply(
  apply(bare, [add('zones', 0, { name: 'out', apex: 'fleet.example', side: 'public', isDelegated: true })]),
  bare.clusters.flatMap(secondHalf),
);
const read = (evaluation) => evaluation.findings().length;
const rows = kinds.reduce((sum, kind) => sum + plan[kind].length, 0);

// Parsed prefixes are remembered by entity, so a full run starts from fresh entities.
const fresh = [plan, bare].map((each) => () => structuredClone(each));
const findingsOf = (copy) => read(evaluate(copy));
const start = performance.now();
const found = findingsOf(plan);
const opened = performance.now() - start;
console.log(`${plan.clusters.length} clusters, ${rows.toLocaleString('en-US')} rows, ${found} findings`);
// As a user meets them who opens the plan, and once all code is compiled.
const [whole, first] = alternate([findingsOf, findingsOf], 9, { prepare: (i) => fresh[i](), warmUp: scaled(6, 1) });
row('findings of a plan that has everything', whole, 'those without its second half', first);
row('the same when it is opened, before code is compiled', opened, 'those once it is', whole);

const edits = {
  clusters: (n) => ({ nodesHorizon: 30 + n }),
  allocations: (n) => ({ prefix: `10.${200 + n}.0.0/24` }),
  workloads: (n) => ({ replicasNow: 4 + n }),
  services: (n) => ({ ports: [`tcp ${81 + n} to http`] }),
  ingressRoutes: (n) => ({ path: `/new${n}` }),
  records: (n) => ({ value: `198.51.100.${n}` }),
  filterRules: (n) => ({ protocol: 'tcp', ports: [String(9000 + n)] }),
  networkPolicies: (n) => ({ allowIn: [`10.${n}.0.0/16 on tcp 8080`] }),
  controllers: (n) => ({ name: `other ${n}` }),
};
let last;

/** Edits one row of a kind after another, each undone again; prints what one takes against the findings of the whole. */
function editing(of, kind, against, where = '') {
  const step = Math.floor(of[kind].length / 7);
  const plans = each(6, (n) => apply(of, [setOperation(kind, of[kind][n * step + 3].id, edits[kind](n))]));
  const taken = median(() => {
    for (const next of plans) {
      read((last = evaluate(next, last)));
      read((last = evaluate(of, last)));
    }
  }, 3);
  row(`one row of ${kind} edited, or the edit undone${where}`, taken / (2 * plans.length), 'all findings', against);
}

last = evaluate(plan);
read(last);
for (const kind of Object.keys(edits)) editing(plan, kind, opened);

// Every cluster has needs and an egress, and some ways are expected: what is asked of packets is asked again after an edit.
const asking = apply(plan, [
  ...each(3, (n) =>
    add('needs', n, { name: `registry ${n}`, prefixes: [`198.51.${100 + n}.0/24`], protocol: 'tcp', ports: ['443'] }),
  ),
  ...plan.networks.map((network) => setOperation('networks', network.id, { internetEgress: 'direct' })),
  ...each(scaled(50, 5), (n) =>
    add('expectations', n, {
      name: `way ${n}`,
      from: `pod of ${plan.clusters[2 * n].name}`,
      to: `node of ${plan.clusters[2 * n + 1].name} tcp 8080`,
      verdict: 'must pass',
    }),
  ),
]);
const started = performance.now();
last = evaluate(asking);
read(last);
const wholeAsking = performance.now() - started;
row('the same with needs, egress and expectations', wholeAsking, 'the plan without them', whole);
for (const kind of ['clusters', 'filterRules', 'records']) editing(asking, kind, wholeAsking, ' with them');
