import { evaluate } from '@wide-lattice/core/evaluation';
import { addressPlan, allocationTableCsv, findingJson, readPlanFile } from '@wide-lattice/core/exchange';
import type { Json, PlanFileResult } from '@wide-lattice/core/exchange';
import type { Plan } from '@wide-lattice/core/plan';
import { addressPlanPdf } from '../evaluation/addressPlanPdf.js';

/** What a worker thread is asked, by name, and what it answers. */
export interface Work {
  readonly findings: { readonly asks: Plan; readonly gives: readonly Json[] };
  readonly allocationTable: { readonly asks: Plan; readonly gives: string };
  readonly addressPlanPdf: { readonly asks: Plan; readonly gives: Uint8Array };
  readonly readPlanFile: { readonly asks: string; readonly gives: PlanFileResult };
}

const works: { readonly [W in keyof Work]: (asked: Work[W]['asks']) => Work[W]['gives'] | Promise<Work[W]['gives']> } =
  {
    findings: (plan) =>
      evaluate(plan)
        .findings()
        .map((each) => findingJson(plan, each)),
    allocationTable: (plan) => allocationTableCsv(evaluate(plan)),
    addressPlanPdf: (plan) => addressPlanPdf(addressPlan(evaluate(plan))),
    readPlanFile,
  };

/** Runs in a worker thread: the same core as in the browser. */
export default function run<W extends keyof Work>({ work, asked }: { work: W; asked: Work[W]['asks'] }) {
  return works[work](asked);
}
