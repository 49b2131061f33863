/** Whether two lists hold the same things in the same order. */
export function isSameList<T>(a: readonly T[], b: readonly T[]): boolean {
  return a === b || (a.length === b.length && a.every((each, at) => each === b[at]));
}
