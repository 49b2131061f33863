/** What is gathered from a collection, once for each state of it. */
export function once<E, T>(gather: (items: readonly E[]) => T): (items: readonly E[]) => T {
  const known = new WeakMap<object, T>();
  return (items) => {
    const found = known.get(items);
    if (found !== undefined) return found;
    const made = gather(items);
    known.set(items, made);
    return made;
  };
}
