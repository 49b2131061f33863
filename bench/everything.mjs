// Findings of a plan that has everything: from nothing, against the same plan without its second half, and after an edit of each kind.
import { evaluate } from '@wide-lattice/core/evaluation';
import { kinds, setOperation } from '@wide-lattice/core/plan';
import { alternate, median, row, scaled } from './measure.mjs';
import { add, each, withEverything } from './everythingOf.mjs';
import { apply, organisation } from './organisation.mjs';

const bare = organisation(scaled(1000, 30), scaled(60, 8));
const plan = withEverything(bare);
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
