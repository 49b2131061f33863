import { changedBetween, groupBy } from '../plan/index.js';

/** Entities in groups by a key. */
export type Groups<E> = ReadonlyMap<string, readonly E[]>;

/** Groups entities, each group in an order of its own. */
export function inGroups<E>(
  items: readonly E[],
  keyOf: (item: E) => string,
  order?: (a: E, b: E) => number,
): Groups<E> {
  const groups = groupBy(items, keyOf);
  if (order !== undefined) for (const group of groups.values()) group.sort(order);
  return groups;
}

/** The groups after an edit: those it touched are new, all others are the same objects as before. */
export function followGroups<E extends { readonly id: string }>(
  last: Groups<E>,
  [before, after]: readonly [readonly E[], readonly E[]],
  keyOf: (item: E) => string,
  order?: (a: E, b: E) => number,
): Groups<E> {
  const { gone, come } = changedBetween(before, after);
  if (gone.length + come.length === 0) return last;
  const groups = new Map(last);
  const out = new Set(gone);
  const added = groupBy(come, keyOf);
  for (const key of new Set([...gone.map(keyOf), ...added.keys()])) {
    const kept = (groups.get(key) ?? []).filter((item) => !out.has(item));
    const group = [...kept, ...(added.get(key) ?? [])];
    // Without an order of their own, entities stand in that of the plan.
    group.sort(order ?? ((a, b) => (a.id < b.id ? -1 : 1)));
    if (group.length === 0) groups.delete(key);
    else groups.set(key, group);
  }
  return groups;
}
