import { hasPlanned, plannedMade } from '@wide-lattice/core/plan';
import { useMemo, useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { Modal } from '../shared/Modal';
import { OperationList } from '../shared/OperationList';
import { TriedPart } from '../shared/TriedPart';

/** Answers as the plan stands, or with all that is planned standing; and what differs between the two. There while something is planned. */
export function PlannedSwitch() {
  const { plan, isMade, setMade } = usePlan();
  const [isOpen, setOpen] = useState(false);
  if (!hasPlanned(plan)) return null;
  return (
    <div
      className={`plain flex items-center gap-2 px-1 ${isMade ? 'outline-warning rounded outline-2' : ''}`}
      role="group"
      aria-label="What is asked"
    >
      <label
        className="flex items-center gap-1.5"
        title="Questions, matrix, routes, uses, drills, names and findings are answered as if all that is planned stood"
      >
        <input
          type="checkbox"
          className="toggle toggle-xs"
          checked={isMade}
          onChange={(event) => setMade(event.target.checked)}
        />
        With what is planned
      </label>
      <button type="button" className="btn btn-ghost btn-xs" onClick={() => setOpen(true)}>
        Compare
      </button>
      {isOpen && <PlannedDialog onClose={() => setOpen(false)} />}
    </div>
  );
}

function PlannedDialog({ onClose }: { readonly onClose: () => void }) {
  const { plan } = usePlan();
  const operations = useMemo(() => plannedMade(plan), [plan]);
  return (
    <Modal
      title="As it stands, and with all that is planned"
      description="What would stand, and what it would change. Nothing is changed here."
      onClose={onClose}
      isWide
    >
      <OperationList operations={operations} />
      <TriedPart operations={operations} proposing="connections" />
    </Modal>
  );
}
