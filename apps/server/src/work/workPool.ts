import { Injectable, PayloadTooLargeException } from '@nestjs/common';
import type { OnModuleDestroy } from '@nestjs/common';
import { Piscina } from 'piscina';
import type { PlanBody } from '../plans/planBody.js';
import { refusedForNow } from './refusedForNow.js';
import type { Asked, OtherWork, PlanWork } from './work.worker.js';

// Under Jest the sources run uncompiled; a worker thread is plain Node and needs the build.
const fromSource = import.meta.url.endsWith('.ts');
const workerFile = new URL(fromSource ? '../../dist/work/work.worker.js' : './work.worker.js', import.meta.url).href;

const LIMIT_SECONDS = 120;
const MEMORY_MB = 2048;
const MAX_WAITING = 50;

/** Worker threads with limits on time and memory, for what would keep every other request waiting. */
@Injectable()
export class WorkPool implements OnModuleDestroy {
  private readonly pool = new Piscina({
    filename: workerFile,
    minThreads: 0,
    maxThreads: 2,
    maxQueue: MAX_WAITING,
    idleTimeout: 30_000,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
  });
  /** What is being computed of a plan at a revision: who asks the same meanwhile gets the same answer. */
  private readonly underWay = new Map<string, Promise<unknown>>();

  /** Has a worker thread do something with a plan; refuses with the limit that was met. */
  async ofPlan<W extends keyof PlanWork>(
    work: W,
    body: PlanBody,
    asked: PlanWork[W]['asks'],
  ): Promise<PlanWork[W]['gives']> {
    const key = `${work} ${body.tag} ${JSON.stringify({ asked })}`;
    const running = this.underWay.get(key) ?? this.hand({ work, body, asked });
    this.underWay.set(key, running);
    try {
      return (await running) as PlanWork[W]['gives'];
    } finally {
      if (this.underWay.get(key) === running) this.underWay.delete(key);
    }
  }

  /** The same for what is not a plan yet. */
  async run<W extends keyof OtherWork>(work: W, asked: OtherWork[W]['asks']): Promise<OtherWork[W]['gives']> {
    return (await this.hand({ work, asked })) as OtherWork[W]['gives'];
  }

  private async hand(task: Asked): Promise<unknown> {
    if (this.pool.queueSize >= MAX_WAITING)
      throw refusedForNow('Too many others wait for the same. Nothing was saved.');
    try {
      return (await this.pool.run(task, { signal: AbortSignal.timeout(LIMIT_SECONDS * 1000) })) as unknown;
    } catch (error) {
      if ((error as { code?: unknown } | null)?.code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new PayloadTooLargeException(
          `This takes more than ${MEMORY_MB} MB of memory, the most one request may use. Split it; nothing was saved.`,
        );
      if (error instanceof Error && error.name === 'AbortError')
        throw refusedForNow(`This took more than ${LIMIT_SECONDS} s. Nothing was saved.`);
      throw error;
    }
  }

  async onModuleDestroy(): Promise<void> {
    await this.pool.close({ force: true });
  }
}
