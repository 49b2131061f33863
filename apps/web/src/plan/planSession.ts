import { applyOperations, newId } from '@wide-lattice/core/plan';
import type { Clash, Operation, OperationProblem, Plan } from '@wide-lattice/core/plan';
import { core } from '../worker/coreClient';
import { PlanReader } from '../worker/planReader';
import { api, ApiError } from './api';
import type { Change, ChangeRequest, ChangeSummary, TheirChange } from './api';
import { authorName, clientId } from './identity';
import { rootOf, undoState } from './undoStack';

/** How long an edit without an answer waits before it is sent again, in milliseconds. */
const WAITS_MS = [300, 1500];

/** Changes that the server tells at once. */
const PAGE_OF_CHANGES = 200;
/** Changes that are kept with their inverse. */
const CHANGES_KEPT = 30;

const unanswered =
  'No answer came: whether this was saved is unknown. Reload the plan and look before you do it again; what you typed is kept here.';

function isUnanswered({ status, body }: ApiError): boolean {
  return body.isUnknown === true || status === 0 || status === 502 || status === 504;
}

/** What became of an edit. Anything but "stored" leaves the edit in the user's hands. */
export type CommitOutcome =
  | { readonly kind: 'stored'; readonly isMerged: boolean }
  | { readonly kind: 'refused'; readonly message: string; readonly problems: readonly OperationProblem[] }
  /** Others set the same meanwhile, and their side was kept. */
  | { readonly kind: 'overtaken' }
  | { readonly kind: 'failed'; readonly message: string };

/** An edit that others overtook, with both sides. */
export interface Overtaken {
  readonly label: string;
  readonly operations: readonly Operation[];
  readonly reverts: number | undefined;
  readonly theirs: readonly TheirChange[];
  /** Field by field: what the author began from, what it is now, what the edit sets. */
  readonly clashes: readonly Clash[];
  readonly currentRevision: number;
  /** Gets what became of it once its author has chosen. */
  readonly answer: (outcome: CommitOutcome) => void;
}

/** What became of an undo or a redo, with the label of the edit that it took back or made again. */
export interface StepOutcome {
  readonly label: string;
  readonly outcome: CommitOutcome;
}

/** An edit on its way, and the revision that its author began from. */
interface Edit {
  readonly label: string;
  readonly operations: readonly Operation[];
  readonly baseRevision: number;
  readonly reverts?: number | undefined;
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
  private readonly recent = new Map<number, Change>();
  private events: EventSource | undefined;

  private constructor(
    readonly planId: string,
    private state: SessionState,
  ) {}

