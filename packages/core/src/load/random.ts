// Taken out once: looked up millions of times.
const { imul, log, floor } = Math;

/** Random numbers that a seed decides: the same seed gives the same numbers on every machine. */
export class Random {
  private a: number;

  /** Seed: any whole number. */
  constructor(seed: number) {
    this.a = seed >>> 0;
  }

  /** A number from 0 up to, but without, 1. The generator is mulberry32, 32 bits of state (common practice; from memory). */
  next(): number {
    this.a = (this.a + 0x6d2b79f5) >>> 0;
    let t = imul(this.a ^ (this.a >>> 15), this.a | 1);
    t = (t + imul(t ^ (t >>> 7), t | 61)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  }

  /** A whole number from 0 up to, but without, `count`. */
  below(count: number): number {
    return floor(this.next() * count);
  }

  /** A time until the next of events that come independently, `mean` apart on average: exponentially distributed. */
  exponential(mean: number): number {
    return -mean * log(1 - this.next());
  }
}
