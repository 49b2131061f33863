import { group } from 'd3-array';

const known = new WeakMap<object, Map<string, ReadonlyMap<string, readonly unknown[]>>>();

/** The entities of a collection by the value of one field, in the order of the plan. Grouped once for each state of the collection. */
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
  const groups = groupBy(items, (item) => item[field]);
  groupings.set(field, groups);
  return groups;
}

/** Items by a key, each group in the order given. */
export function groupBy<T>(items: readonly T[], keyOf: (item: T) => string): Map<string, T[]> {
  // In a map and not in an object, whose own names and order of numbers would come between.
  return group(items, keyOf);
}
