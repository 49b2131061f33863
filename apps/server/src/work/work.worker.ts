import { gunzipSync } from 'node:zlib';
import { evaluate } from '@wide-lattice/core/evaluation';
import type { Evaluation } from '@wide-lattice/core/evaluation';
import { addressPlan, allocationTableCsv, findingJson, readPlanFile, writePlanFile } from '@wide-lattice/core/exchange';
import type { Json, PlanFileProblem } from '@wide-lattice/core/exchange';
import { handoverFiles, zipped } from '@wide-lattice/core/handover';
import { kinds, MAX_FILE_BYTES } from '@wide-lattice/core/plan';
import type { Kind, PlanSettings } from '@wide-lattice/core/plan';
import { isInScope } from '@wide-lattice/core/rehearsal';
import type { Scope } from '@wide-lattice/core/rehearsal';
import { finished } from '@wide-lattice/core/working';
import { LRUCache } from 'lru-cache';
import { move, transferableSymbol, valueSymbol } from 'piscina';
import { addressPlanPdf } from '../evaluation/addressPlanPdf.js';
import type { PlanBody } from '../plans/planBody.js';
import { planIn } from './planIn.js';

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
  /** Nothing where no cluster is in the scope. */
  readonly handover: { readonly asks: Scope; readonly gives: Uint8Array };
}

/** A plan file as it came. */
export interface SentFile {
  readonly bytes: Uint8Array;
  readonly isCompressed: boolean;
}

/** A plan that was read, its rows as text in parts that are each parsed in no time. */
export interface ReadPlan {
  readonly settings: PlanSettings;
  readonly parts: readonly { readonly kind: Kind; readonly from: number; readonly to: number }[];
  readonly bytes: Uint8Array;
}

/** What it is asked beside. */
export interface OtherWork {
  readonly readPlanFile: { readonly asks: SentFile; readonly gives: ReadPlan | readonly PlanFileProblem[] };
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
  handover: (evaluation, scope) => {
    const { clusters, settings } = evaluation.plan;
    if (scope.kind !== 'plan' && !clusters.some((cluster) => isInScope(scope, cluster))) return new Uint8Array();
    return zipped(finished(handoverFiles(evaluation, scope)), settings.name);
  },
  // A copy: what changes hands must not be shared, as small buffers of Node are.
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
  const made = evaluate(planIn(gzipped));
  evaluations.set(tag, made);
  return made;
}

/** Rows of a part: few enough that parsing one delays no other request. */
const ROWS_OF_PART = 200;

function readSent({ bytes, isCompressed }: SentFile): unknown {
  const text = textOf(bytes, isCompressed);
  if (typeof text !== 'string') return [text];
  const read = readPlanFile(text);
  if (!read.ok) return read.problems;
  const { plan } = read;
  const encoded: Uint8Array[] = [];
  let length = 0;
  const parts = kinds.flatMap((kind) => {
    const rows: readonly unknown[] = plan[kind];
    return Array.from({ length: Math.ceil(rows.length / ROWS_OF_PART) }, (_, at) => {
      const part = bytesOf(JSON.stringify(rows.slice(at * ROWS_OF_PART, (at + 1) * ROWS_OF_PART)));
      encoded.push(part);
      length += part.length;
      return { kind, from: length - part.length, to: length };
    });
  });
  const all = new Uint8Array(length);
  encoded.forEach((part, at) => all.set(part, parts[at]?.from));
  const value: ReadPlan = { settings: plan.settings, parts, bytes: all };
  // The bytes change hands instead of being copied.
  return move({ [transferableSymbol]: all.buffer, [valueSymbol]: value });
}

/** The text of a file, or why it cannot be read. */
function textOf(bytes: Uint8Array, isCompressed: boolean): string | PlanFileProblem {
  try {
    const plain = isCompressed
      ? gunzipSync(bytes, { maxOutputLength: MAX_FILE_BYTES })
      : Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    return plain.toString();
  } catch (error) {
    if ((error as { code?: unknown } | null)?.code === 'ERR_BUFFER_TOO_LARGE')
      return {
        path: 'file',
        message: `The file has more than ${MAX_FILE_BYTES / 1_000_000} MB, the most that is read.`,
        fix: 'Make two plans of it.',
      };
    return {
      path: 'file',
      message: 'The file cannot be unpacked: it is not gzip, or it was cut off.',
      fix: 'Send it again.',
    };
  }
}

/** What a thread is handed. */
export type Asked =
  | { readonly work: keyof PlanWork; readonly body: PlanBody; readonly asked: unknown }
  | { readonly work: 'readPlanFile'; readonly asked: SentFile };

/** Runs in a worker thread: the same core as in the browser. */
export default async function run(task: Asked): Promise<unknown> {
  if (task.work === 'readPlanFile') return readSent(task.asked);
  const answer = await ofPlan[task.work](evaluationOf(task.body), task.asked as never);
  // Bytes change hands instead of being copied.
  return answer instanceof Uint8Array ? move(answer) : answer;
}
