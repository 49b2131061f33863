/** A set with one more in it, or without it where it is there. */
export function toggled<T>(all: ReadonlySet<T>, one: T): ReadonlySet<T> {
  const next = new Set(all);
  if (!next.delete(one)) next.add(one);
  return next;
}
