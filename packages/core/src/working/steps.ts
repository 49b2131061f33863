/** How far a computation is that comes in steps. */
export interface Progress {
  /** What is being computed, in words that follow "Computing". */
  readonly what: string;
  readonly done: number;
  readonly of: number;
}

/** A computation that can be paused, and given up, between its steps. */
export type Steps<T> = Generator<Progress, T>;

/** Takes every step at once. */
export function finished<T>(steps: Generator<unknown, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done === true) return step.value;
  }
}
