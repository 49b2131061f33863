import { lastChange } from './changedBetween.js';
import type { Changed } from './changedBetween.js';

const known = new WeakMap<object, Map<string, ReadonlyMap<string, readonly unknown[]>>>();

/**
 * The entities of a collection by the value of one field, each group in the order of the plan, the groups in none. Grouped
 * once for each state of the collection; groups that an edit did not touch are the same objects as before.
 */
export function grouped<F extends string, E extends { readonly [K in F]: string }>(
  items: readonly E[],
  field: F,
): ReadonlyMap<string, readonly E[]> {
  let groupings = known.get(items);
  if (groupings === undefined) {
    groupings = new Map();
    known.set(items, groupings);
  }
  const found = groupings.get(field);
  // Made below from these items by this field.
  if (found !== undefined) return found as ReadonlyMap<string, readonly E[]>;
  const groups = followed(items, field) ?? groupBy(items, (item) => item[field]);
  groupings.set(field, groups);
  return groups;
}

/** The groups of the state before with those that an edit touched made anew; undefined where that state was not grouped. */
function followed<F extends string, E extends { readonly [K in F]: string }>(
  items: readonly E[],
  field: F,
): ReadonlyMap<string, readonly E[]> | undefined {
  type Row = E & { readonly id: string };
  const last = lastChange(items as readonly Row[]);
  const before = last === undefined ? undefined : known.get(last.before)?.get(field);
  if (last === undefined || before === undefined) return undefined;
  return patchedGroups(before as ReadonlyMap<string, readonly Row[]>, last.changed, (item) => item[field]);
}

/** Groups after an edit: those it touched are new, in an order of their own or that of the plan; all others are the same objects. */
export function patchedGroups<E extends { readonly id: string }>(
  before: ReadonlyMap<string, readonly E[]>,
  { gone, come }: Changed<E>,
  keyOf: (item: E) => string,
  order: (a: E, b: E) => number = (a, b) => (a.id < b.id ? -1 : 1),
): ReadonlyMap<string, readonly E[]> {
  if (gone.length + come.length === 0) return before;
  const groups = new Map(before);
  const out = new Set(gone);
  const added = groupBy(come, keyOf);
  for (const key of new Set([...gone.map(keyOf), ...added.keys()])) {
    const kept = (groups.get(key) ?? []).filter((item) => !out.has(item));
    const group = [...kept, ...(added.get(key) ?? [])].sort(order);
    if (group.length === 0) groups.delete(key);
    else groups.set(key, group);
  }
  return groups;
}

/** Items by a key, each group in the order given. */
export function groupBy<T>(items: readonly T[], keyOf: (item: T) => string): Map<string, T[]> {
  // In a map and not in an object, whose own names and order of numbers would come between. A plain loop: whole plans pass through.
  const groups = new Map<string, T[]>();
  for (const item of items) addTo(groups, keyOf(item), item);
  return groups;
}

/** Puts an item into its group. The group grows in place: copied for each of its items, a thousand of them would be copied a million times. */
export function addTo<K, T>(groups: Map<K, T[]>, key: K, item: T): void {
  const group = groups.get(key);
  if (group === undefined) groups.set(key, [item]);
  else group.push(item);
}
