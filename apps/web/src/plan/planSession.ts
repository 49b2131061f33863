import { applyOperations, newId } from '@wide-lattice/core/plan';
import type { Operation, OperationProblem, Plan } from '@wide-lattice/core/plan';
import { core } from '../worker/coreClient';
import { api, ApiError } from './api';
import type { Change, ChangeRequest, ChangeSummary, TheirChange } from './api';
import { authorName, clientId } from './identity';

/** How long an edit without an answer waits before it is sent again, in milliseconds. */
const WAITS_MS = [300, 1500];

const unanswered =
  'No answer came: whether this was saved is unknown. Reload the plan and look before you do it again; what you typed is kept here.';

function isUnanswered({ status, body }: ApiError): boolean {
  return body.isUnknown === true || status === 0 || status === 502 || status === 504;
}

/** What became of an edit. Anything but "stored" leaves the edit in the user's hands. */
export type CommitOutcome =
  | { readonly kind: 'stored'; readonly isMerged: boolean }
  | { readonly kind: 'refused'; readonly message: string; readonly problems: readonly OperationProblem[] }
  | { readonly kind: 'overtaken' }
  | { readonly kind: 'failed'; readonly message: string };

/** An edit that others overtook, with both sides. */
export interface Overtaken {
  readonly label: string;
  readonly operations: readonly Operation[];
  readonly reverts: number | undefined;
  readonly theirs: readonly TheirChange[];
  readonly currentRevision: number;
}

/** What the page shows of the open plan. */
export interface SessionState {
  readonly plan: Plan;
  readonly revision: number;
  readonly history: readonly ChangeSummary[];
  readonly overtaken: Overtaken | undefined;
  readonly isConnected: boolean;
}

/**
 * The open plan: the page's copy, the worker's copy, and the way of every edit to the server and back.
 * One edit is on its way at a time, and changes of others are followed in the order of their revisions.
 */
export class PlanSession {
  private queue: Promise<unknown> = Promise.resolve();
  private readonly listeners = new Set<() => void>();
  private readonly onOthers = new Set<(change: Change) => void>();
  private events: EventSource | undefined;

  private constructor(
    readonly planId: string,
    private state: SessionState,
  ) {}

  /** Reads the plan, here and in the worker at the same time, and starts to follow it. */
  static async open(planId: string): Promise<PlanSession> {
    const [stored, history, revision] = await Promise.all([api.plan(planId), api.history(planId), core.open(planId)]);
    // Somebody may have changed the plan between the two readings.
    if (revision !== stored.revision) await core.load(stored.plan);
    return new PlanSession(planId, { ...stored, history, overtaken: undefined, isConnected: true });
  }

  /** The present state; a new object whenever something changed. */
  readonly snapshot = (): SessionState => this.state;

  /** Calls back after every change of state; returns how to stop. */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Follows the plan's revisions; returns how to stop. */
  follow(onOther: (change: Change) => void): () => void {
    this.onOthers.add(onOther);
    this.events = new EventSource(`/api/plans/${this.planId}/events`);
    this.events.addEventListener('revision', (event: MessageEvent<string>) => {
      const { revision } = JSON.parse(event.data) as { revision: number };
      this.set({ isConnected: true });
      if (revision > this.state.revision) void this.enqueue(() => this.catchUp());
    });
    this.events.addEventListener('error', () => this.set({ isConnected: false }));
    this.events.addEventListener('open', () => this.set({ isConnected: true }));
    return () => {
      this.onOthers.delete(onOther);
      this.events?.close();
    };
  }

  /** Sends an edit. What is wrong with it on its own is answered without asking the server. */
  commit(label: string, operations: readonly Operation[], reverts?: number): Promise<CommitOutcome> {
    return this.enqueue(() => this.send(label, operations, reverts, reverts ?? this.state.revision));
  }

