import { usePlan } from './PlanContext';

/** Completes an address below the plan's own. */
export function usePlanPath(): (path: string) => string {
  const { session } = usePlan();
  return (path) => `/plans/${session.planId}/${path}`;
}
