import { promisify } from 'node:util';
import { constants, gzip } from 'node:zlib';
import { Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import type { StoredPlan } from './planStore.js';

const compress = promisify(gzip);
const MOST_BYTES = 64_000_000;

/** A plan at a revision as it goes out: its text, and the same compressed. */
export interface PlanBody {
  /** Names this plan at this revision, for If-None-Match. */
  readonly tag: string;
  readonly plain: Buffer;
  readonly gzipped: Buffer;
}

/** Writes and compresses each plan once per revision, however many ask for it. */
@Injectable()
export class PlanBodies {
  private readonly kept = new LRUCache<string, Promise<PlanBody>>({
    max: 100,
    maxSize: MOST_BYTES,
    sizeCalculation: () => 1,
  });

  /** What names a plan at a revision. */
  tagOf(planId: string, { revision }: StoredPlan): string {
    return `"${planId}-${revision}"`;
  }

  /** The body of a plan at its revision. */
  of(planId: string, stored: StoredPlan): Promise<PlanBody> {
    const tag = this.tagOf(planId, stored);
    const known = this.kept.get(tag);
    if (known !== undefined) return known;
    const body = bodyOf(tag, stored);
    this.kept.set(tag, body);
    void body.then(({ plain, gzipped }) => this.kept.set(tag, body, { size: plain.length + gzipped.length }));
    return body;
  }
}

async function bodyOf(tag: string, stored: StoredPlan): Promise<PlanBody> {
  const plain = Buffer.from(JSON.stringify(stored));
  // The quickest level already takes nine tenths off: plans repeat their field names.
  return { tag, plain, gzipped: await compress(plain, { level: constants.Z_BEST_SPEED }) };
}
