import { proxy, wrap } from 'comlink';
import type { Endpoint, Remote } from 'comlink';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import type { Progress } from '@wide-lattice/core/working';
import type { CoreWorkerApi } from './coreWorker';
import { isParted, withRows } from './parts';
import type { SliceAnswer, SliceArgs, SliceName } from './slices';

/** What a handle needs of a worker. */
export interface WorkerLike {
  readonly endpoint: Endpoint;
  readonly terminate: () => void;
  /** Calls back when the worker fails as a whole: it could not be loaded, or it ended. */
  readonly onFailure: (tell: (why: string) => void) => void;
}

/** A request that has no answer yet. */
interface Request {
  readonly id: number;
  readonly since: number;
  readonly send: (remote: Remote<CoreWorkerApi>) => void;
  readonly fail: (error: Error) => void;
  /** How far it is, once it said so: it comes in steps, and others are answered between them. */
  progress: Progress | undefined;
}

/** What takes long. */
export interface Waiting {
  /** Since when, in milliseconds of the clock. */
  readonly since: number;
  readonly progress: Progress | undefined;
  readonly stop: () => void;
}

/** Computations in steps that are under way at once. */
const MAX_AT_ONCE = 4;

const STOPPED = 'It was stopped before it was done.';

/** Whether a computation failed because it was told to stop. */
export function isStopped({ message }: Error): boolean {
  return message === STOPPED;
}

/**
 * The page's side of the worker that holds the open plan. Every request ends: in its answer, in the worker's failure, or in
 * being stopped. After a failure or a stop the next request finds a new worker that holds the page's plan. The worker is handed
 * one request after the other, so that a request that was given up meanwhile is never begun; one that comes in steps lets others
 * before it ends.
 */
export class CoreHandle {
  private worker: WorkerLike | undefined;
  private remote: Remote<CoreWorkerApi> | undefined;
  private running: Request[] = [];
  private last = 0;
  private waiting: Request[] = [];
  private planOf: (() => Plan) | undefined;

  /** The worker is made when it is first asked something: pages without a plan need none. */
  constructor(private readonly make: () => WorkerLike) {}

  /** Has the worker read a stored plan from its text, which comes in parts: text is copied at once, while a plan is copied row by row. */
  opening(): { readonly read: (part: string) => void; readonly open: () => Promise<void> } {
    // What fails on the way is told at the end.
    let failure: unknown;
    const note = (asked: Promise<void>) => void asked.catch((error: unknown) => (failure ??= error));
    note(this.asked((remote) => remote.begin()));
    return {
      read: (part) => note(this.asked((remote) => remote.read(part))),
      open: async () => {
        await this.asked((remote) => remote.open()).catch((error: unknown) => {
          throw asError(failure ?? error);
        });
      },
    };
  }

  /** Hands over a plan whole. */
  load(plan: Plan): Promise<void> {
    return this.asked((remote) => remote.load(plan));
  }

  /** Hands over a change that the page has applied to its own copy. */
  advance(operations: readonly Operation[]): Promise<void> {
    return this.asked((remote) => remote.advance(operations));
  }

  /** Asks for a slice of what follows from the plan. */
  ask<S extends SliceName>(name: S, ...args: SliceArgs<S>): Promise<SliceAnswer<S>> {
    return this.askIn({ isMade: false }, name, ...args);
  }

  /** The same of the plan with all that is planned standing, where `isMade` says so; given up by the signal while it has not begun. */
  askIn<S extends SliceName>(
    { isMade, signal }: { readonly isMade: boolean; readonly signal?: AbortSignal },
    name: S,
    ...args: SliceArgs<S>
  ): Promise<SliceAnswer<S>> {
    // The worker answers what the slice of that name gives.
    return this.whole((remote, id) => remote.ask(name, args as never, isMade, id), signal) as Promise<SliceAnswer<S>>;
  }

