import type { ChangeSummary } from './api';

/** What undo and redo would take back next; undefined when there is nothing. */
export interface UndoState {
  readonly undo: ChangeSummary | undefined;
  readonly redo: ChangeSummary | undefined;
}

/** The edit that a row of undos and redos began with, and how many of them lie between: 0 for the edit itself. */
export function rootOf(
  change: ChangeSummary,
  history: readonly ChangeSummary[],
): { readonly change: ChangeSummary; readonly depth: number } {
  let root = change;
  let depth = 0;
  while (root.reverts !== null) {
    const { reverts } = root;
    const earlier = history.find(({ revision }) => revision === reverts);
    if (earlier === undefined) break;
    root = earlier;
    depth++;
  }
  return { change: root, depth };
}

/** One edit with the undos and redos that followed it. */
interface Row {
  /** The last of them: what is taken back next. */
  head: ChangeSummary;
  /** Whether the edit is in the plan after them. */
  isStanding: boolean;
}

/**
 * Reads undo and redo from the history, whoever took what back and in whichever order: undo is the own edit that came to
 * stand last, redo the one that an own undo took back last, while no new edit followed. Taking back somebody else's edit
 * is an edit of one's own.
 */
export function undoState(history: readonly ChangeSummary[], clientId: string): UndoState {
  // By the revision of its head.
  const own = new Map<number, Row>();
  const ordered = [...history].sort((a, b) => a.revision - b.revision);
  const known = new Set(ordered.map(({ revision }) => revision));
  let lastEdit = 0;
  for (const change of ordered) {
    const row = change.reverts === null ? undefined : own.get(change.reverts);
    // What took back a change from before the history shown says nothing of what is in it.
    if (change.reverts !== null && !known.has(change.reverts)) continue;
    if (row !== undefined) {
      own.delete(row.head.revision);
      own.set(change.revision, { head: change, isStanding: !row.isStanding });
    } else if (change.clientId === clientId) {
      own.set(change.revision, { head: change, isStanding: true });
      lastEdit = change.revision;
    }
  }
  const heads = [...own.values()].sort((a, b) => a.head.revision - b.head.revision);
  return {
    undo: heads.filter(({ isStanding }) => isStanding).at(-1)?.head,
    redo: heads
      .filter((each) => !each.isStanding && each.head.clientId === clientId && each.head.revision > lastEdit)
      .at(-1)?.head,
  };
}
