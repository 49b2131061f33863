import { rebuildsNeeded, withRebuilds, withRenames } from '@wide-lattice/core/plan';
import type { Operation } from '@wide-lattice/core/plan';
import { useCallback } from 'react';
import { toast } from 'sonner';
import { authorName } from './identity';
import { usePlan } from './PlanContext';
import type { CommitOutcome, PlanSession } from './planSession';
import { askForReason } from './rebuildRequest';

/**
 * Sends an edit and tells what became of it; returns why it was not stored, or an empty text. `from` is the revision that
 * its author began from, where an editor stayed open while the plan went on.
 */
type Commit = (label: string, operations: readonly Operation[], from?: number) => Promise<string>;

/** Sends edits of the open plan. */
export function useCommit(): Commit {
  const { session } = usePlan();
  return useCallback<Commit>(
    (label, operations, from) => commitWithReason(session, label.slice(0, 120), operations, from),
    [session],
  );
}

/** An edit of locked decisions becomes a rebuild: its reason is asked for first, and goes into the ledger with it. */
async function commitWithReason(
  session: PlanSession,
  label: string,
  edit: readonly Operation[],
  from: number | undefined,
): Promise<string> {
  const { plan, revision } = session.snapshot();
  const operations = withRenames(plan, edit);
  const rebuilds = rebuildsNeeded(plan, operations);
  if (rebuilds.length === 0) return tellOutcome(await session.commit(label, operations, from));
  const reason = await askForReason(label, rebuilds);
  if (reason === undefined) return 'Not saved: a rebuild needs its reason.';
  const decision = { reason, decidedOn: new Date().toISOString().slice(0, 10), decidedBy: authorName() };
  // While the reason was typed the plan may have gone on.
  return tellOutcome(await session.commit(label, withRebuilds(plan, operations, decision), from ?? revision));
}

/** Shows what became of an edit; returns why it was not stored, or an empty text. */
export function tellOutcome(outcome: CommitOutcome): string {
  switch (outcome.kind) {
    case 'stored':
      if (outcome.isMerged) toast.info('Saved and merged with another user’s change.');
      return '';
    case 'refused': {
      const first = outcome.problems[0];
      return first === undefined ? outcome.message : `${first.message} ${first.fix}`.trim();
    }
    case 'overtaken':
      return 'Not saved: what was changed meanwhile was kept.';
    case 'failed':
      toast.error(outcome.message);
      return outcome.message;
  }
}
