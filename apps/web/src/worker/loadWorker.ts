import { simulate } from '@wide-lattice/core/load';
import type { LoadResult, Scenario } from '@wide-lattice/core/load';
import { expose } from 'comlink';

/** Simulates beside the page and beside the plan's own worker, which goes on answering. */
class LoadWorker {
  /** Tells the share that is done between steps; the page ends the worker to cancel. */
  async run(scenario: Scenario, tell: (share: number) => void): Promise<LoadResult> {
    const run = simulate(scenario);
    for (;;) {
      const next = run.next();
      if (next.done === true) return next.value;
      tell(next.value);
      // Lets what was told be sent.
      await new Promise((go) => setTimeout(go));
    }
  }
}

export type LoadWorkerApi = LoadWorker;

expose(new LoadWorker());
