interface HasId {
  readonly id: string;
}

/** What differs between two collections ordered by id: by identity, since entities never change in place. */
export function changedBetween<E extends HasId>(before: readonly E[], after: readonly E[]): { gone: E[]; come: E[] } {
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
