import { gunzipSync } from 'node:zlib';
import { evaluate } from '@wide-lattice/core/evaluation';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import { addressPlan, allocationTableCsv, findingJson, readPlanFile, writePlanFile } from '@wide-lattice/core/exchange';
import type { Json, PlanFileResult } from '@wide-lattice/core/exchange';
import type { Plan } from '@wide-lattice/core/plan';
import { LRUCache } from 'lru-cache';
import { move } from 'piscina';
import { addressPlanPdf } from '../evaluation/addressPlanPdf.js';
import type { PlanBody } from '../plans/planBody.js';

/** A page of findings, and how many there are. */
export interface FindingsPage {
  readonly total: number;
  readonly findings: readonly Json[];
}

/** What a worker thread is asked of a plan, by name, and what it answers. */
export interface PlanWork {
  readonly findings: {
    readonly asks: { readonly offset: number; readonly limit: number };
    readonly gives: FindingsPage;
  };
  readonly planFile: { readonly asks: 'json' | 'yaml'; readonly gives: Uint8Array };
  readonly allocationTable: { readonly asks: undefined; readonly gives: Uint8Array };
  readonly addressPlanPdf: { readonly asks: undefined; readonly gives: Uint8Array };
}

/** What it is asked beside. */
export interface OtherWork {
  readonly readPlanFile: { readonly asks: string; readonly gives: PlanFileResult };
}

type PlanWorks = {
  readonly [W in keyof PlanWork]: (
    evaluation: Evaluation,
    asked: PlanWork[W]['asks'],
  ) => PlanWork[W]['gives'] | Promise<PlanWork[W]['gives']>;
};

const ofPlan: PlanWorks = {
  findings: (evaluation, { offset, limit }) => {
    const all = evaluation.findings();
    const page = all.slice(offset, offset + limit);
    return { total: all.length, findings: page.map((each) => findingJson(evaluation.plan, each)) };
  },
  planFile: ({ plan }, syntax) => bytesOf(writePlanFile(plan, syntax)),
  allocationTable: (evaluation) => bytesOf(allocationTableCsv(evaluation)),

  // Made anew: what changes hands must be nobody else’s, as small buffers of Node are.
  addressPlanPdf: async (evaluation) => new Uint8Array(await addressPlanPdf(addressPlan(evaluation))),
};

const encoder = new TextEncoder();
const bytesOf = (text: string) => encoder.encode(text);

/** Plans that were asked about last stay read, with what was computed of them. */
const KEPT_PLANS = 2;
const evaluations = new LRUCache<string, Evaluation>({ max: KEPT_PLANS });

function evaluationOf({ tag, gzipped }: PlanBody): Evaluation {
  const known = evaluations.get(tag);
  if (known !== undefined) return known;
  const { plan } = JSON.parse(gunzipSync(gzipped).toString()) as { readonly plan: Plan };
  const made = evaluate(plan);
  evaluations.set(tag, made);
  return made;
}

/** What a thread is handed. */
export type Asked =
  | { readonly work: keyof PlanWork; readonly body: PlanBody; readonly asked: unknown }
  | { readonly work: 'readPlanFile'; readonly asked: string };

/** Runs in a worker thread: the same core as in the browser. */
export default async function run(task: Asked): Promise<unknown> {
  if (task.work === 'readPlanFile') return readPlanFile(task.asked);
  const answer = await ofPlan[task.work](evaluationOf(task.body), task.asked as never);
  // Bytes change hands instead of being copied.
  return answer instanceof Uint8Array ? move(answer) : answer;
}
