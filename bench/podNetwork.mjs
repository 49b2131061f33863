// Comparison of pod networks for 5,000 clusters, and of one cluster as it is typed.
import { comparePodNetworks, evaluate, setOperation } from '@wide-lattice/core';
import { median, row } from './measure.mjs';
import { apply, organisation } from './organisation.mjs';

const plan = organisation(5000, 60, 10_000);
const some = plan.clusters.filter((_, i) => i % 250 === 0);
const all = median(() => some.forEach(({ id }) => comparePodNetworks(plan, id)), 1) * 250;
const typed = some.slice(0, 5).map(({ id, podsPerNode }) => ({
  id,
  plan: apply(plan, [setOperation('clusters', id, { podsPerNode: podsPerNode + 1 })]),
}));
const one = median(() => typed.forEach((each) => comparePodNetworks(each.plan, each.id)), 3) / typed.length;
row('the comparison of one cluster as it is typed', one, 'that of 5,000 (1 in 250, scaled)', all);
const limits = median(() => evaluate(plan).clusters.map(({ figures }) => figures.limits), 3);
console.log(`limits of 5,000 clusters, within a full evaluation: ${limits.toFixed(0)} ms`);
