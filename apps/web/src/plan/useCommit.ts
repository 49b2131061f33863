import { rebuildsNeeded, withRebuilds, withRenames } from '@wide-lattice/core/plan';
import type { Operation } from '@wide-lattice/core/plan';
import { useCallback } from 'react';
import { toast } from 'sonner';
import { authorName } from './identity';
import { usePlan } from './PlanContext';
import type { CommitOutcome, PlanSession } from './planSession';
import { askForReason } from './rebuildRequest';

/** Sends an edit and tells what became of it; returns why it was not stored, or an empty text. */
export function useCommit(): (label: string, operations: readonly Operation[]) => Promise<string> {
  const { session } = usePlan();
  return useCallback((label, operations) => commitWithReason(session, label.slice(0, 120), operations), [session]);
}

/** An edit of locked decisions becomes a rebuild: its reason is asked for first, and goes into the ledger with it. */
async function commitWithReason(session: PlanSession, label: string, edit: readonly Operation[]): Promise<string> {
  const { plan } = session.snapshot();
  const operations = withRenames(plan, edit);
  const rebuilds = rebuildsNeeded(plan, operations);
  if (rebuilds.length === 0) return tellOutcome(await session.commit(label, operations));
  const reason = await askForReason(label, rebuilds);
  if (reason === undefined) return 'Not saved: a rebuild needs its reason.';
  const decision = { reason, decidedOn: new Date().toISOString().slice(0, 10), decidedBy: authorName() };
  return tellOutcome(await session.commit(label, withRebuilds(plan, operations, decision)));
}

/** Shows what became of an edit; returns why it was not stored, or an empty text. */
export function tellOutcome(outcome: CommitOutcome): string {
  switch (outcome.kind) {
    case 'stored':
      if (outcome.isMerged) toast.info('Saved together with a change that somebody else made meanwhile.');
      return '';
    case 'refused': {
      const first = outcome.problems[0];
      return first === undefined ? outcome.message : `${first.message} ${first.mend}`.trim();
    }
    case 'overtaken':
      return 'Somebody else changed the same; both sides are shown.';
    case 'failed':
      toast.error(outcome.message);
      return outcome.message;
  }
}
