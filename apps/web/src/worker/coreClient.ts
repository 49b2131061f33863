import { CoreHandle } from './coreHandle';
import { ownWorker } from './ownWorker';

/** The worker that holds the open plan and computes; one for the page. */
export const core = new CoreHandle(() =>
  ownWorker(new Worker(new URL('./coreWorker.ts', import.meta.url), { type: 'module' })),
);
