/** Events by time: a binary heap over plain arrays, since a simulated hour has millions of them. Of events at one time the first added comes first. */
export class EventQueue {
  private readonly times: number[] = [];
  private readonly orders: number[] = [];
  private readonly whats: number[] = [];
  private added = 0;

  get size(): number {
    return this.times.length;
  }

  /** Time of the next event; Infinity when there is none. */
  get nextTime(): number {
    return this.times[0] ?? Number.POSITIVE_INFINITY;
  }

  add(time: number, what: number): void {
    const { times, orders, whats } = this;
    const order = this.added++;
    let at = times.length;
    times.push(time);
    orders.push(order);
    whats.push(what);
    while (at > 0) {
      const up = (at - 1) >> 1;
      const above = times[up] as number;
      if (above < time || above === time) break;
      times[at] = above;
      orders[at] = orders[up] as number;
      whats[at] = whats[up] as number;
      at = up;
    }
    times[at] = time;
    orders[at] = order;
    whats[at] = what;
  }

  /** Takes the next event. */
  take(): number {
    const { times, orders, whats } = this;
    const what = whats[0] as number;
    const time = times.pop() as number;
    const order = orders.pop() as number;
    const last = whats.pop() as number;
    const count = times.length;
    if (count === 0) return what;
    let at = 0;
    for (;;) {
      let down = 2 * at + 1;
      if (down >= count) break;
      const right = down + 1;
      if (right < count && this.isBefore(right, down)) down = right;
      const below = times[down] as number;
      if (time < below || (time === below && order < (orders[down] as number))) break;
      times[at] = below;
      orders[at] = orders[down] as number;
      whats[at] = whats[down] as number;
      at = down;
    }
    times[at] = time;
    orders[at] = order;
    whats[at] = last;
    return what;
  }

  private isBefore(a: number, b: number): boolean {
    const [x, y] = [this.times[a] as number, this.times[b] as number];
    return x < y || (x === y && (this.orders[a] as number) < (this.orders[b] as number));
  }
}
