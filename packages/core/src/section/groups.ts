import { changedBetween, groupBy, patchedGroups } from '../plan/index.js';

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
  return patchedGroups(last, changedBetween(before, after), keyOf, order);
}
