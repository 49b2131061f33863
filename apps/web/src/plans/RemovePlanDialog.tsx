import { Download } from 'lucide-react';
import { useState } from 'react';
import type { PlanSummary } from '../plan/api';
import { DialogFoot } from '../shared/DialogFoot';
import { Modal } from '../shared/Modal';
import { Tick } from '../shared/Tick';

interface RemovePlanDialogProps {
  readonly plan: PlanSummary;
  readonly onClose: () => void;
  /** Removes it; gives why it was not, or an empty text. */
  readonly onRemove: () => Promise<string>;
}

/** Removing a plan is asked twice, and a file of it is offered first: nothing brings it back. */
export function RemovePlanDialog({ plan, onClose, onRemove }: RemovePlanDialogProps) {
  const [isSure, setSure] = useState(false);
  const [refused, setRefused] = useState('');
  return (
    <Modal
      title={`Remove ${plan.name}`}
      description="The plan, its history and its named versions are removed for good. This cannot be undone."
      onClose={onClose}
    >
      <p className="mb-3">
        <a className="btn btn-sm btn-outline" href={`/api/plans/${plan.id}/export/plan.json`} download>
          <Download size={14} aria-hidden /> Save a plan file first
        </a>{' '}
        <span className="quiet">It can be opened again as a new plan, without the history.</span>
      </p>
      <Tick isOn={isSure} onTick={setSure}>
        Yes, remove all {plan.revision.toLocaleString('en-US')} revisions of {plan.name}.
      </Tick>
      <DialogFoot refused={refused} onLeave={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-error"
          disabled={!isSure}
          onClick={() => void onRemove().then(setRefused)}
        >
          Remove for good
        </button>
      </DialogFoot>
    </Modal>
  );
}
