import { promisify } from 'node:util';
import { constants, gzip } from 'node:zlib';
import { Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import type { StoredPlan } from './planStore.js';

const compress = promisify(gzip);
const MAX_BYTES = 64_000_000;

/** A plan at a revision as it goes out: its text, and the same compressed. */
export interface PlanBody {
  readonly plain: Buffer;
  readonly gzipped: Buffer;
}

/** Writes and compresses each plan once per revision, however many ask for it. */
@Injectable()
export class PlanBodies {
  private readonly kept = new LRUCache<string, PlanBody, StoredPlan>({
    maxSize: MAX_BYTES,
    sizeCalculation: ({ plain, gzipped }) => plain.length + gzipped.length,
    fetchMethod: (_tag, _stale, { context }) => bodyOf(context),
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

async function bodyOf(stored: StoredPlan): Promise<PlanBody> {
  const plain = Buffer.from(JSON.stringify(stored));
  // The quickest level already takes nine tenths off: plans repeat their field names.
  return { plain, gzipped: await compress(plain, { level: constants.Z_BEST_SPEED }) };
}
