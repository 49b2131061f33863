import { Worker } from 'node:worker_threads';
import { UnprocessableEntityException } from '@nestjs/common';
import { LIMITS } from '@wide-lattice/standins';
import type { StandInAnswer, StandInCall, StandInStart, StandInWork } from './standIns.worker.js';

// Under Jest the sources run uncompiled; a worker thread is plain Node and needs the build.
const fromSource = import.meta.url.endsWith('.ts');
const workerFile = new URL(
  fromSource ? '../../dist/standins/standIns.worker.js' : './standIns.worker.js',
  import.meta.url,
);

interface Waiting {
  readonly resolve: (value: unknown) => void;
  readonly reject: (error: Error) => void;
}

/** A refusal to start stand-ins, with what helps. */
export class StandInsRefused extends UnprocessableEntityException {
  constructor(
    message: string,
    readonly code: NonNullable<NonNullable<StandInAnswer['problem']>['code']>,
  ) {
    super(message);
  }
}

/** The stand-ins of one plan in a thread of their own, with a limit on memory, so that no other request waits for them. */
export class StandInHost {
  private readonly waiting = new Map<number, Waiting>();
  private count = 0;

  private constructor(private readonly worker: Worker) {
    worker.on('message', ({ number, value, problem }: StandInAnswer) => {
      const waits = this.waiting.get(number);
      this.waiting.delete(number);
      if (problem === undefined) waits?.resolve(value);
      else waits?.reject(errorOf(problem));
    });
    worker.on('error', (error) => {
      this.failAll(error);
    });
    worker.on('exit', () => {
      this.failAll(new UnprocessableEntityException('The stand-ins have ended. Start them again.'));
    });
  }

  /** Starts them. Errors: 422 with what is wrong and what helps. */
  static async start(start: StandInStart): Promise<StandInHost> {
    const worker = new Worker(workerFile, {
      workerData: start,
      resourceLimits: { maxOldGenerationSizeMb: LIMITS.memoryMb },
    });
    const host = new StandInHost(worker);
    try {
      await new Promise((resolve, reject) => host.waiting.set(0, { resolve, reject }));
    } catch (error) {
      await worker.terminate();
      throw error;
    }
    return host;
  }

  /** Has them do something. Errors: 422 once they have ended. */
  ask<W extends keyof StandInWork>(work: W, asked: StandInWork[W]['asks']): Promise<StandInWork[W]['gives']> {
    const number = ++this.count;
    return new Promise<StandInWork[W]['gives']>((resolve, reject) => {
      this.waiting.set(number, { resolve: resolve as (value: unknown) => void, reject });
      this.worker.postMessage({ number, work, asked } satisfies StandInCall);
    });
  }

  /** Called when they end, by themselves or not. */
  onceEnded(run: () => void): void {
    this.worker.once('exit', run);
  }

  async end(): Promise<void> {
    await this.worker.terminate();
  }

  private failAll(error: Error): void {
    const all = [...this.waiting.values()];
    this.waiting.clear();
    for (const { reject } of all) reject(memoryError(error));
  }
}

function errorOf({ message, code }: NonNullable<StandInAnswer['problem']>): Error {
  return code === undefined ? new Error(message) : new StandInsRefused(message, code);
}

function memoryError(error: Error): Error {
  return (error as { readonly code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY'
    ? new UnprocessableEntityException(
        `The stand-ins took more than ${LIMITS.memoryMb} MB of memory and were ended. Choose fewer vantages or clusters.`,
      )
    : error;
}
