import type { Operation } from '@wide-lattice/core';
import { useCallback } from 'react';
import { toast } from 'sonner';
import { usePlan } from './PlanContext';
import type { CommitOutcome } from './planSession';

/** Sends an edit and tells what became of it; returns why it was not stored, or an empty text. */
export function useCommit(): (label: string, operations: readonly Operation[]) => Promise<string> {
  const { session } = usePlan();
  return useCallback(
    async (label, operations) => tellOutcome(await session.commit(label.slice(0, 120), operations)),
    [session],
  );
}

/** Shows what became of an edit; returns why it was not stored, or an empty text. */
export function tellOutcome(outcome: CommitOutcome): string {
  switch (outcome.kind) {
    case 'stored':
      if (outcome.isMerged) toast.info('Stored together with a change that somebody else made meanwhile.');
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
