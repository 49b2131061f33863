import type { WorkerLike } from './coreHandle';

/** A worker of this page, with word of its failures as a whole: what it answers wrongly, the answer itself says. */
export function ownWorker(worker: Worker): WorkerLike {
  return {
    endpoint: worker,
    terminate: () => worker.terminate(),
    onFailure: (tell) => {
      worker.addEventListener('error', (event) => {
        // An event without words is a program that could not be loaded.
        const { message } = event;
        tell(typeof message === 'string' && message !== '' ? message : 'its program could not be loaded.');
      });
      worker.addEventListener('messageerror', () => tell('an answer could not be read.'));
    },
  };
}
