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

/**
 * What a comparison of two states came to, kept for the last one that a state was compared with: several ask the same after an edit.
 * The state before is held weakly, or every state of a long session would hold the one before it; what is found must not hold it either.
 */
export function oncePerChange<K extends object, V>(compare: (was: K, is: K) => V): (was: K, is: K) => V {
  const known = new WeakMap<K, { readonly was: WeakRef<K>; readonly found: V }>();
  return (was, is) => {
    const last = known.get(is);
    if (last?.was.deref() === was) return last.found;
    const found = compare(was, is);
    known.set(is, { was: new WeakRef(was), found });
    return found;
  };
}
