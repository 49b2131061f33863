import { comparePrefixes, contains, formatPrefix, overlaps } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import type { Domains } from '../domains/index.js';
import { GroupBuilder, isHeldPair } from './groupBuilder.js';
import type { ReuseGroup } from './groupBuilder.js';
import { isPairwise, judge } from './judge.js';
import type { Verdict } from './judge.js';
import type { Use } from './use.js';
import { isGrouped, judgeAll, judgedInGroup, settled } from './verdictBase.js';
import type { VerdictBase } from './verdictBase.js';

const none: readonly never[] = [];

/** More edits than this on one base make every question look through them, so a fresh base is laid. */
const MAX_EDITS = 256;

/**
 * All uses with their verdicts. A set never changes: an edit gives a new one, which shares the base and lays over it what
 * the edits since touched. So a draft can be judged beside the plan as it stands, and costs only what it overlaps.
 */
export class VerdictSet {
  /** Slots of the base whose uses are gone. */
  private readonly gone: Set<number>;
  /** Uses that came since. */
  private readonly come: Map<string, Use>;
  /** Verdicts of those uses that have others than in the base. */
  private readonly changed: Map<string, readonly Verdict[]>;
  private readonly regrouped: Map<string, ReuseGroup | undefined>;
  private count: number;

  private constructor(
    private readonly domains: Domains,
    private readonly base: VerdictBase,
    last?: VerdictSet,
  ) {
    this.gone = new Set(last?.gone);
    this.come = new Map(last?.come);
    this.changed = new Map(last?.changed);
    this.regrouped = new Map(last?.regrouped);
    this.count = last?.count ?? base.count;
  }

  /** Judges all uses. */
  static of(domains: Domains, uses: readonly Use[]): VerdictSet {
    return new VerdictSet(domains, judgeAll(domains, uses));
  }

  /** The set without some uses and with others; ids of both may repeat (a use that changed). */
  with(gone: readonly Use[], come: readonly Use[]): VerdictSet {
    if (gone.length + come.length === 0) return this;
    const next = new VerdictSet(this.domains, this.base, this);
    for (const use of gone) next.take(use);
    for (const use of come) next.put(use);
    return next.gone.size + next.come.size > MAX_EDITS ? next.settle() : next;
  }

  /** Number of conflicts and shadowed pairs. */
  get verdictCount(): number {
    return this.count;
  }

  /** The use with that id; undefined when there is none. */
  find(useId: string): Use | undefined {
    const come = this.come.get(useId);
    if (come !== undefined) return come;
    const slot = this.base.slots.get(useId);
    return slot === undefined || this.gone.has(slot) ? undefined : this.base.uses[slot];
  }

  /** Conflicts and shadowed pairs of one use, and what of a summary is hidden. */
  verdictsOf(useId: string): readonly Verdict[] {
    return this.changed.get(useId) ?? this.base.verdicts.get(useId) ?? none;
  }

  /** Every conflict and shadowed pair, each once, in the order of the ids of what they are about. */
  verdicts(): Verdict[] {
    const ids = new Set([...this.base.verdicts.keys(), ...this.changed.keys()]);
    const found: Verdict[] = [];
    for (const id of [...ids].sort()) {
      const own = this.verdictsOf(id).filter((verdict) => verdict.a.id === id && isPairwise(verdict));
      if (own.length > 1) own.sort((one, other) => (one.b.id < other.b.id ? -1 : 1));
      for (const verdict of own) found.push(verdict);
    }
    return found;
  }

  /** The same in no order, for counting. */
  unordered(): Verdict[] {
    const found: Verdict[] = [];
    const take = (own: readonly Verdict[], id: string) => {
      for (const verdict of own) if (verdict.a.id === id && isPairwise(verdict)) found.push(verdict);
    };
    this.base.verdicts.forEach((own, id) => !this.changed.has(id) && take(own, id));
    this.changed.forEach(take);
    return found;
  }

  /** Ranges that overlap harmlessly, by group, in order of address. */
  reuseGroups(): readonly ReuseGroup[] {
    const found: ReuseGroup[] = [];
    for (const [key, group] of this.base.shared) if (!this.regrouped.has(key)) found.push(group);
    for (const group of this.regrouped.values()) if (group !== undefined && group.pairs > 0) found.push(group);
    return found.sort((a, b) => comparePrefixes(a.outermost, b.outermost));
  }

  /** The uses within a prefix, those around it included, in order of address. */
  usesWithin(hull: Prefix): Use[] {
    return this.inOrder([...this.around(hull), ...this.inside(hull)].filter(isGrouped), hull);
  }

  /** A fresh base of what this set holds. */
  private settle(): VerdictSet {
    const uses = [...this.base.uses.filter((_, slot) => !this.gone.has(slot)), ...this.come.values()];
    const verdicts = new Map([...this.base.verdicts, ...this.changed].filter(([, own]) => own.length > 0));
    const groups = new Map([...this.base.groups, ...this.regrouped].filter(([, group]) => group !== undefined));
    // What was regrouped to nothing has just been left out.
    const judged = { verdicts, groups: groups as Map<string, ReuseGroup>, count: this.count };
    return new VerdictSet(this.domains, settled(uses, judged));
  }

