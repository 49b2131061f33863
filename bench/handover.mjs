// The bundle of a plan that has everything, and of one of its clusters, against writing the same plan as JSON and packing it.
import { gzipSync } from 'node:zlib';
import { evaluate } from '@wide-lattice/core/evaluation';
import { writePlanFile } from '@wide-lattice/core/exchange';
import { handoverFiles, zipped } from '@wide-lattice/core/handover';
import { finished } from '@wide-lattice/core/working';
import { withEverything } from './everythingOf.mjs';
import { alternate, row, scaled } from './measure.mjs';
import { organisation } from './organisation.mjs';

const CLUSTERS = scaled(300, 5);
const plan = withEverything(organisation(CLUSTERS));
const evaluation = evaluate(plan);
evaluation.findings();

const bundle = (scope) => zipped(finished(handoverFiles(evaluation, scope)), 'plan');
const [whole, one, packed] = alternate(
  [
    () => bundle({ kind: 'plan' }),
    () => bundle({ kind: 'cluster', id: plan.clusters[1].id }),
    () => gzipSync(writePlanFile(plan, 'json')),
  ],
  scaled(3, 1),
);
row(`the bundle of ${CLUSTERS} clusters with everything`, whole, 'the plan file as JSON, packed', packed);
row('the bundle of one of them', one, 'the whole', whole);
