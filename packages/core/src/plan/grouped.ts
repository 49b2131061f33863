const known = new WeakMap<object, Map<string, ReadonlyMap<unknown, readonly unknown[]>>>();

/** The entities of a collection by the value of one field, in the order of the plan. Grouped once for each state of the collection. */
export function grouped<E extends object, F extends keyof E & string>(
  items: readonly E[],
  field: F,
): ReadonlyMap<E[F], readonly E[]> {
  let groupings = known.get(items);
  if (groupings === undefined) {
    groupings = new Map();
    known.set(items, groupings);
  }
  const found = groupings.get(field);
  // Made below from these items by this field.
  if (found !== undefined) return found as ReadonlyMap<E[F], readonly E[]>;
  const groups = groupBy(items, (item) => item[field]);
  groupings.set(field, groups);
  return groups;
}

/** Items by a key, each group in the order given. */
export function groupBy<T, K>(items: Iterable<T>, keyOf: (item: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const item of items) {
    const key = keyOf(item);
    const group = groups.get(key);
    if (group === undefined) groups.set(key, [item]);
    else group.push(item);
  }
  return groups;
}