  private take(use: Use): void {
    const held = this.find(use.id);
    if (held === undefined) return;
    const own = this.verdictsOf(use.id);
    for (const verdict of own) {
      const otherId = verdict.a.id === use.id ? verdict.b.id : verdict.a.id;
      this.changed.set(
        otherId,
        this.verdictsOf(otherId).filter((each) => each !== verdict),
      );
    }
    this.count -= countOf(own);
    this.changed.set(use.id, none);
    const root = this.outermostAround(held.prefix);
    if (!this.come.delete(use.id)) this.gone.add(this.base.slots.get(use.id) as number);
    if (isGrouped(held)) this.leaveGroup(held, root, judgedInGroup(own));
  }

  private put(use: Use): void {
    const { prefix } = use;
    let overlapping = 0;
    const own: Verdict[] = [];
    for (const neighbour of [...this.around(prefix), ...this.inside(prefix)]) {
      if (isHeldPair(use, neighbour)) continue;
      if (isGrouped(neighbour)) overlapping++;
      // Two internal ranges matter within one cluster only.
      if (use.isInternal && neighbour.isInternal && use.clusterId !== neighbour.clusterId) continue;
      const verdict = judge(use, neighbour, this.domains);
      if (verdict === undefined) continue;
      own.push(verdict);
      this.changed.set(neighbour.id, [...this.verdictsOf(neighbour.id), verdict]);
    }
    this.count += countOf(own);
    if (isGrouped(use)) this.joinGroup(prefix, overlapping - judgedInGroup(own));
    this.changed.set(use.id, own);
    this.come.set(use.id, use);
  }

  /** Uses that hold the prefix whole, equal ones included. */
  private around(value: Prefix): Use[] {
    const found: Use[] = [];
    this.base.indexes[value.family].forEachAround(value, (slot) => {
      if (!this.gone.has(slot)) found.push(this.base.uses[slot] as Use);
    });
    for (const use of this.come.values()) if (contains(use.prefix, value)) found.push(use);
    return found;
  }

  /** Uses strictly inside the prefix. */
  private inside(value: Prefix): Use[] {
    const found: Use[] = [];
    this.base.indexes[value.family].forEachInside(value, (slot) => {
      if (!this.gone.has(slot)) found.push(this.base.uses[slot] as Use);
    });
    for (const use of this.come.values())
      if (use.prefix.length > value.length && contains(value, use.prefix)) found.push(use);
    return found;
  }

  /** What the base gives comes in order already; only what came since has to be put in its place. */
  private inOrder(uses: Use[], within: Prefix): Use[] {
    for (const use of this.come.values())
      if (overlaps(use.prefix, within)) return uses.sort((a, b) => comparePrefixes(a.prefix, b.prefix));
    return uses;
  }

  private outermostAround(value: Prefix): Prefix {
    let found = value;
    for (const use of this.around(value)) if (isGrouped(use) && use.prefix.length < found.length) found = use.prefix;
    return found;
  }

  private groupAt(key: string): ReuseGroup | undefined {
    return this.regrouped.has(key) ? this.regrouped.get(key) : this.base.groups.get(key);
  }

  /** Adds a prefix that is not yet held, with its harmless pairs, to the group it falls in or over. */
  private joinGroup(value: Prefix, pairs: number): void {
    const outermost = this.outermostAround(value);
    let joined = this.groupAt(formatPrefix(outermost)) ?? { outermost, count: 0, pairs: 0 };
    if (outermost === value) {
      // Nothing larger is around it: the groups inside become part of this one.
      for (const inner of this.rootsInside(value)) {
        const group = this.groupAt(formatPrefix(inner));
        if (group === undefined) continue;
        joined = { outermost, count: joined.count + group.count, pairs: joined.pairs + group.pairs };
        this.regrouped.set(formatPrefix(inner), undefined);
      }
    }
    const group = { outermost, count: joined.count + 1, pairs: joined.pairs + pairs };
    this.regrouped.set(formatPrefix(outermost), group);
  }

  /** Takes a prefix that is no longer held out of its group. */
  private leaveGroup(held: Use, root: Prefix, judged: number): void {
    const key = formatPrefix(root);
    const group = this.groupAt(key);
    if (group === undefined) return;
    const isRoot = formatPrefix(held.prefix) === key;
    if (isRoot && !this.around(root).some((use) => isGrouped(use) && use.prefix.length === root.length)) {
      this.regrouped.set(key, undefined);
      this.groupInside(root);
      return;
    }
    let overlapping = 0;
    for (const use of [...this.around(held.prefix), ...this.inside(held.prefix)])
      if (isGrouped(use) && !isHeldPair(held, use)) overlapping++;
    this.regrouped.set(key, {
      outermost: root,
      count: group.count - 1,
      pairs: group.pairs - (overlapping - judged),
    });
  }

  private rootsInside(hull: Prefix): Prefix[] {
    const roots: Prefix[] = [];
    for (const { prefix } of this.inOrder(this.inside(hull).filter(isGrouped), hull)) {
      const last = roots.at(-1);
      if (last === undefined || !contains(last, prefix)) roots.push(prefix);
    }
    return roots;
  }

  private groupInside(hull: Prefix): void {
    const builder = new GroupBuilder((built) => this.regrouped.set(formatPrefix(built.outermost), built));
    for (const use of this.inOrder(this.inside(hull).filter(isGrouped), hull))
      builder.add(use, judgedInGroup(this.verdictsOf(use.id)));
    builder.close();
  }
}

function countOf(own: readonly Verdict[]): number {
  return own.filter(isPairwise).length;
}
