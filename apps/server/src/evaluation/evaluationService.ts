import { Injectable, ServiceUnavailableException } from '@nestjs/common';
import type { OnModuleDestroy } from '@nestjs/common';
import type { Finding } from '@wide-lattice/core/findings';
import type { Plan } from '@wide-lattice/core/plan';
import { Piscina } from 'piscina';
import type { EvaluationTask } from './evaluation.worker.js';

// Under Jest the sources run uncompiled; a worker thread is plain Node and needs the build.
const fromSource = import.meta.url.endsWith('.ts');
const workerFile = new URL(
  fromSource ? '../../dist/evaluation/evaluation.worker.js' : './evaluation.worker.js',
  import.meta.url,
).href;

const LIMIT_MS = 60_000;

/** Evaluates plans in worker threads, so that a large plan keeps no request waiting. */
@Injectable()
export class EvaluationService implements OnModuleDestroy {
  private readonly pool = new Piscina({ filename: workerFile, minThreads: 0, maxThreads: 2, maxQueue: 50 });

  /** Every finding of the plan. */
  async findings(plan: Plan): Promise<Finding[]> {
    return (await this.run({ want: 'findings', plan })) as Finding[];
  }

  /** The allocation table as CSV. */
  async allocationTable(plan: Plan): Promise<string> {
    return (await this.run({ want: 'allocationTable', plan })) as string;
  }

  /** The address plan as a PDF. */
  async addressPlanPdf(plan: Plan): Promise<Uint8Array> {
    return (await this.run({ want: 'addressPlanPdf', plan })) as Uint8Array;
  }

  async onModuleDestroy(): Promise<void> {
    await this.pool.close({ force: true });
  }

  private async run(task: EvaluationTask): Promise<unknown> {
    try {
      return await this.pool.run(task, { signal: AbortSignal.timeout(LIMIT_MS) });
    } catch (error) {
      const isLimit = error instanceof Error && (error.name === 'AbortError' || error.message.includes('queue'));
      if (isLimit)
        throw new ServiceUnavailableException(
          `The evaluation took more than ${LIMIT_MS / 1000} s or too many wait. Try again in a moment.`,
        );
      throw error;
    }
  }
}
