import { wrap } from 'comlink';
import type { Operation, Plan } from '@wide-lattice/core/plan';
import type { CoreWorkerApi } from './coreWorker';
import type { SliceAnswer, SliceArgs, SliceName } from './slices';

const worker = new Worker(new URL('./coreWorker.ts', import.meta.url), { type: 'module' });
const remote = wrap<CoreWorkerApi>(worker);

/** The worker that holds the open plan and computes; one for the page. */
export const core = {
  /** Has the worker read a plan itself; answers the revision it read, or -1. */
  open: (planId: string): Promise<number> => remote.open(planId),
  /** Hands over a plan whole. */
  load: (plan: Plan): Promise<void> => remote.load(plan),
  /** Hands over a change that the page has applied to its own copy. */
  advance: (operations: readonly Operation[]): Promise<void> => remote.advance(operations),
  /** Asks for a slice of what follows from the plan. */
  ask: <S extends SliceName>(name: S, ...args: SliceArgs<S>): Promise<SliceAnswer<S>> =>
    // The worker answers what the slice of that name gives.
    remote.ask(name, args as never) as Promise<SliceAnswer<S>>,
};
