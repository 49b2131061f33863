// A generated organisation of 5,000 clusters on 60 sites with 10,000 ranges in use: verdicts, one edit, a proposal for 1,000.
import {
  applyOperations,
  Domains,
  evaluate,
  Evaluator,
  propose,
  setOperation,
  useOfAllocation,
  useOfInUse,
  VerdictEngine,
  byId,
} from '@wide-lattice/core';
import { median, row } from './measure.mjs';
import { apply, organisation } from './organisation.mjs';

const plan = organisation(5000, 60, 10_000);
const evaluation = evaluate(plan);
console.log(
  `${plan.clusters.length} clusters, ${plan.allocations.length} ranges, ${plan.inUse.length} in use: ${evaluation.verdictCount} verdicts, ${evaluation.findings().length} findings`,
);

// Verdicts of all ranges against sorting the same keys once. The hub and five networks apart make six routing domains,
// and every range lies in exactly one of them, so sorting once a domain is sorting each key once.
const uses = [
  ...plan.allocations.map((a) => useOfAllocation(a, byId(plan.clusters, a.clusterId))),
  ...plan.inUse.map(useOfInUse),
];
const domains = new Domains(plan.networks, plan.links);
const keys = Float64Array.from(uses, ({ prefix }) => Number(prefix.base) * 64 + prefix.length);
const sort = median(() => Float64Array.from(keys).sort());
const verdicts = median(() => new VerdictEngine(domains, uses).verdictCount, 5);
row('all verdicts and reuse groups', verdicts, 'sorting the same keys once', sort);

const read = (each) => each.findings().length + each.clusters.length + each.verdictCount;
const copying = median(() => structuredClone(plan), 3);
const full = median(() => read(evaluate(structuredClone(plan))), 3) - copying;
const evaluator = new Evaluator();
evaluator.evaluate(plan);
const edits = plan.clusters
  .filter((_, i) => i % 499 === 0)
  .map((cluster) => apply(plan, [setOperation('clusters', cluster.id, { nodesHorizon: cluster.nodesHorizon + 1 })]));
const edit = median(() => edits.forEach((next) => read(evaluator.evaluate(next)))) / edits.length;
row('one cluster edited (and the edit before it undone)', edit, 'the full evaluation', full);

// A proposal for 1,000 clusters against a list of free blocks that looks for fit alone.
const bare = organisation(1000, 60, 0);
const empty = { ...bare, allocations: [] };
const proposal = propose(empty);
const wanted = proposal.ranges
  .filter(({ poolName }) => poolName === 'routable')
  .map(({ after }) => Number(after.split('/')[1]));
const own = median(() => propose(empty), 3);
const list = median(() => {
  for (let round = 0; round < 1; round++) {
    let free = [{ base: 0, length: 8 }];
    for (const length of wanted) {
      const at = free.findIndex((block) => block.length <= length);
      const block = free[at];
      const left = [];
      for (let half = block.length + 1; half <= length; half++)
        left.unshift({ base: block.base + 2 ** (32 - half), length: half });
      free.splice(at, 1, ...left);
    }
  }
}, 3);
console.log(
  `proposal: ${proposal.ranges.length} ranges, ${wanted.length} of them distinct, ${proposal.refusals.length} refused`,
);
row(
  'a proposal for 1,000 clusters, sizing and operations included',
  own,
  'a bare free list for the distinct ranges',
  list,
);
if (!applyOperations(empty, proposal.operations).ok) process.exitCode = 1;
