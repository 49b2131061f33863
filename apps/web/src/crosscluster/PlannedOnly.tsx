import { formatNumber } from '@wide-lattice/core/working';
import type { ReactNode } from 'react';
import { usePlan } from '../plan/PlanContext';
import { Empty } from '../shared/Halves';

/** What is said where no connection stands: that some are planned, with the switch that answers as if they stood; else what is given. */
export function PlannedOnly({ what, children }: { readonly what: string; readonly children: ReactNode }) {
  const { plan, isMade, setMade } = usePlan();
  const count = plan.connections.filter(({ isPlanned }) => isPlanned).length;
  if (isMade || count === 0) return children;
  return (
    <Empty
      action={
        <button type="button" className="btn btn-sm btn-primary" onClick={() => setMade(true)}>
          Answer with what is planned
        </button>
      }
    >
      No connection is in service yet, and {count === 1 ? 'one is' : `${formatNumber(count)} are`} planned. {what} is
      shown as it would be with all that is planned.
    </Empty>
  );
}
