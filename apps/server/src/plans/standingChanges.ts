/** What matters of a change when deciding whether it still stands. */
interface Reverting {
  readonly revision: number;
  readonly reverts: number | null;
}

/** The changes of a run (after some base) that still stand: a change and the one that took it back cancel out. */
export function standingChanges<C extends Reverting>(changes: readonly C[]): C[] {
  const cancelled = new Set<number>();
  const present = new Set(changes.map((change) => change.revision));
  for (const change of [...changes].sort((a, b) => b.revision - a.revision)) {
    if (cancelled.has(change.revision) || change.reverts === null || !present.has(change.reverts)) continue;
    cancelled.add(change.revision).add(change.reverts);
  }
  return changes.filter((change) => !cancelled.has(change.revision));
}
