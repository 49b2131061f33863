import { wrap } from 'comlink';
import type { Endpoint, Remote } from 'comlink';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import type { CoreWorkerApi } from './coreWorker';
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
  readonly since: number;
  readonly send: (remote: Remote<CoreWorkerApi>) => void;
  readonly fail: (error: Error) => void;
}

/**
 * The page's side of the worker that holds the open plan. Every request ends: in its answer, in the worker's failure, or in
 * being stopped. After a failure or a stop the next request finds a new worker that holds the page's plan. The worker is handed
 * one request after the other, so that a request that was given up meanwhile is never begun.
 */
export class CoreHandle {
  private worker: WorkerLike | undefined;
  private remote: Remote<CoreWorkerApi> | undefined;
  private running: Request | undefined;
  private waiting: Request[] = [];
  private planOf: (() => Plan) | undefined;

  /** The worker is made when it is first asked something: pages without a plan need none. */
  constructor(private readonly make: () => WorkerLike) {}

  /** Has the worker read a stored plan from its text: that is copied at once, while a plan is copied row by row. */
  open(text: string): Promise<void> {
    return this.asked((remote) => remote.open(text));
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
    return this.asked((remote) => remote.ask(name, args as never, isMade) as Promise<SliceAnswer<S>>, signal);
  }

  /** Where the plan is that a new worker is handed. */
  holds(planOf: () => Plan): void {
    this.planOf = planOf;
  }

  /** Since when the oldest request waits, in milliseconds of the clock; undefined when none does. */
  waitsSince(): number | undefined {
    return (this.running ?? this.waiting[0])?.since;
  }

  /** Ends all that is being computed. */
  stop(): void {
    this.end('It was stopped before it was done.');
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
    const all = [...(this.running === undefined ? [] : [this.running]), ...this.waiting];
    this.running = undefined;
    this.waiting = [];
    for (const { fail } of all) fail(new Error(why));
  }

  private asked<T>(ask: (remote: Remote<CoreWorkerApi>) => Promise<T>, signal?: AbortSignal): Promise<T> {
    return new Promise((resolve, reject) => {
      if (signal?.aborted === true) {
        reject(asError(signal.reason));
        return;
      }
      const request: Request = {
        since: Date.now(),
        send: (remote) => {
          ask(remote).then(
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
      signal?.addEventListener('abort', () => this.giveUp(request, signal), { once: true });
      this.next();
    });
  }

  /** What has begun is let end: its answer may serve others. */
  private giveUp(request: Request, signal: AbortSignal): void {
    if (!this.waiting.includes(request)) return;
    this.waiting = this.waiting.filter((each) => each !== request);
    request.fail(asError(signal.reason));
  }

  private next(): void {
    const [request] = this.waiting;
    if (this.running !== undefined || request === undefined) return;
    this.running = request;
    this.waiting.shift();
    request.send(this.remote ?? this.begin());
  }

  private over(request: Request): void {
    // After a failure or a stop another one may be under way already.
    if (this.running !== request) return;
    this.running = undefined;
    this.next();
  }

  /** Requests are answered in their order, so that the plan is there before what is asked of it. */
  private begin(): Remote<CoreWorkerApi> {
    this.worker = this.made();
    const remote = wrap<CoreWorkerApi>(this.worker.endpoint);
    this.remote = remote;
    // What goes wrong here is told by the request that comes next.
    if (this.planOf !== undefined) remote.load(this.planOf()).catch(() => undefined);
    return remote;
  }
}

function asError(error: unknown): Error {
  return error instanceof Error ? error : new Error(String(error));
}
