import { formatNumber } from '@wide-lattice/core/working';
import { Download } from 'lucide-react';
import { useState } from 'react';
import type { PlanSummary } from '../plan/api';
import { DialogFoot } from '../shared/DialogFoot';
import { Modal } from '../shared/Modal';

interface RemovePlanDialogProps {
  readonly plan: PlanSummary;
  readonly onClose: () => void;
  /** Removes it; gives why it was not, or an empty text. */
  readonly onRemove: () => Promise<string>;
}

/** Removing a plan is asked for once more, and a file of it is offered: it is restored from the list of plans for 30 days, and no longer. */
export function RemovePlanDialog({ plan, onClose, onRemove }: RemovePlanDialogProps) {
  const [refused, setRefused] = useState('');
  return (
    <Modal
      title={`Remove ${plan.name}`}
      description={`Its ${formatNumber(plan.revision)} revisions and its named versions are kept for 30 days; until then it can be restored from the list of plans.`}
      onClose={onClose}
    >
      <p className="mb-3">
        <a className="btn btn-sm btn-outline" href={`/api/plans/${plan.id}/export/plan.json`} download>
          <Download size={14} aria-hidden /> Save a plan file first
        </a>{' '}
        <span className="quiet">It can be opened again as a new plan, without the history.</span>
      </p>
      <DialogFoot refused={refused} onLeave={onClose}>
        <button type="button" className="btn btn-sm btn-error" onClick={() => void onRemove().then(setRefused)}>
          Remove the plan
        </button>
      </DialogFoot>
    </Modal>
  );
}
