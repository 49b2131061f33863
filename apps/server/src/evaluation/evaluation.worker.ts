import { evaluate } from '@wide-lattice/core/evaluation';
import { addressPlan, allocationTableCsv } from '@wide-lattice/core/exchange';
import type { Finding } from '@wide-lattice/core/findings';
import type { Plan } from '@wide-lattice/core/plan';
import { addressPlanPdf } from './addressPlanPdf.js';

/** What the worker thread is asked. */
export interface EvaluationTask {
  readonly want: 'findings' | 'allocationTable' | 'addressPlanPdf';
  readonly plan: Plan;
}

/** Runs in a worker thread: the same core as in the browser. */
export default async function run(task: EvaluationTask): Promise<readonly Finding[] | string | Uint8Array> {
  const evaluation = evaluate(task.plan);
  switch (task.want) {
    case 'findings':
      return evaluation.findings();
    case 'allocationTable':
      return allocationTableCsv(evaluation);
    case 'addressPlanPdf':
      return addressPlanPdf(addressPlan(evaluation));
  }
}
