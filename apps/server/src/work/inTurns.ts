import { setImmediate } from 'node:timers/promises';

/** Longest stretch of computing before other requests get their turn, in milliseconds. */
const TURN_MS = 5;

/** Runs a computation that comes in steps, answering other requests between them. */
export async function inTurns<T>(steps: Generator<undefined, T>): Promise<T> {
  let since = performance.now();
  for (;;) {
    const step = steps.next();
    if (step.done === true) return step.value;
    if (performance.now() - since < TURN_MS) continue;
    await setImmediate();
    since = performance.now();
  }
}