  /** Takes a change back by its inverse, made against the revision that it made. */
  async takeBack(change: ChangeSummary): Promise<CommitOutcome> {
    const [full] = await api.changesAfter(this.planId, change.revision - 1);
    if (full === undefined) return { kind: 'failed', message: 'That change is not in the history.' };
    const label = change.reverts === null ? `Undo: ${change.label}` : `Redo: ${change.label.replace(/^Undo: /, '')}`;
    return this.commit(label.slice(0, 120), full.inverse, change.revision);
  }

  /** Sends an overtaken edit again on top of what the others did. */
  async insist(): Promise<CommitOutcome> {
    const { overtaken } = this.state;
    if (overtaken === undefined) return { kind: 'failed', message: 'There is nothing to send.' };
    this.set({ overtaken: undefined });
    return this.enqueue(async () => {
      await this.catchUp();
      return this.send(overtaken.label, overtaken.operations, overtaken.reverts, this.state.revision);
    });
  }

  /** Lets an overtaken edit go. */
  yieldToTheirs(): void {
    this.set({ overtaken: undefined });
    void this.enqueue(() => this.catchUp());
  }

  private async send(
    label: string,
    operations: readonly Operation[],
    reverts: number | undefined,
    baseRevision: number,
  ): Promise<CommitOutcome> {
    const tried = applyOperations(this.state.plan, operations);
    if (!tried.ok && baseRevision === this.state.revision) {
      return { kind: 'refused', message: tried.problems[0]?.message ?? '', problems: tried.problems };
    }
    try {
      const { isMerged } = await this.sendUntilAnswered({
        baseRevision,
        label,
        author: authorName(),
        clientId: clientId(),
        changeId: newId(),
        operations,
        ...(reverts === undefined ? {} : { reverts }),
      });
      await this.catchUp();
      return { kind: 'stored', isMerged };
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      const { theirs, currentRevision, problems } = error.body;
      if (error.status === 409 && theirs !== undefined) {
        await this.catchUp();
        this.set({
          overtaken: { label, operations, reverts, theirs, currentRevision: currentRevision ?? this.state.revision },
        });
        return { kind: 'overtaken' };
      }
      return error.status === 422
        ? { kind: 'refused', message: problems?.[0]?.message ?? error.message, problems: problems ?? [] }
        : { kind: 'failed', message: isUnanswered(error) ? unanswered : error.message };
    }
  }

  /** An answer can be lost after the change was stored: it is asked for again under the same id, which stores nothing twice. */
  private async sendUntilAnswered(change: ChangeRequest): Promise<{ readonly isMerged: boolean }> {
    for (const wait of WAITS_MS) {
      try {
        return await api.change(this.planId, change);
      } catch (error) {
        if (!(error instanceof ApiError) || !isUnanswered(error)) throw error;
        await new Promise((resolve) => setTimeout(resolve, wait));
      }
    }
    return api.change(this.planId, change);
  }

  /** Applies every change since this page's revision, here and in the worker. */
  private async catchUp(): Promise<void> {
    for (;;) {
      const changes = await api.changesAfter(this.planId, this.state.revision);
      if (changes.length === 0) return;
      let { plan } = this.state;
      for (const change of changes) {
        const applied = applyOperations(plan, change.operations);
        if (!applied.ok) return this.reload();
        plan = applied.plan;
        await core.advance(change.operations);
        if (change.clientId !== clientId()) this.onOthers.forEach((tell) => tell(change));
      }
      const last = changes.at(-1) as Change;
      this.set({ plan, revision: last.revision, history: [...changes.toReversed(), ...this.state.history] });
    }
  }

  private async reload(): Promise<void> {
    const [stored, history] = await Promise.all([api.plan(this.planId), api.history(this.planId)]);
    await core.load(stored.plan);
    this.set({ ...stored, history });
  }

  private enqueue<T>(work: () => Promise<T>): Promise<T> {
    const result = this.queue.then(work);
    this.queue = result.catch(() => undefined);
    return result;
  }

  private set(part: Partial<SessionState>): void {
    this.state = { ...this.state, ...part };
    this.listeners.forEach((listener) => listener());
  }
}
