/** What is made of one object, made once while that object is held. */
export function oncePer<K extends object, V>(make: (key: K) => V): (key: K) => V {
  const known = new WeakMap<K, V>();
  return (key) => {
    const found = known.get(key);
    if (found !== undefined) return found;
    const made = make(key);
    known.set(key, made);
    return made;
  };
}

/** What is gathered from a collection, once for each state of it. */
export function once<E, T>(gather: (items: readonly E[]) => T): (items: readonly E[]) => T {
  return oncePer(gather);
}
