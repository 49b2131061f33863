interface HasId {
  readonly id: string;
}

/** What differs between two states of a collection. */
export interface Changed<E> {
  readonly gone: readonly E[];
  readonly come: readonly E[];
}

// The one before is held weakly: held by the one after it, every state of a long session would hold the one before.
const known = new WeakMap<object, { readonly before: WeakRef<object>; readonly changed: Changed<unknown> }>();

/**
 * What differs between two collections ordered by id: by identity, since entities never change in place. Several ask
 * the same after an edit, so the last answer is kept.
 */
export function changedBetween<E extends HasId>(before: readonly E[], after: readonly E[]): Changed<E> {
  const last = known.get(after);
  // Found for these two collections.
  if (last?.before.deref() === before) return last.changed as Changed<E>;
  const changed = compare(before, after);
  known.set(after, { before: new WeakRef(before), changed });
  return changed;
}

/** The last state that a collection was compared with, and what differs; undefined while nobody asked, or that one is gone. */
export function lastChange<E extends HasId>(
  after: readonly E[],
): { readonly before: readonly E[]; readonly changed: Changed<E> } | undefined {
  const last = known.get(after);
  const before = last?.before.deref();
  // Kept for this collection, with one of the same entities.
  return last === undefined || before === undefined
    ? undefined
    : { before: before as readonly E[], changed: last.changed as Changed<E> };
}

function compare<E extends HasId>(before: readonly E[], after: readonly E[]): Changed<E> {
  const gone: E[] = [];
  const come: E[] = [];
  if (before === after) return { gone, come };
  let i = 0;
  let j = 0;
  while (i < before.length || j < after.length) {
    const old = before[i];
    const fresh = after[j];
    if (old === fresh) {
      i++;
      j++;
    } else if (fresh === undefined || (old !== undefined && old.id < fresh.id)) {
      gone.push(old as E);
      i++;
    } else if (old === undefined || fresh.id < old.id) {
      come.push(fresh);
      j++;
    } else {
      gone.push(old);
      come.push(fresh);
      i++;
      j++;
    }
  }
  return { gone, come };
}
