import { wrap } from 'comlink';
import type { Remote } from 'comlink';
import type { CoreWorkerApi } from './coreWorker';

const worker = new Worker(new URL('./coreWorker.ts', import.meta.url), { type: 'module' });

/** The worker that holds the open plan and computes; one for the page. */
export const core: Remote<CoreWorkerApi> = wrap<CoreWorkerApi>(worker);
