import { refusedForNow } from './refusedForNow.js';

/** Lets a few through at once; some wait, and whoever finds the queue full is refused at once. */
export class Gate {
  private inside = 0;
  private readonly waiting: (() => void)[] = [];

  constructor(
    private readonly most: number,
    private readonly mostWaiting: number,
  ) {}

  /** Runs when it is its turn. */
  async run<T>(work: () => Promise<T>): Promise<T> {
    if (this.inside >= this.most) {
      if (this.waiting.length >= this.mostWaiting)
        throw refusedForNow('Too many others wait for the same. Nothing was saved.');
      await new Promise<void>((resolve) => this.waiting.push(resolve));
    } else this.inside++;
    try {
      return await work();
    } finally {
      const next = this.waiting.shift();
      // Whoever is next takes the place.
      if (next === undefined) this.inside--;
      else next();
    }
  }
}
