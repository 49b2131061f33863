import { allocationTableCsv, Evaluator } from '@wide-lattice/core';
import type { Finding, Plan } from '@wide-lattice/core';

/** What the worker thread is asked. */
export interface EvaluationTask {
  readonly want: 'findings' | 'allocationTable';
  readonly plan: Plan;
}

/** Runs in a worker thread: the same core as in the browser. */
export default function run(task: EvaluationTask): readonly Finding[] | string {
  const evaluation = new Evaluator().evaluate(task.plan);
  return task.want === 'findings' ? evaluation.findings() : allocationTableCsv(evaluation);
}
