import { contains, forEachOverlap, prefixTable, PrefixIndex, sortedRows } from '../address/index.js';
import type { Family, Prefix } from '../address/index.js';
import type { Domains } from '../domains/index.js';
import { judge } from './judge.js';
import type { Verdict } from './judge.js';
import type { Use } from './use.js';

/** Ranges that overlap without harm today: the outermost of them and all inside it. */
export interface ReuseGroup {
  readonly outermost: Prefix;
  readonly uses: readonly Use[];
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
  private readonly groups = new Map<Use, ReuseGroup>();
  private count = 0;

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
    for (const family of families) this.regroup(this.rootPrefixes(family));
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
    return [...this.groups.values()];
  }

  /** Every use held. */
  *allUses(): Generator<Use> {
    for (const use of this.uses) if (use !== undefined) yield use;
  }

  /** Takes uses out and puts others in; ids of both may repeat (a use that changed). */
  update(gone: readonly Use[], come: readonly Use[]): void {
    const hulls = [...gone, ...come].map((use) => use.prefix);
    const before = hulls.map((hull) => this.outermostAround(hull));
    for (const hull of before) this.ungroup(hull);
    for (const use of gone) this.take(use);
    for (const use of come) this.put(use);
    this.regroup(before.map((hull) => this.outermostAround(hull)));
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
        if (contains(a.prefix, b.prefix) || contains(b.prefix, a.prefix)) this.record(judge(a, b, this.domains));
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
    for (const verdict of this.verdictsBySlot[slot] ?? []) {
      const otherId = verdict.a === held ? verdict.b.id : verdict.a.id;
      const others = this.verdictsBySlot[this.slots.get(otherId) as number] ?? [];
      others.splice(others.indexOf(verdict), 1);
      this.count--;
    }
    this.verdictsBySlot[slot] = [];
    this.indexes[held.prefix.family].remove(held.prefix, slot);
    if (held.clusterId !== null) {
      const rest = (this.internalsOf.get(held.clusterId) ?? []).filter((other) => other !== slot);
      this.internalsOf.set(held.clusterId, rest);
    }
    this.uses[slot] = undefined;
    this.slots.delete(use.id);
    this.free.push(slot);
  }

  private put(use: Use): void {
    const slot = this.free.pop() ?? this.uses.length;
    this.uses[slot] = use;
    this.slots.set(use.id, slot);
    this.verdictsBySlot[slot] = [];
    const index = this.indexes[use.prefix.family];
    index.forEachOverlapping(use.prefix, (other) => {
      const neighbour = this.uses[other] as Use;
      // Two internal ranges matter within one cluster only.
      if (use.isInternal && neighbour.isInternal && use.clusterId !== neighbour.clusterId) return;
      this.record(judge(use, neighbour, this.domains));
    });
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

  private rootPrefixes(family: Family): Prefix[] {
    const roots: Prefix[] = [];
    this.indexes[family].forEachInOrder((slot) => {
      const next = (this.uses[slot] as Use).prefix;
      const last = roots.at(-1);
      if (last === undefined || !contains(last, next)) roots.push(next);
    });
    return roots;
  }

  private ungroup(hull: Prefix): void {
    for (const use of this.usesWithin(hull)) this.groups.delete(use);
  }

  /** Makes the groups anew inside the given hulls, none of which lies partly in a group. */
  private regroup(hulls: readonly Prefix[]): void {
    for (const hull of hulls) {
      let group: Use[] = [];
      for (const use of this.usesWithin(hull)) {
        const root = group[0];
        if (root !== undefined && contains(root.prefix, use.prefix)) {
          group.push(use);
          continue;
        }
        this.addGroup(group);
        group = [use];
      }
      this.addGroup(group);
    }
  }

  private *usesWithin(hull: Prefix): Generator<Use> {
    const slots: number[] = [];
    const index = this.indexes[hull.family];
    index.forEachAround(hull, (slot) => slots.push(slot));
    index.forEachInside(hull, (slot) => slots.push(slot));
    for (const slot of slots) yield this.uses[slot] as Use;
  }

  private addGroup(group: readonly Use[]): void {
    const root = group[0];
    if (root === undefined || group.length < 2) return;
    const open: Prefix[] = [];
    let pairs = 0;
    let judged = 0;
    for (const use of group) {
      while (open.length > 0 && !contains(open.at(-1) as Prefix, use.prefix)) open.pop();
      pairs += open.length;
      open.push(use.prefix);
      judged += this.verdictsBySlot[this.slots.get(use.id) as number]?.length ?? 0;
    }
    // Each verdict was counted at both its ends.
    const harmless = pairs - judged / 2;
    if (harmless > 0) this.groups.set(root, { outermost: root.prefix, uses: group, pairs: harmless });
  }
}
