import type { LoadResult, Scenario } from '@wide-lattice/core/load';
import { proxy, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import { formatFailure } from '../shared/formatFailure';
import type { LoadWorkerApi } from '../worker/loadWorker';
import { ownWorker } from '../worker/ownWorker';

/** A simulation: not begun, underway with the share that is done, or over. */
export interface Simulation {
  readonly share: number | undefined;
  readonly result: LoadResult | undefined;
  /** Why the last one ended without a result; empty when it did not. */
  readonly failure: string;
  readonly start: (scenario: Scenario) => void;
  readonly cancel: () => void;
}

/** Runs simulations in a worker of their own; the last result stays until the next one is there. */
export function useSimulation(): Simulation {
  const [share, setShare] = useState<number>();
  const [result, setResult] = useState<LoadResult>();
  const [failure, setFailure] = useState('');
  const worker = useRef<Worker>(undefined);
  const cancel = () => {
    worker.current?.terminate();
    worker.current = undefined;
    setShare(undefined);
  };
  useEffect(() => () => worker.current?.terminate(), []);
  const start = (scenario: Scenario) => {
    cancel();
    const own = new Worker(new URL('../worker/loadWorker.ts', import.meta.url), { type: 'module' });
    worker.current = own;
    setShare(0);
    setFailure('');
    const fail = (why: string) => {
      if (worker.current !== own) return;
      cancel();
      setFailure(why);
    };
    ownWorker(own).onFailure(fail);
    const run = async () => {
      // What a cancelled worker still had to say is not listened to.
      const tell = (done: number) => {
        if (worker.current === own) setShare(done);
      };
      const made = await wrap<LoadWorkerApi>(own).run(scenario, proxy(tell));
      if (worker.current !== own) return;
      setResult(made);
      cancel();
    };
    run().catch((error: unknown) => fail(formatFailure(error)));
  };
  return { share, result, failure, start, cancel };
}
