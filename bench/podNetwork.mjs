// Comparison of pod networks for 5,000 clusters, and of one cluster as it is typed.
import { byId, rangeOf, setOperation } from '@wide-lattice/core/plan';
import { comparePodNetworks } from '@wide-lattice/core/podnetwork';
import { limitsOf, rangesNeeded, sizingOf } from '@wide-lattice/core/sizing';
import { median, row, scaled } from './measure.mjs';
import { apply, organisation } from './organisation.mjs';

const plan = organisation(scaled(5000, 80), 60, scaled(10_000, 200));
const some = plan.clusters.filter((_, i) => i % 250 === 0);
const all = median(() => some.forEach(({ id }) => comparePodNetworks(plan, id)), 1) * 250;
const typed = some.slice(0, 5).map(({ id, podsPerNode }) => ({
  id,
  plan: apply(plan, [setOperation('clusters', id, { podsPerNode: podsPerNode + 1 })]),
}));
const one = median(() => typed.forEach((each) => comparePodNetworks(each.plan, each.id)), 3) / typed.length;
row('the comparison of one cluster as it is typed', one, 'that of 5,000 (1 in 250, scaled)', all);

// Every limit of every cluster with the month it is passed, against the ranges those clusters need; and one cluster as it is typed.
const rangesOf = new Map();
for (const range of plan.allocations) {
  const own = rangesOf.get(range.clusterId) ?? new Map();
  own.set(`${range.purpose} ${range.zone} ${rangeOf(range).family}`, rangeOf(range));
  rangesOf.set(range.clusterId, own);
}
const limitsFor = (of, cluster) =>
  limitsOf({
    sizing: sizingOf(of, cluster),
    rangesOf: (purpose, zone, family) => {
      const range = rangesOf.get(cluster.id)?.get(`${purpose} ${zone} ${family}`);
      return range === undefined ? [] : [{ range, others: [] }];
    },
    neighbours: { clusters: 80, publicAddresses: 0 },
  });
const limits = median(() => plan.clusters.forEach((cluster) => limitsFor(plan, cluster)), 3);
const needs = median(() => plan.clusters.forEach((cluster) => rangesNeeded(sizingOf(plan, cluster))), 3);
row('all limits of 5,000 clusters', limits, 'the ranges they need', needs);
const oneLimit = median(() => typed.forEach((each) => limitsFor(each.plan, byId(each.plan.clusters, each.id))), 5);
row('all limits of one cluster as it is typed', oneLimit / typed.length, 'those of 5,000', limits);
console.log(`limits of 5,000 clusters: ${limits.toFixed(0)} ms`);
