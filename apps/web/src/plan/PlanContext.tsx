import { createContext, useContext } from 'react';
import type { PlanSession, SessionState } from './planSession';

/** The open plan, for everything inside the frame. */
export interface OpenPlan extends SessionState {
  readonly session: PlanSession;
  /** Whether questions are answered with all that is planned standing. */
  readonly isMade: boolean;
  readonly setMade: (isMade: boolean) => void;
}

/** Filled by the frame once a plan is open. */
export const PlanContext = createContext<OpenPlan | undefined>(undefined);

/** The open plan; only inside the frame. */
export function usePlan(): OpenPlan {
  const open = useContext(PlanContext);
  if (open === undefined) throw new Error('usePlan: no plan is open here');
  return open;
}