  /** An answer with all of its rows; others are answered between its parts. */
  private async whole(
    ask: (remote: Remote<CoreWorkerApi>, id: number) => Promise<unknown>,
    signal: AbortSignal | undefined,
  ): Promise<unknown> {
    const asked = { id: 0 };
    const first = await this.asked((remote, id) => {
      asked.id = id;
      return ask(remote, id);
    }, signal);
    if (!isParted(first)) return first;
    const rows: unknown[] = [];
    try {
      while (rows.length < first.rows) {
        const part = await this.asked((remote) => remote.part(asked.id, rows.length), signal);
        if (part.length === 0) throw new Error(STOPPED);
        for (const row of part) rows.push(row);
      }
    } catch (error) {
      this.remote?.stop(asked.id).catch(() => undefined);
      throw error;
    }
    return withRows(first.answer, first.path, rows);
  }

  /** Where the plan is that a new worker is handed. */
  holds(planOf: () => Plan): void {
    this.planOf = planOf;
  }

  /** What has been waited for longest; undefined when nothing is. */
  longest(): Waiting | undefined {
    const [request] = [...this.running, ...this.waiting];
    if (request === undefined) return undefined;
    const { since, progress } = request;
    return { since, progress, stop: () => this.stop(request) };
  }

  /** Ends a request: between its steps where it comes in some, or else with all that is being computed. */
  private stop(request: Request): void {
    if (request.progress === undefined) this.end(STOPPED);
    else this.giveUp(request, new Error(STOPPED));
  }

  private made(): WorkerLike {
    const worker = this.make();
    worker.onFailure((why) => {
      if (worker === this.worker) this.end(`The computation broke off: ${why}`);
    });
    return worker;
  }

  private end(why: string): void {
    this.worker?.terminate();
    this.remote = undefined;
    const all = [...this.running, ...this.waiting];
    this.running = [];
    this.waiting = [];
    for (const { fail } of all) fail(new Error(why));
  }

  private asked<T>(ask: (remote: Remote<CoreWorkerApi>, id: number) => Promise<T>, signal?: AbortSignal): Promise<T> {
    return new Promise((resolve, reject) => {
      if (signal?.aborted === true) {
        reject(asError(signal.reason));
        return;
      }
      const id = ++this.last;
      const request: Request = {
        id,
        since: Date.now(),
        progress: undefined,
        send: (remote) => {
          ask(remote, id).then(
            (answer) => {
              this.over(request);
              resolve(answer);
            },
            (error: unknown) => {
              this.over(request);
              reject(asError(error));
            },
          );
        },
        fail: reject,
      };
      this.waiting.push(request);
      signal?.addEventListener('abort', () => this.giveUp(request, asError(signal.reason)), { once: true });
      this.next();
    });
  }

  /** What waits is never begun, and what comes in steps ends at its next one. What has begun otherwise is let end: its answer may serve others. */
  private giveUp(request: Request, why: Error): void {
    if (this.waiting.includes(request)) this.waiting = this.waiting.filter((each) => each !== request);
    else if (request.progress !== undefined && this.running.includes(request))
      this.remote?.stop(request.id).catch(() => undefined);
    else return;
    request.fail(why);
  }

  private next(): void {
    const [request] = this.waiting;
    const isFree = this.running.length < MAX_AT_ONCE && this.running.every(({ progress }) => progress !== undefined);
    if (!isFree || request === undefined) return;
    this.running.push(request);
    this.waiting.shift();
    request.send(this.remote ?? this.begin());
  }

  private over(request: Request): void {
    // After a failure or a stop others may be under way already.
    if (!this.running.includes(request)) return;
    this.running = this.running.filter((each) => each !== request);
    this.next();
  }

  private told(id: number, progress: Progress): void {
    const request = this.running.find((each) => each.id === id);
    if (request === undefined) return;
    request.progress = progress;
    this.next();
  }

  /** Requests are answered in their order, so that the plan is there before what is asked of it. */
  private begin(): Remote<CoreWorkerApi> {
    this.worker = this.made();
    const remote = wrap<CoreWorkerApi>(this.worker.endpoint);
    this.remote = remote;
    remote.listen(proxy((id: number, progress: Progress) => this.told(id, progress))).catch(() => undefined);
    // What goes wrong here is told by the request that comes next.
    if (this.planOf !== undefined) remote.load(this.planOf()).catch(() => undefined);
    return remote;
  }
}

function asError(error: unknown): Error {
  return error instanceof Error ? error : new Error(String(error));
}
