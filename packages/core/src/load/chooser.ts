import type { Random } from './random.js';
import type { BalancingMethod, LoadMember } from './scenario.js';

// Taken out once: looked up millions of times.
const { imul } = Math;

/** Chooses members by one method among those that are in service. */
export class Chooser {
  private live: number[] = [];
  private turn = 0;
  private cumulative: number[] = [];
  private readonly byClient: Map<number, number> = new Map<number, number>();
  /** Members by how many requests they have: lists linked by number, so that the least busy is found at once. */
  private readonly heads: number[] = [];
  private readonly next: Int32Array;
  private readonly before: Int32Array;
  private readonly level: Int32Array;
  private least = 0;

  constructor(
    private readonly method: BalancingMethod,
    private readonly members: readonly LoadMember[],
    private readonly random: Random,
  ) {
    this.next = new Int32Array(members.length).fill(-1);
    this.before = new Int32Array(members.length).fill(-1);
    this.level = new Int32Array(members.length).fill(-1);
  }

  /** Says who is in service from now on, and how many requests each has. */
  serve(live: readonly number[], busy: (member: number) => number): void {
    this.live = [...live];
    this.byClient.clear();
    let sum = 0;
    this.cumulative = this.live.map((member) => (sum += this.members[member]?.weight ?? 0));
    this.heads.length = 0;
    this.level.fill(-1);
    this.least = 0;
    for (const member of this.live) this.put(member, busy(member));
  }

  /** A member for a request of a client; -1 when none is in service. */
  choose(client: number): number {
    const count = this.live.length;
    if (count === 0) return -1;
    switch (this.method) {
      case 'round robin':
        return this.live[this.turn++ % count] as number;
      case 'random':
        return this.live[this.random.below(count)] as number;
      case 'weights':
        return this.weighted();
      case 'hash of the client':
        return this.hashed(client);
      case 'least connections':
        return this.leastBusy();
    }
  }

  /** Says that a member has so many requests now. */
  count(member: number, busy: number): void {
    if (this.method !== 'least connections' || (this.level[member] as number) < 0) return;
    this.takeOut(member);
    this.put(member, busy);
  }

  private weighted(): number {
    const sum = this.cumulative.at(-1) ?? 0;
    if (sum === 0) return -1;
    const at = this.random.next() * sum;
    let [low, high] = [0, this.cumulative.length - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((this.cumulative[middle] as number) > at) high = middle;
      else low = middle + 1;
    }
    return this.live[low] as number;
  }

  /** The member with the highest hash with the client: a lost member moves its own clients alone (rendezvous hashing, common practice). */
  private hashed(client: number): number {
    const known = this.byClient.get(client);
    if (known !== undefined) return known;
    let best = -1;
    let highest = -1;
    for (const member of this.live) {
      const score = mixed(imul(client + 1, 0x9e3779b1) ^ imul(member + 1, 0x85ebca6b));
      if (score > highest) [best, highest] = [member, score];
    }
    this.byClient.set(client, best);
    return best;
  }

  private leastBusy(): number {
    while (this.least < this.heads.length && (this.heads[this.least] ?? -1) < 0) this.least++;
    return this.heads[this.least] ?? -1;
  }

  /** Puts a member last in its list, so that of equally busy ones each gets its turn. */
  private put(member: number, busy: number): void {
    while (this.heads.length <= busy) this.heads.push(-1);
    const head = this.heads[busy] as number;
    this.level[member] = busy;
    if (head < 0) {
      this.heads[busy] = member;
      this.next[member] = member;
      this.before[member] = member;
    } else {
      const last = this.before[head] as number;
      this.next[last] = member;
      this.before[member] = last;
      this.next[member] = head;
      this.before[head] = member;
    }
    if (busy < this.least) this.least = busy;
  }

  private takeOut(member: number): void {
    const busy = this.level[member] as number;
    const [after, before] = [this.next[member] as number, this.before[member] as number];
    if (after === member) this.heads[busy] = -1;
    else {
      this.next[before] = after;
      this.before[after] = before;
      if (this.heads[busy] === member) this.heads[busy] = after;
    }
  }
}

/** Spreads the bits of a whole number over 32 (the last step of a common 32-bit hash; from memory). */
function mixed(value: number): number {
  let x = value;
  x = imul(x ^ (x >>> 16), 0x85ebca6b);
  x = imul(x ^ (x >>> 13), 0xc2b2ae35);
  return (x ^ (x >>> 16)) >>> 0;
}
