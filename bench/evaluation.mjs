// Full evaluation of 1,000 clusters, and re-evaluation after one of them is edited.
import { evaluate } from '@wide-lattice/core/evaluation';
import { setOperation } from '@wide-lattice/core/plan';
import { median, row, scaled } from './measure.mjs';
import { apply, organisation } from './organisation.mjs';

const plan = organisation(scaled(1000, 80));
const read = (evaluation) => evaluation.findings().length + evaluation.clusters.length + evaluation.verdictCount;
const full = median(() => {
  // Parsed prefixes are remembered by entity, so a full run starts from fresh entities.
  read(evaluate(structuredClone(plan)));
});
const copying = median(() => structuredClone(plan));
let last = evaluate(plan);
read(last);
const ranges = plan.allocations.filter((_, i) => i % 97 === 0);
const plans = ranges.map((range, i) =>
  apply(plan, [setOperation('allocations', range.id, { prefix: `10.${100 + i}.0.0/20` })]),
);
const clusters = plan.clusters
  .filter((_, i) => i % 97 === 0)
  .map((cluster) => apply(plan, [setOperation('clusters', cluster.id, { nodesHorizon: cluster.nodesHorizon + 1 })]));
const each = (edited) =>
  median(() => {
    for (const next of edited) read((last = evaluate(next, last)));
  }) / edited.length;
const evaluation = evaluate(plan);
console.log(
  `${plan.clusters.length} clusters, ${plan.allocations.length} ranges, ${plan.inUse.length} in use: ${evaluation.verdictCount} verdicts, ${evaluation.findings().length} findings`,
);
row(
  'one cluster’s demand edited (and the edit before it undone)',
  each(clusters),
  'the full evaluation',
  full - copying,
);
row('one range edited (and the edit before it undone)', each(plans), 'the full evaluation', full - copying);