  /** Reads the plan, here and in the worker at the same time, and starts to follow it. */
  static async open(planId: string): Promise<PlanSession> {
    const asked = api.history(planId);
    // A failure is told by the reading of the plan, or below.
    asked.catch(() => undefined);
    const inWorker = core.opening();
    const reader = new PlanReader();
    for await (const part of inTurns(api.planText(planId))) {
      inWorker.read(part);
      reader.push(part);
    }
    const opened = inWorker.open();
    opened.catch(() => undefined);
    const stored = reader.end();
    const [history] = await Promise.all([asked, opened]);
    const session = new PlanSession(planId, { ...stored, history, overtaken: undefined, isConnected: true });
    core.holds(() => session.state.plan);
    return session;
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
      // An own edit that is being answered has been followed by then.
      void this.enqueue(() => (revision > this.state.revision ? this.catchUp() : Promise.resolve(false)));
    });
    this.events.addEventListener('error', () => this.set({ isConnected: false }));
    this.events.addEventListener('open', () => this.set({ isConnected: true }));
    return () => {
      this.onOthers.delete(onOther);
      this.events?.close();
    };
  }

  /**
   * Sends an edit. What is wrong with it on its own is answered without asking the server. `from` is the revision that its
   * author began from, when that is not the one shown now: what others set since is then never overwritten unseen.
   */
  commit(label: string, operations: readonly Operation[], from?: number): Promise<CommitOutcome> {
    return this.chosen((answer) => this.send({ label, operations, baseRevision: from ?? this.state.revision }, answer));
  }

  /** Takes a change back by its inverse, made against the revision that it made. */
  takeBack(change: ChangeSummary): Promise<CommitOutcome> {
    return this.chosen((answer) => this.reverse(change, answer));
  }

  /** Takes back the last own edit that stands once all that was asked before is done; undefined when there is none. */
  undo(): Promise<StepOutcome | undefined> {
    return this.step('undo');
  }

  /** Makes the last own edit again that an undo took back; undefined when there is none. */
  redo(): Promise<StepOutcome | undefined> {
    return this.step('redo');
  }

  /** Sends an overtaken edit again on top of what the others did, as it was shown; some of it when the rest is theirs. */
  async insist(operations?: readonly Operation[]): Promise<void> {
    const { overtaken } = this.state;
    if (overtaken === undefined) return;
    this.set({ overtaken: undefined });
    const { label, reverts, currentRevision, answer } = overtaken;
    // A part of what takes a change back is an edit of its own.
    const edit = { label, operations: operations ?? overtaken.operations, baseRevision: currentRevision };
    const whole = operations === undefined ? { ...edit, reverts } : edit;
    const outcome = await this.enqueue(() => this.send(whole, answer));
    if (outcome !== undefined) answer(outcome);
  }

  /** Lets an overtaken edit go. */
  yieldToTheirs(): void {
    const { overtaken } = this.state;
    this.set({ overtaken: undefined });
    overtaken?.answer({ kind: 'overtaken' });
  }

  /** Does an edit in its turn. When it is overtaken, others get their turns until its author has chosen. */
  private chosen(work: (answer: Overtaken['answer']) => Promise<CommitOutcome | undefined>): Promise<CommitOutcome> {
    return new Promise((resolve, reject) => {
      this.enqueue(() => work(resolve)).then((outcome) => {
        if (outcome !== undefined) resolve(outcome);
      }, reject);
    });
  }

  /** What is taken back is decided when it is this step's turn: an answer on its way may change it. */
  private async step(what: 'undo' | 'redo'): Promise<StepOutcome | undefined> {
    let label: string | undefined;
    const outcome = await this.chosen((answer) => {
      const change = undoState(this.state.history, clientId())[what];
      if (change === undefined) return Promise.resolve({ kind: 'stored', isMerged: false });
      label = rootOf(change, this.state.history).change.label;
      return this.reverse(change, answer);
    });
    return label === undefined ? undefined : { label, outcome };
  }

  private async reverse(change: ChangeSummary, answer: Overtaken['answer']): Promise<CommitOutcome | undefined> {
    const full = this.recent.get(change.revision) ?? (await api.changesAfter(this.planId, change.revision - 1))[0];
    if (full === undefined) return { kind: 'failed', message: 'That change is not in the history.' };
    const { depth, label } = await this.origin(change);
    const word = depth % 2 === 0 ? 'Undo' : 'Redo';
    const edit = { label: `${word}: ${label}`.slice(0, 120), operations: full.inverse };
    return this.send({ ...edit, baseRevision: change.revision, reverts: change.revision }, answer);
  }

  /** The edit at the beginning of a row of undos and redos, also where the history shown does not go back so far. */
  private async origin(change: ChangeSummary): Promise<{ readonly depth: number; readonly label: string }> {
    const found = rootOf(change, this.state.history);
    let { depth, change: root } = found;
    while (root.reverts !== null) {
      const earlier = await api.summary(this.planId, root.reverts);
      if (earlier === undefined) break;
      root = earlier;
      depth++;
    }
    return { depth, label: root.label };
  }

  /** What became of an edit; undefined when it was overtaken and `answer` is told later. */
  private async send(edit: Edit, answer: Overtaken['answer']): Promise<CommitOutcome | undefined> {
    const { label, operations, reverts, baseRevision } = edit;
    const tried = applyOperations(this.state.plan, operations);
    if (!tried.ok && baseRevision === this.state.revision) {
      return { kind: 'refused', message: tried.problems[0]?.message ?? '', problems: tried.problems };
    }
    try {
      await this.sendUntilAnswered({
        baseRevision,
        label,
        author: authorName(),
        clientId: clientId(),
        changeId: newId(),
        operations,
        ...(reverts === undefined ? {} : { reverts }),
      });
      return { kind: 'stored', isMerged: await this.catchUp() };
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      const { theirs, clashes = [], currentRevision, problems } = error.body;
      if (error.status === 409 && theirs !== undefined) {
        await this.catchUp();
        // One choice at a time: an edit that waited for another is still in the hands of who made it.
        this.yieldToTheirs();
        const present = currentRevision ?? this.state.revision;
        this.set({ overtaken: { label, operations, reverts, theirs, clashes, currentRevision: present, answer } });
        return undefined;
      }
      return error.status === 422
        ? { kind: 'refused', message: problems?.[0]?.message ?? error.message, problems: problems ?? [] }
        : { kind: 'failed', message: isUnanswered(error) ? unanswered : error.message };
    }
  }

  /** An answer can be lost after the change was stored: it is asked for again under the same id, which stores nothing twice. */
  private async sendUntilAnswered(change: ChangeRequest): Promise<void> {
    for (const wait of WAITS_MS) {
      try {
        await api.change(this.planId, change);
        return;
      } catch (error) {
        if (!(error instanceof ApiError) || !isUnanswered(error)) throw error;
        await new Promise((resolve) => setTimeout(resolve, wait));
      }
    }
    await api.change(this.planId, change);
  }

  /** Applies every change since this page's revision, here and in the worker; says whether any was somebody else's. */
  private async catchUp(): Promise<boolean> {
    let hasOthers = false;
    for (;;) {
      const changes = await api.changesAfter(this.planId, this.state.revision);
      if (changes.length === 0) return hasOthers;
      const isAll = changes.length < PAGE_OF_CHANGES;
      let { plan } = this.state;
      for (const change of changes) {
        const applied = applyOperations(plan, change.operations);
        if (!applied.ok) {
          await this.reload();
          return hasOthers;
        }
        plan = applied.plan;
        await this.tell(change.operations, plan);
        if (change.clientId === clientId()) continue;
        hasOthers = true;
        this.onOthers.forEach((tell) => tell(change));
      }
      const last = changes.at(-1) as Change;
      this.set({ plan, revision: last.revision, history: [...changes.toReversed(), ...this.state.history] });
      this.keep(changes);
      if (isAll) return hasOthers;
    }
  }

  /** Tells the worker of a change. One that was stopped, or missed something, is handed the whole plan. */
  private async tell(operations: readonly Operation[], plan: Plan): Promise<void> {
    try {
      await core.advance(operations);
    } catch {
      await core.load(plan);
    }
  }

  /** The last changes with their inverse, so that taking one back need not ask for it. */
  private keep(changes: readonly Change[]): void {
    for (const change of changes) this.recent.set(change.revision, change);
    for (const oldest of this.recent.keys()) {
      if (this.recent.size <= CHANGES_KEPT) break;
      this.recent.delete(oldest);
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

/** Longest stretch of reading before the page draws, in milliseconds. */
const TURN_MS = 20;

/** Parts as they come; where many are there at once the page draws between them. */
async function* inTurns(parts: AsyncIterable<string>): AsyncGenerator<string, void> {
  let since = performance.now();
  for await (const part of parts) {
    yield part;
    if (performance.now() - since < TURN_MS) continue;
    await new Promise((resolve) => setTimeout(resolve));
    since = performance.now();
  }
}
