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
interface Pending {
  readonly since: number;
  readonly fail: (error: Error) => void;
}

/**
 * The page's side of the worker that holds the open plan. Every request ends: in its answer, in the worker's failure, or in
 * being stopped. After a failure or a stop the next request finds a new worker that holds the page's plan.
 */
export class CoreHandle {
  private worker: WorkerLike | undefined;
  private remote: Remote<CoreWorkerApi> | undefined;
  private readonly pending = new Set<Pending>();
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
    return this.askIn(false, name, ...args);
  }

  /** The same of the plan with all that is planned standing, where `isMade` says so. */
  askIn<S extends SliceName>(isMade: boolean, name: S, ...args: SliceArgs<S>): Promise<SliceAnswer<S>> {
    // The worker answers what the slice of that name gives.
    return this.asked((remote) => remote.ask(name, args as never, isMade) as Promise<SliceAnswer<S>>);
  }

  /** Where the plan is that a new worker is handed. */
  holds(planOf: () => Plan): void {
    this.planOf = planOf;
  }

  /** Since when the oldest request waits, in milliseconds of the clock; undefined when none does. */
  waitsSince(): number | undefined {
    const [oldest] = this.pending;
    return oldest?.since;
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
    const waiting = [...this.pending];
    this.pending.clear();
    for (const { fail } of waiting) fail(new Error(why));
  }

  private asked<T>(send: (remote: Remote<CoreWorkerApi>) => Promise<T>): Promise<T> {
    const remote = this.remote ?? this.begin();
    return new Promise((resolve, reject) => {
      const entry: Pending = { since: Date.now(), fail: reject };
      this.pending.add(entry);
      const over = () => this.pending.delete(entry);
      send(remote).then(
        (answer) => {
          over();
          resolve(answer);
        },
        (error: unknown) => {
          over();
          reject(error instanceof Error ? error : new Error(String(error)));
        },
      );
    });
  }

  /** Requests are answered in their order, so that the plan is there before what is asked of it. */
  private begin(): Remote<CoreWorkerApi> {
    this.worker = this.made();
    const remote = wrap<CoreWorkerApi>(this.worker.endpoint);
    this.remote = remote;
    // What goes wrong here is told by the request that comes next.
    if (this.planOf !== undefined) this.load(this.planOf()).catch(() => undefined);
    return remote;
  }
}
