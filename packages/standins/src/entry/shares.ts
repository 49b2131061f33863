/** The golden ratio’s fraction: multiples of it fall evenly into a whole, however many there are (Weyl’s theorem). */
const STEP = (Math.sqrt(5) - 1) / 2;

/** Takes turns among some, each with its share of the turns, so that few turns come close to the shares already. */
export class Shares<T> {
  private readonly ends: readonly number[];
  private at = 0;

  /** Shares need not add up to 1; the first is taken where none is above 0. */
  constructor(
    private readonly first: T,
    private readonly all: readonly { readonly value: T; readonly share: number }[],
  ) {
    const sum = all.reduce((total, { share }) => total + share, 0);
    let end = 0;
    this.ends = all.map(({ share }) => (end += share / sum));
  }

  next(): T {
    this.at = (this.at + STEP) % 1;
    const found = this.ends.findIndex((end) => this.at < end);
    return (this.all[found] ?? this.all.at(-1))?.value ?? this.first;
  }
}
