import type { Progress, Steps } from '@wide-lattice/core/working';

/** Tells how far the computation of a request is. */
export type Tell = (id: number, progress: Progress) => void;

/** Longest stretch of computing before others are answered, where its steps allow, in milliseconds. */
const TURN_MS = 30;
/** How often it is told how far a computation is, in milliseconds. */
const TOLD_MS = 200;

/** Runs computations that come in steps, others being answered between them, until they end or are given up. */
export class Turns {
  private readonly stopped = new Set<number>();
  private readonly running = new Set<number>();
  private tell: Tell = () => undefined;

  listen(tell: Tell): void {
    this.tell = tell;
  }

  /** What a request comes to: at once, or after its steps. */
  run(id: number, answer: unknown): unknown {
    return isSteps(answer) ? this.inTurns(id, answer) : answer;
  }

  /** Has a computation end at its next step; what is not running any more has nothing to end. */
  stop(id: number): void {
    if (this.running.has(id)) this.stopped.add(id);
  }

  private async inTurns<T>(id: number, steps: Steps<T>): Promise<T> {
    this.running.add(id);
    try {
      let since = performance.now();
      let told = since;
      for (;;) {
        const step = steps.next();
        if (step.done === true) return step.value;
        const now = performance.now();
        if (now - since < TURN_MS) continue;
        if (now - told >= TOLD_MS) {
          this.tell(id, step.value);
          told = now;
        }
        await new Promise((resolve) => setTimeout(resolve));
        if (this.stopped.has(id)) throw new Error('It was stopped before it was done.');
        since = performance.now();
      }
    } finally {
      this.running.delete(id);
      this.stopped.delete(id);
    }
  }
}

function isSteps(answer: unknown): answer is Steps<unknown> {
  return typeof answer === 'object' && answer !== null && 'next' in answer && Symbol.iterator in answer;
}
