import { Injectable, PayloadTooLargeException, ServiceUnavailableException } from '@nestjs/common';
import type { OnModuleDestroy } from '@nestjs/common';
import { Piscina } from 'piscina';
import type { Work } from './work.worker.js';

// Under Jest the sources run uncompiled; a worker thread is plain Node and needs the build.
const fromSource = import.meta.url.endsWith('.ts');
const workerFile = new URL(fromSource ? '../../dist/work/work.worker.js' : './work.worker.js', import.meta.url).href;

const LIMIT_SECONDS = 60;
const MEMORY_MB = 1024;

/** Worker threads with limits on time and memory, for what would keep every other request waiting. */
@Injectable()
export class WorkPool implements OnModuleDestroy {
  private readonly pool = new Piscina({
    filename: workerFile,
    minThreads: 0,
    maxThreads: 2,
    maxQueue: 50,
    idleTimeout: 30_000,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
  });

  /** Has a worker thread do it; refuses with the limit that was met. */
  async run<W extends keyof Work>(work: W, asked: Work[W]['asks']): Promise<Work[W]['gives']> {
    try {
      return (await this.pool.run(
        { work, asked },
        { signal: AbortSignal.timeout(LIMIT_SECONDS * 1000) },
      )) as Work[W]['gives'];
    } catch (error) {
      if ((error as { code?: unknown } | null)?.code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new PayloadTooLargeException(
          `This takes more than ${MEMORY_MB} MB of memory, the most one request may use. Split it; nothing was saved.`,
        );
      const isLimit = error instanceof Error && (error.name === 'AbortError' || error.message.includes('queue'));
      if (isLimit)
        throw new ServiceUnavailableException(
          `This took more than ${LIMIT_SECONDS} s, or too many others wait. Nothing was saved; try again in a moment.`,
        );
      throw error;
    }
  }

  async onModuleDestroy(): Promise<void> {
    await this.pool.close({ force: true });
  }
}
