import { positionOf } from '../plan/index.js';

interface HasId {
  readonly id: string;
}

/** A value for each entity of a collection, in its order. */
export class Alongside<E extends HasId, T> {
  constructor(
    readonly items: readonly E[],
    readonly values: readonly T[],
  ) {}

  /** The value of one entity; undefined when it is not in the collection. */
  of(id: string): T | undefined {
    const at = positionOf(this.items, id);
    return this.items[at]?.id === id ? this.values[at] : undefined;
  }
}

/** For each entity of a collection, where the same one stood in another state of it; -1 for those that are new or changed. */
export function placesBefore<E extends HasId>(before: readonly E[], items: readonly E[]): Int32Array {
  const places = new Int32Array(items.length);
  let from = 0;
  for (let at = 0; at < items.length; at++) {
    const item = items[at] as E;
    if (before[from] === item) {
      places[at] = from++;
      continue;
    }
    while (from < before.length && (before[from] as E).id < item.id) from++;
    places[at] = before[from] === item ? from : -1;
  }
  return places;
}
