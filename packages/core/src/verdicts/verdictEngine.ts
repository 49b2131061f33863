import {
  contains,
  forEachOverlap,
  formatPrefix,
  overlaps,
  PrefixIndex,
  prefixTable,
  sortedRows,
} from '../address/index.js';
import type { Family, Prefix } from '../address/index.js';
import type { Domains } from '../domains/index.js';
import { judge } from './judge.js';
import type { Verdict } from './judge.js';
import { isHolding } from './use.js';
import type { Use } from './use.js';

/** Ranges that overlap, harmlessly where no verdict says otherwise: the outermost of them and all inside it. A changed group is a new object. */
export interface ReuseGroup {
  readonly outermost: Prefix;
  /** How many ranges are in it. */
  readonly count: number;
  /** Overlapping pairs in the group that are neither conflict nor shadowed. */
  readonly pairs: number;
}

const families: readonly Family[] = [4, 6];

/**
 * Holds all uses and their verdicts, and keeps both true as single uses come and go. The first fill is
 * one ordered sweep a family; later changes look only at what the changed range overlaps.
 */
export class VerdictEngine {
  private readonly uses: (Use | undefined)[] = [];
  private readonly slots = new Map<string, number>();
  private readonly free: number[] = [];
  private readonly indexes: Record<Family, PrefixIndex>;
  private readonly verdictsBySlot: Verdict[][] = [];
  private readonly internalsOf = new Map<string, number[]>();
  private readonly groups = new Map<string, ReuseGroup>();
  private count = 0;
  /** Rises with every update that changed anything. */
  version = 0;

  constructor(
    private readonly domains: Domains,
    uses: readonly Use[],
  ) {
    uses.forEach((use, slot) => {
      this.uses.push(use);
      this.slots.set(use.id, slot);
      this.verdictsBySlot.push([]);
      this.noteInternal(use, slot);
    });
    this.indexes = { 4: this.indexFamily(4), 6: this.indexFamily(6) };
    for (const family of families) this.sweep(family);
    for (const slots of this.internalsOf.values()) this.judgeInternals(slots);
    for (const family of families) this.groupAll(family);
  }

  /** Number of conflicts and shadowed pairs. */
  get verdictCount(): number {
    return this.count;
  }

  /** Conflicts and shadowed pairs of one use. */
  verdictsOf(useId: string): readonly Verdict[] {
    const slot = this.slots.get(useId);
    return slot === undefined ? [] : (this.verdictsBySlot[slot] ?? []);
  }

  /** Every conflict and shadowed pair, each once. */
  *verdicts(): Generator<Verdict> {
    for (const [slot, own] of this.verdictsBySlot.entries()) {
      for (const verdict of own) if (verdict.a === this.uses[slot]) yield verdict;
    }
  }

  /** Ranges that overlap harmlessly, by group. */
  reuseGroups(): readonly ReuseGroup[] {
    return [...this.groups.values()].filter(({ pairs }) => pairs > 0);
  }

  /** The uses within a prefix, those around it included, in order of address. */
  *usesWithin(hull: Prefix): Generator<Use> {
    const slots: number[] = [];
    this.indexes[hull.family].forEachOverlapping(hull, (slot) => slots.push(slot));
    for (const slot of slots) yield this.uses[slot] as Use;
  }

  /** Takes uses out and puts others in; ids of both may repeat (a use that changed). */
  update(gone: readonly Use[], come: readonly Use[]): void {
    if (gone.length + come.length > 0) this.version++;
    for (const use of gone) this.take(use);
    for (const use of come) this.put(use);
  }

  private indexFamily(family: Family): PrefixIndex {
    const slots: number[] = [];
    const prefixes: Prefix[] = [];
    this.uses.forEach((use, slot) => {
      if (use?.prefix.family !== family) return;
      slots.push(slot);
      prefixes.push(use.prefix);
    });
    return new PrefixIndex(family, prefixes, (position) => slots[position] as number);
  }

