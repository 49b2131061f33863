// A generated organisation of 5,000 clusters on 60 sites, 40,000 ranges, 10,000 in use: verdicts, one edit, a proposal for 1,000.
import { addressAt, addressFurther, formatPrefix, prefixAround } from '@wide-lattice/core/address';
import { propose } from '@wide-lattice/core/allocation';
import { Domains } from '@wide-lattice/core/domains';
import { evaluate } from '@wide-lattice/core/evaluation';
import { addOperation, applyOperations, newId, setOperation } from '@wide-lattice/core/plan';
import { rangesNeeded, sizingOf } from '@wide-lattice/core/sizing';
import { usesOfPlan, VerdictSet } from '@wide-lattice/core/verdicts';
import { median, row, scaled } from './measure.mjs';
import { apply, bareOrganisation, organisation } from './organisation.mjs';

const plan = organisation(scaled(5000, 80), 60, scaled(10_000, 200));
const evaluation = evaluate(plan);
console.log(
  `${plan.clusters.length} clusters, ${plan.allocations.length} ranges, ${plan.inUse.length} in use: ${evaluation.verdictCount} verdicts, ${evaluation.findings().length} findings`,
);

// A routing domain is each network with all that it reaches. The reference sorts, for each, the keys of the destinations
// there and of the ranges inside its own clusters: what a sweep domain by domain has to do before it compares anything.
const uses = usesOfPlan(plan);
const domains = new Domains(plan.networks, plan.links);
const key = ({ prefix }) => prefix.w0 * 64 + prefix.length;
const domainKeys = plan.networks.map((network) => {
  const seen = new Set([network.id, ...domains.neighbours(network.id)]);
  return Float64Array.from(
    uses.filter(
      (use) => use.networkId !== null && (use.isInternal ? use.networkId === network.id : seen.has(use.networkId)),
    ),
    key,
  );
});
const verdicts = median(() => VerdictSet.of(domains, uses).verdictCount, 5);
const sorts = median(() => domainKeys.map((keys) => Float64Array.from(keys).sort()), 5);
const once = Float64Array.from(uses, key);
const sort = median(() => Float64Array.from(once).sort(), 5);
console.log(
  `${plan.networks.length} routing domains, ${domainKeys.reduce((sum, keys) => sum + keys.length, 0)} keys in all`,
);
row('all verdicts and reuse groups', verdicts, 'sorting the keys once per routing domain they appear in', sorts);
row('all verdicts and reuse groups', verdicts, 'sorting each key once', sort);

const read = (each) => each.findings().length + each.clusters.length + each.verdictCount;
const copying = median(() => structuredClone(plan), 3);
const full = median(() => read(evaluate(structuredClone(plan))), 3) - copying;
let last = evaluate(plan);
read(last);
const edits = plan.clusters
  .filter((_, i) => i % 499 === 0)
  .map((cluster) => apply(plan, [setOperation('clusters', cluster.id, { nodesHorizon: cluster.nodesHorizon + 1 })]));
const edit = median(() => edits.forEach((next) => read((last = evaluate(next, last))))) / edits.length;
row('one cluster edited (and the edit before it undone)', edit, 'the full evaluation', full);

// A proposal for 1,000 clusters against one that ignores every aim but fit: the same clusters sized, their ranges placed from a
// bare list of free blocks, the same operations written.
const empty = bareOrganisation(scaled(1000, 60));
const proposal = propose(empty);
const wanted = proposal.ranges
  .filter(({ poolName }) => poolName === 'routable')
  .map(({ after }) => Number(after.split('/')[1]));
const own = median(() => propose(empty), 5);
const list = median(() => bareFreeList(wanted), 5);
const bare = median(() => bareProposal(empty), 5);
console.log(
  `proposal: ${proposal.ranges.length} ranges, ${wanted.length} of them distinct, ${proposal.refusals.length} refused`,
);
row('a proposal for 1,000 clusters', own, 'sizing, a bare free list, and the operations', bare);
row('a proposal for 1,000 clusters', own, 'the bare free list alone, its lengths known', list);
if (!applyOperations(empty, proposal.operations).ok) process.exitCode = 1;

/** What a proposal does without its aims: no growth, no summaries, no stability, no look at what others have. */
function bareProposal(plan) {
  const needs = plan.clusters.flatMap((cluster) =>
    rangesNeeded(sizingOf(plan, cluster)).map((need) => ({ cluster, need })),
  );
  const prefixes = bareFreeList(needs.map(({ need }) => need.length.value));
  return needs.map(({ cluster, need }, i) =>
    addOperation('allocations', {
      id: newId(),
      clusterId: cluster.id,
      purpose: need.purpose,
      zone: need.zone,
      prefix: prefixes[i],
      isPinned: false,
    }),
  );
}

/** First block that fits, halves put back in its place: no growth, no summaries, no sites, no clusters, no shared pools. */
function bareFreeList(lengths) {
  const free = [prefixAround(addressAt(4, 10n << 24n), 8)];
  return lengths.map((length) => {
    const at = free.findIndex((block) => block.length <= length);
    const block = free[at];
    const left = [];
    for (let half = block.length + 1; half <= length; half++)
      left.unshift(prefixAround(addressFurther(block, 2 ** (32 - half)), half));
    free.splice(at, 1, ...left);
    return formatPrefix(prefixAround(block, length));
  });
}
