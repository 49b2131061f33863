import type { ChangeSummary } from './api';

/** What undo and redo would take back next; undefined when there is nothing. */
export interface UndoState {
  readonly undo: ChangeSummary | undefined;
  readonly redo: ChangeSummary | undefined;
}

/**
 * Reads undo and redo from the history: an edit can be undone, a change that took one back can itself be
 * taken back (redo). Only changes of this browser count; others keep theirs.
 */
export function undoState(history: readonly ChangeSummary[], clientId: string): UndoState {
  const own = history.filter((change) => change.clientId === clientId).sort((a, b) => a.revision - b.revision);
  const undo: ChangeSummary[] = [];
  const redo: ChangeSummary[] = [];
  for (const change of own) {
    if (change.reverts === null) {
      undo.push(change);
      redo.length = 0;
    } else if (undo.at(-1)?.revision === change.reverts) {
      undo.pop();
      redo.push(change);
    } else if (redo.at(-1)?.revision === change.reverts) {
      redo.pop();
      undo.push(change);
    }
  }
  return { undo: undo.at(-1), redo: redo.at(-1) };
}