  private sweep(family: Family): void {
    const rows = this.uses.flatMap((use, slot) => (use?.prefix.family === family ? [slot] : []));
    const at = (row: number) => this.uses[rows[row] as number] as Use;
    const table = prefixTable(
      family,
      rows.map((slot) => (this.uses[slot] as Use).prefix),
    );
    const isInternal = Uint8Array.from(rows, (slot) => Number((this.uses[slot] as Use).isInternal));
    // Internal ranges of two clusters never meet, so only pairs with a destination in them are visited.
    forEachOverlap(
      table,
      sortedRows(table),
      (outer, inner) => this.record(judge(at(outer), at(inner), this.domains)),
      isInternal,
    );
  }

  private judgeInternals(slots: readonly number[]): void {
    slots.forEach((slot, i) => {
      for (const other of slots.slice(i + 1)) {
        const [a, b] = [this.uses[slot] as Use, this.uses[other] as Use];
        if (overlaps(a.prefix, b.prefix)) this.record(judge(a, b, this.domains));
      }
    });
  }

  private record(verdict: Verdict | undefined): void {
    if (verdict === undefined) return;
    this.verdictsBySlot[this.slots.get(verdict.a.id) as number]?.push(verdict);
    this.verdictsBySlot[this.slots.get(verdict.b.id) as number]?.push(verdict);
    this.count++;
  }

  private noteInternal(use: Use, slot: number): void {
    if (!use.isInternal || use.clusterId === null) return;
    const known = this.internalsOf.get(use.clusterId);
    if (known === undefined) this.internalsOf.set(use.clusterId, [slot]);
    else known.push(slot);
  }

  private take(use: Use): void {
    const slot = this.slots.get(use.id);
    if (slot === undefined) return;
    const held = this.uses[slot] as Use;
    const own = this.verdictsBySlot[slot] ?? [];
    for (const verdict of own) {
      const otherId = verdict.a === held ? verdict.b.id : verdict.a.id;
      const others = this.verdictsBySlot[this.slots.get(otherId) as number] ?? [];
      others.splice(others.indexOf(verdict), 1);
      this.count--;
    }
    this.verdictsBySlot[slot] = [];
    const root = this.outermostAround(held.prefix);
    this.indexes[held.prefix.family].remove(held.prefix, slot);
    if (held.clusterId !== null) {
      const rest = (this.internalsOf.get(held.clusterId) ?? []).filter((other) => other !== slot);
      this.internalsOf.set(held.clusterId, rest);
    }
    this.uses[slot] = undefined;
    this.slots.delete(use.id);
    this.free.push(slot);
    this.leaveGroup(held, root, own.length);
  }

  private put(use: Use): void {
    const slot = this.free.pop() ?? this.uses.length;
    this.uses[slot] = use;
    this.slots.set(use.id, slot);
    this.verdictsBySlot[slot] = [];
    const index = this.indexes[use.prefix.family];
    let overlapping = 0;
    index.forEachOverlapping(use.prefix, (other) => {
      const neighbour = this.uses[other] as Use;
      if (isHeldPair(use, neighbour)) return;
      overlapping++;
      // Two internal ranges matter within one cluster only.
      if (use.isInternal && neighbour.isInternal && use.clusterId !== neighbour.clusterId) return;
      this.record(judge(use, neighbour, this.domains));
    });
    this.joinGroup(use.prefix, overlapping - this.verdictsOf(use.id).length);
    index.insert(use.prefix, slot);
    this.noteInternal(use, slot);
  }

  private outermostAround(value: Prefix): Prefix {
    let found: Prefix | undefined;
    this.indexes[value.family].forEachAround(value, (slot) => {
      found ??= this.uses[slot]?.prefix;
    });
    return found ?? value;
  }

  /** Adds a prefix that is not yet in the index, with its harmless pairs, to the group it falls in or over. */
  private joinGroup(value: Prefix, pairs: number): void {
    const outermost = this.outermostAround(value);
    let joined = this.groups.get(formatPrefix(outermost)) ?? { outermost, count: 0, pairs: 0 };
    if (outermost === value) {
      // Nothing is around it: the groups inside become part of this one.
      for (const inner of this.rootsInside(value)) {
        const group = this.groups.get(formatPrefix(inner));
        if (group === undefined) continue;
        joined = { outermost, count: joined.count + group.count, pairs: joined.pairs + group.pairs };
        this.groups.delete(formatPrefix(inner));
      }
    }
    this.groups.set(formatPrefix(outermost), { outermost, count: joined.count + 1, pairs: joined.pairs + pairs });
  }

