// Taken out once: looked up millions of times.
const { log, ceil, min, max } = Math;

/** Each step is wider than the one before by this factor: a percentile is right within 2 %. */
const FACTOR = 1.02;
/** The shortest time told apart, in milliseconds. */
const LEAST = 0.01;
const STEPS = 1400;

/** Times of answers, counted by steps that grow, so that millions of them take little room. */
export class Times {
  private readonly counts = new Map<number, number>();
  private all = 0;

  /** A time in milliseconds. */
  add(ms: number): void {
    const step = min(STEPS, max(0, ceil(log(ms / LEAST) / log(FACTOR))));
    this.counts.set(step, (this.counts.get(step) ?? 0) + 1);
    this.all++;
  }

  /** The times within which 50, 95 and 99 of 100 lie, in milliseconds, within 2 %; undefined without any. */
  percentiles(): {
    readonly p50: number | undefined;
    readonly p95: number | undefined;
    readonly p99: number | undefined;
  } {
    const steps = [...this.counts].sort(([a], [b]) => a - b);
    const at = (share: number): number | undefined => {
      let left = share * this.all;
      for (const [step, count] of steps) {
        left -= count;
        if (left <= 0) return LEAST * FACTOR ** (step - 0.5);
      }
      return undefined;
    };
    return this.all === 0
      ? { p50: undefined, p95: undefined, p99: undefined }
      : { p50: at(0.5), p95: at(0.95), p99: at(0.99) };
  }
}
