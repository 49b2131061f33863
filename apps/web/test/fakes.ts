import { applyOperations } from '@wide-lattice/core/plan';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import { ApiError } from '../src/plan/api';
import type { Change, ChangeRequest, StoredPlan } from '../src/plan/api';

/** A server in memory that keeps one plan as the real one does: it merges what is apart and refuses what is overtaken. */
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

  constructor(private stored: StoredPlan) {}

  get plan(): Plan {
    return this.stored.plan;
  }

  /** Stores a change, whoever makes it. */
  store(change: ChangeRequest): { revision: number; isMerged: boolean } {
    const earlier = this.changes.find(({ changeId }) => changeId === change.changeId);
    if (earlier !== undefined) return { revision: earlier.revision, isMerged: false };
    const mine = new Set(change.operations.map(touched));
    const since = this.changes.filter(({ revision }) => revision > change.baseRevision);
    const theirs = since.filter(({ operations }) => operations.some((each) => mine.has(touched(each))));
    if (theirs.length > 0)
      throw new ApiError(409, 'overtaken', { theirs, currentRevision: this.stored.revision, problems: [] });
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
    plan: () => Promise.resolve(this.stored),
    history: () => Promise.resolve(this.changes.toReversed()),
    changesAfter: (_: string, revision: number) =>
      Promise.resolve(this.changes.filter((change) => change.revision > revision)),
    change: async (_: string, change: ChangeRequest) => {
      const failure = this.failures.shift();
      if (failure !== undefined) throw failure;
      this.meanwhile?.();
      this.meanwhile = undefined;
      await Promise.resolve();
      const outcome = this.store(change);
      if (this.lostAnswers > 0) {
        this.lostAnswers--;
        throw new ApiError(0, 'no answer', { isUnknown: true });
      }
      return outcome;
    },
  };
}

function touched(operation: Operation): string {
  if (operation.kind === 'settings') return 'settings';
  return operation.op === 'add' ? operation.entity.id : operation.id;
}