  /** Takes a prefix that has left the index out of its group. */
  private leaveGroup(held: Use, root: Prefix, judged: number): void {
    const value = held.prefix;
    const group = this.groups.get(formatPrefix(root));
    if (group === undefined) return;
    if (
      formatPrefix(this.outermostAround(value)) !== formatPrefix(root) ||
      (formatPrefix(value) === formatPrefix(root) && !this.holds(root))
    ) {
      this.groups.delete(formatPrefix(root));
      this.groupInside(root);
      return;
    }
    let overlapping = 0;
    this.indexes[held.prefix.family].forEachOverlapping(held.prefix, (slot) => {
      if (!isHeldPair(held, this.uses[slot] as Use)) overlapping++;
    });
    this.groups.set(formatPrefix(root), {
      outermost: root,
      count: group.count - 1,
      pairs: group.pairs - (overlapping - judged),
    });
  }

  private holds(value: Prefix): boolean {
    let isHeld = false;
    this.indexes[value.family].forEachAround(value, (_, length) => {
      isHeld ||= length === value.length;
    });
    return isHeld;
  }

  private rootsInside(hull: Prefix): Prefix[] {
    const roots: Prefix[] = [];
    this.indexes[hull.family].forEachInside(hull, (slot) => {
      const next = (this.uses[slot] as Use).prefix;
      const last = roots.at(-1);
      if (last === undefined || !contains(last, next)) roots.push(next);
    });
    return roots;
  }

  private groupAll(family: Family): void {
    const group = new GroupBuilder((built) => this.groups.set(formatPrefix(built.outermost), built));
    this.indexes[family].forEachInOrder((slot) =>
      group.add(this.uses[slot] as Use, this.verdictsBySlot[slot]?.length ?? 0),
    );
    group.close();
  }

  private groupInside(hull: Prefix): void {
    const group = new GroupBuilder((built) => this.groups.set(formatPrefix(built.outermost), built));
    this.indexes[hull.family].forEachInside(hull, (slot) =>
      group.add(this.uses[slot] as Use, this.verdictsBySlot[slot]?.length ?? 0),
    );
    group.close();
  }
}

function isHolder(use: Use): boolean {
  return use.kind === 'blocks' || use.kind === 'subnets';
}

/** A range and the block or subnet it is in: they overlap as they should, and are no reuse. */
function isHeldPair(one: Use, other: Use): boolean {
  return (isHolder(one) && isHolding(one, other)) || (isHolder(other) && isHolding(other, one));
}

/** Makes groups of prefixes that come in order: the depth of what is open is the number of pairs a prefix adds. */
class GroupBuilder {
  private readonly open: Use[] = [];
  /** Those among the open ones that may hold others: few, where the open ones can be thousands. */
  private readonly holders: Use[] = [];
  private root: Prefix | undefined;
  private count = 0;
  private pairs = 0;
  private judged = 0;

  constructor(private readonly done: (group: ReuseGroup) => void) {}

  add(next: Use, verdicts: number): void {
    while (this.open.length > 0 && !contains((this.open.at(-1) as Use).prefix, next.prefix)) {
      if (this.open.pop() === this.holders.at(-1)) this.holders.pop();
    }
    if (this.open.length === 0) {
      this.close();
      this.root = next.prefix;
    }
    this.pairs += this.open.length;
    for (const holder of this.holders) if (isHeldPair(holder, next)) this.pairs--;
    // Of two alike, the one that is held can come first.
    if (isHolder(next)) {
      for (let at = this.open.length - 1; at >= 0; at--) {
        const other = this.open[at] as Use;
        if (other.prefix.length !== next.prefix.length) break;
        if (!isHolder(other) && isHeldPair(next, other)) this.pairs--;
      }
      this.holders.push(next);
    }
    this.open.push(next);
    this.count++;
    this.judged += verdicts;
  }

  close(): void {
    // Each verdict was counted at both its ends.
    if (this.root !== undefined)
      this.done({ outermost: this.root, count: this.count, pairs: this.pairs - this.judged / 2 });
    this.root = undefined;
    this.count = this.pairs = this.judged = 0;
  }
}
