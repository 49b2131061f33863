import { promisify } from 'node:util';
import { constants, createGzip } from 'node:zlib';
import { Injectable } from '@nestjs/common';
import { kinds } from '@wide-lattice/core/plan';
import { LRUCache } from 'lru-cache';
import { inTurns } from '../work/inTurns.js';
import type { StoredPlan } from './planStore.js';

const MAX_BYTES = 128_000_000;
/** Entities that are written between two looks at the clock. */
const AT_ONCE = 100;

/** A plan at a revision as text, compressed, and what names it. */
export interface PlanBody {
  readonly tag: string;
  readonly gzipped: Buffer;
}

/** Writes and compresses each plan once per revision, however many ask for it: for browsers, and for the threads that compute with it. */
@Injectable()
export class PlanBodies {
  private readonly kept = new LRUCache<string, PlanBody, StoredPlan>({
    maxSize: MAX_BYTES,
    sizeCalculation: ({ gzipped }) => gzipped.length,
    fetchMethod: (tag, _stale, { context }) => bodyOf(tag, context),
  });

  /** What names a plan at a revision. */
  tagOf(planId: string, { revision }: StoredPlan): string {
    return `"${planId}-${revision}"`;
  }

  /** The body of a plan at its revision. */
  of(planId: string, stored: StoredPlan): Promise<PlanBody> {
    return this.kept.forceFetch(this.tagOf(planId, stored), { context: stored });
  }
}

async function bodyOf(tag: string, stored: StoredPlan): Promise<PlanBody> {
  const parts: string[] = [];
  await inTurns(writtenInSteps(stored, parts));
  // The quickest level already takes nine tenths off: plans repeat their field names.
  const gzip = createGzip({ level: constants.Z_BEST_SPEED });
  const chunks: Buffer[] = [];
  gzip.on('data', (chunk: Buffer) => chunks.push(chunk));
  const ended = new Promise<void>((resolve, reject) => gzip.on('end', resolve).on('error', reject));
  const write = promisify((part: string, done: (error?: Error | null) => void) => gzip.write(part, done));
  for (const part of parts) await write(part);
  gzip.end();
  await ended;
  return { tag, gzipped: Buffer.concat(chunks) };
}

/** The text of a plan in lines of some rows each: written, or read, at once it would keep all others waiting. */
function* writtenInSteps({ revision, plan }: StoredPlan, parts: string[]): Generator<undefined, void> {
  parts.push(`{"revision":${revision},"plan":{"settings":${JSON.stringify(plan.settings)}`);
  for (const kind of kinds) {
    const entities: readonly unknown[] = plan[kind];
    parts.push(`\n,${JSON.stringify(kind)}:[`);
    for (let at = 0; at < entities.length; at += AT_ONCE) {
      parts.push(`\n${at === 0 ? '' : ','}${JSON.stringify(entities.slice(at, at + AT_ONCE)).slice(1, -1)}`);
      yield;
    }
    parts.push('\n]');
  }
  parts.push('\n}}');
}
