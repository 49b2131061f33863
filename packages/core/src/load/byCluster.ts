import { Chooser } from './chooser.js';
import type { Random } from './random.js';
import type { BalancingMethod, LoadMember } from './scenario.js';

/**
 * Chooses members of several clusters: first a cluster by its weight, then one of its members by the method, as callers that pick an exporter and
 * then a pod. Only the lowest rank that has anybody in service is called; the next one takes over when none is left.
 */
export class ByCluster {
  private readonly whole: Chooser;
  private readonly own: ReadonlyMap<string, Chooser>;
  private open: { readonly chooser: Chooser; readonly upTo: number }[] = [];

  constructor(
    method: BalancingMethod,
    private readonly members: readonly LoadMember[],
    private readonly random: Random,
  ) {
    this.whole = new Chooser(method, members, random);
    const clusters = new Set(members.map(({ cluster = '' }) => cluster));
    this.own =
      clusters.size < 2
        ? new Map()
        : new Map([...clusters].map((name) => [name, new Chooser(method, members, random)]));
  }

  /** Says who is in service from now on, and how many requests each has. */
  serve(live: readonly number[], busy: (member: number) => number): void {
    if (this.own.size === 0) {
      this.whole.serve(live, busy);
      return;
    }
    const rankOf = (member: number) => this.members[member]?.rank ?? 1;
    const rank = live.reduce((least, member) => Math.min(least, rankOf(member)), Number.POSITIVE_INFINITY);
    let sum = 0;
    this.open = [...this.own].flatMap(([name, chooser]) => {
      const here = live.filter((member) => rankOf(member) === rank && (this.members[member]?.cluster ?? '') === name);
      chooser.serve(here, busy);
      sum += here.length === 0 ? 0 : (this.members[here[0] ?? 0]?.clusterWeight ?? 1);
      return here.length === 0 ? [] : [{ chooser, upTo: sum }];
    });
  }

  /** A member for a request of a client; -1 when none is in service. */
  choose(client: number): number {
    if (this.own.size === 0) return this.whole.choose(client);
    const sum = this.open.at(-1)?.upTo ?? 0;
    if (sum === 0) return -1;
    const at = this.random.next() * sum;
    return this.open.find(({ upTo }) => upTo > at)?.chooser.choose(client) ?? -1;
  }

  /** Says that a member has so many requests now. */
  count(member: number, busy: number): void {
    (this.own.get(this.members[member]?.cluster ?? '') ?? this.whole).count(member, busy);
  }
}
