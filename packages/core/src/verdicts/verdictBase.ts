import { addTo } from '../plan/index.js';
import { forEachOverlap, formatPrefix, overlaps, PrefixIndex, prefixTable, sortedRows } from '../address/index.js';
import type { Family, Prefix } from '../address/index.js';
import type { Domains } from '../domains/index.js';
import { GroupBuilder } from './groupBuilder.js';
import type { ReuseGroup } from './groupBuilder.js';
import { isPairwise, judge } from './judge.js';
import type { Verdict } from './judge.js';
import type { Use } from './use.js';

const families: readonly Family[] = [4, 6];

/** Uses with their verdicts and groups, as they were judged all at once; a set of verdicts lays its edits over it. Never changes. */
export interface VerdictBase {
  /** Uses by slot. */
  readonly uses: readonly Use[];
  readonly slots: ReadonlyMap<string, number>;
  /** Slots by address. */
  readonly indexes: Readonly<Record<Family, PrefixIndex>>;
  /** Conflicts, shadowed pairs and what is hidden, of those uses that have any. */
  readonly verdicts: ReadonlyMap<string, readonly Verdict[]>;
  /** Groups by their outermost prefix. */
  readonly groups: ReadonlyMap<string, ReuseGroup>;
  /** Those of them in which ranges overlap without harm. */
  readonly shared: readonly (readonly [key: string, group: ReuseGroup])[];
  /** Number of conflicts and shadowed pairs. */
  readonly count: number;
}

/** Judges all uses: one ordered sweep a family, and within each cluster its internal ranges. */
export function judgeAll(domains: Domains, uses: readonly Use[]): VerdictBase {
  const verdicts = new Map<string, Verdict[]>();
  let count = 0;
  const note = (id: string, verdict: Verdict) => {
    addTo(verdicts, id, verdict);
  };
  const record = (verdict: Verdict | undefined) => {
    if (verdict === undefined) return;
    note(verdict.a.id, verdict);
    note(verdict.b.id, verdict);
    if (isPairwise(verdict)) count++;
  };
  const groups = new Map<string, ReuseGroup>();
  const indexes = { 4: new PrefixIndex(4), 6: new PrefixIndex(6) };
  for (const family of families) {
    const slots = slotsOf(uses, family);
    const table = prefixTable(
      family,
      slots.map((slot) => (uses[slot] as Use).prefix),
    );
    const order = sortedRows(table);
    const at = (row: number) => uses[slots[row] as number] as Use;
    // Internal ranges of two clusters never meet, so only pairs with a destination in them are visited.
    const quiet = Uint8Array.from(slots, (slot) => Number((uses[slot] as Use).isInternal));
    forEachOverlap(table, order, (outer, inner) => record(judge(at(outer), at(inner), domains)), quiet);
    indexes[family] = PrefixIndex.of(table, order, (row) => slots[row] as number);
  }
  judgeWithinClusters(domains, uses, record);
  for (const family of families) {
    const builder = new GroupBuilder((group) => groups.set(formatPrefix(group.outermost), group));
    indexes[family].forEachInOrder((slot) => {
      const use = uses[slot] as Use;
      if (isGrouped(use)) builder.add(use, judgedInGroup(verdicts.get(use.id)));
    });
    builder.close();
  }
  return { uses, slots: slotMap(uses), indexes, verdicts, groups, shared: sharedOf(groups), count };
}

/** Whether a use is counted where ranges overlap without harm: what is advertised is not used there by itself. */
export function isGrouped({ advertised }: Use): boolean {
  return advertised === undefined;
}

/** How many of a range's verdicts are with ranges of its group. */
export function judgedInGroup(own: readonly Verdict[] | undefined): number {
  return own === undefined ? 0 : own.filter(({ a, b }) => isGrouped(a) && isGrouped(b)).length;
}

/** The same uses and judgements in a fresh base, once many edits were laid over the last one. */
export function settled(uses: readonly Use[], judged: Pick<VerdictBase, 'verdicts' | 'groups' | 'count'>): VerdictBase {
  const index = (family: Family) => {
    const slots = slotsOf(uses, family);
    const prefixes = slots.map((slot): Prefix => (uses[slot] as Use).prefix);
    return new PrefixIndex(family, prefixes, (row) => slots[row] as number);
  };
  return {
    uses,
    slots: slotMap(uses),
    indexes: { 4: index(4), 6: index(6) },
    shared: sharedOf(judged.groups),
    ...judged,
  };
}

function sharedOf(groups: ReadonlyMap<string, ReuseGroup>) {
  return [...groups].filter(([, { pairs }]) => pairs > 0);
}

function slotsOf(uses: readonly Use[], family: Family): number[] {
  const slots: number[] = [];
  for (let slot = 0; slot < uses.length; slot++) if ((uses[slot] as Use).prefix.family === family) slots.push(slot);
  return slots;
}

function slotMap(uses: readonly Use[]): Map<string, number> {
  const slots = new Map<string, number>();
  for (let slot = 0; slot < uses.length; slot++) slots.set((uses[slot] as Use).id, slot);
  return slots;
}

/** Internal ranges matter within one cluster only, where the sweep passes them over. */
function judgeWithinClusters(domains: Domains, uses: readonly Use[], record: (verdict: Verdict | undefined) => void) {
  const internals = new Map<string, Use[]>();
  for (const use of uses) {
    if (!use.isInternal || use.clusterId === null) continue;
    const own = internals.get(use.clusterId);
    if (own === undefined) {
      internals.set(use.clusterId, [use]);
      continue;
    }
    for (const other of own) if (overlaps(other.prefix, use.prefix)) record(judge(other, use, domains));
    own.push(use);
  }
}
