import { applyOperations, clashesWith } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { Readable } from 'node:stream';
import { ApiError } from '../src/plan/api';
import type { Change, ChangeRequest, StoredPlan } from '../src/plan/api';

/** A server in memory that keeps one plan as the real one does: it merges what is apart and refuses what is overtaken or no undo. */
export class FakeServer {
  readonly changes: (Change & { readonly changeId: string })[] = [];
  /** The revision that each change was made against. */
  readonly bases: number[] = [];
  /** Requests to answer with a failure before the next is taken. */
  failures: ApiError[] = [];
  /** How many of the next answers are lost after their change was stored. */
  lostAnswers = 0;
  /** What happens at the server between an edit's sending and its answer. */
  meanwhile: (() => void) | undefined;
  /** How long each request and each answer is on its way; at once when undefined. */
  slowness: (() => Promise<void>) | undefined;

  /** What was asked for, in its order. */
  readonly asked: string[] = [];

  constructor(private stored: StoredPlan) {}

  get plan(): Plan {
    return this.stored.plan;
  }

  /** Stores a change, whoever makes it. */
  store(change: ChangeRequest): { revision: number; isMerged: boolean } {
    const earlier = this.changes.find(({ changeId }) => changeId === change.changeId);
    if (earlier !== undefined) return { revision: earlier.revision, isMerged: false };
    if (change.reverts !== undefined && this.changes.some(({ reverts }) => reverts === change.reverts))
      throw new ApiError(422, `Change ${change.reverts} was undone already.`, { problems: [] });
    const since = this.changes.filter(({ revision }) => revision > change.baseRevision);
    const clashes = clashesWith(this.plan, change.operations, since);
    if (clashes.length > 0)
      throw new ApiError(409, 'overtaken', { theirs: since, clashes, currentRevision: this.stored.revision });
    const applied = applyOperations(this.stored.plan, change.operations);
    if (!applied.ok) throw new ApiError(422, 'refused', { problems: applied.problems });
    const revision = this.stored.revision + 1;
    this.bases.push(change.baseRevision);
    this.stored = { revision, plan: applied.plan };
    this.changes.push({
      ...change,
      revision,
      reverts: change.reverts ?? null,
      operationCount: change.operations.length,
      createdAt: '2026-11-25T10:00:00.000Z',
      inverse: applied.inverse,
    });
    return { revision, isMerged: since.length > 0 };
  }

  /** The endpoints that a session asks. */
  readonly api = {
    plan: () => {
      this.asked.push('plan');
      return Promise.resolve(this.stored);
    },
    planText: (): AsyncIterable<string> => {
      this.asked.push('plan');
      return Readable.from([JSON.stringify(this.stored)]);
    },
    history: () => Promise.resolve(this.changes.toReversed()),
    summary: (_: string, revision: number) => Promise.resolve(this.changes.find((each) => each.revision === revision)),
    changesAfter: async (_: string, revision: number) => {
      this.asked.push('changes');
      await this.slowness?.();
      const changes = this.changes.filter((change) => change.revision > revision).slice(0, 200);
      await this.slowness?.();
      return changes;
    },
    change: async (_: string, change: ChangeRequest) => {
      this.asked.push('change');
      const failure = this.failures.shift();
      if (failure !== undefined) throw failure;
      this.meanwhile?.();
      this.meanwhile = undefined;
      await (this.slowness?.() ?? Promise.resolve());
      const outcome = this.store(change);
      await this.slowness?.();
      if (this.lostAnswers > 0) {
        this.lostAnswers--;
        throw new ApiError(0, 'no answer', { isUnknown: true });
      }
      return outcome;
    },
  };
}
