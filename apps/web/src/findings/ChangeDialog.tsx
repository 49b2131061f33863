import type { DescribedFix } from '@wide-lattice/core/findings';
import { useState } from 'react';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { DialogFoot } from '../shared/DialogFoot';
import { Modal } from '../shared/Modal';
import { OperationList } from '../shared/OperationList';
import { TriedPart } from '../shared/TriedPart';

interface ChangeDialogProps {
  readonly fix: DescribedFix & { readonly kind: 'change' | 'connection' };
  readonly onClose: () => void;
}

/** A change that mends a finding, as a difference before it is applied. */
export function ChangeDialog({ fix, onClose }: ChangeDialogProps) {
  const commit = useCommit();
  const [refused, setRefused] = useState('');
  const found = useSlice('connectionMend', fix.kind === 'connection' ? fix.connectionId : '');
  const operations =
    fix.kind === 'change' ? fix.operations : (found?.groups.flatMap((group) => group.operations) ?? []);
  const problems = fix.kind === 'change' ? [] : (found?.problems ?? []);
  const steps = fix.kind === 'change' ? [] : (found?.openSteps ?? []);
  const apply = async () => {
    const problem = await commit(fix.title, operations);
    setRefused(problem);
    if (problem === '') onClose();
  };
  return (
    <Modal title={fix.title} description="Applied as one change, which undo takes back." onClose={onClose} isWide>
      {fix.kind === 'connection' && found === undefined && <p className="quiet">Looking for a fix...</p>}
      <OperationList operations={operations} />
      {operations.length > 0 && <TriedPart operations={operations} proposing="connections" />}
      {problems.length > 0 && (
        <ul className="text-error mt-2">
          {problems.map((problem) => (
            <li key={problem}>{problem}</li>
          ))}
        </ul>
      )}
      {steps.length > 0 && (
        <ul className="mt-2 list-disc pl-5" aria-label="Open steps">
          {steps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ul>
      )}
      {operations.length === 0 && found !== undefined && problems.length + steps.length === 0 && (
        <p className="quiet">No automatic fix found.</p>
      )}
      <DialogFoot refused={refused} onLeave={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={operations.length === 0}
          onClick={() => void apply()}
        >
          Apply {operations.length} {operations.length === 1 ? 'row' : 'rows'}
        </button>
      </DialogFoot>
    </Modal>
  );
}
