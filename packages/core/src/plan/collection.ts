interface HasId {
  readonly id: string;
}

/** Where an id stands, or where it would be inserted. Collections are ordered by id. */
export function positionOf(items: readonly HasId[], id: string): number {
  let low = 0;
  let high = items.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((items[middle] as HasId).id < id) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The entity with this id, or undefined. */
export function byId<E extends HasId>(items: readonly E[], id: string): E | undefined {
  const found = items[positionOf(items, id)];
  return found?.id === id ? found : undefined;
}

/** A copy in the order of ids. */
export function inOrder<E extends HasId>(items: readonly E[]): E[] {
  return [...items].sort((a, b) => (a.id < b.id ? -1 : a.id > b.id ? 1 : 0));
}
