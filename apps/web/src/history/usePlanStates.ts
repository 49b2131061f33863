import { useQuery } from '@tanstack/react-query';
import type { Plan } from '@wide-lattice/core/plan';
import { api } from '../plan/api';
import { usePlan } from '../plan/PlanContext';

/** States of the plan that can be set beside one another: now, its named versions, and as it was started. */
export function usePlanStates() {
  const { session, revision } = usePlan();
  const { data: versions } = useQuery({
    queryKey: [session.planId, 'versions'],
    queryFn: () => api.versions(session.planId),
  });
  const states = [
    { value: '', label: `Now (revision ${revision})` },
    ...(versions ?? []).map((version) => ({
      value: String(version.revision),
      label: `${version.name} (revision ${version.revision})`,
    })),
    { value: '0', label: 'As started (revision 0)' },
  ];
  /** The plan of a state; undefined for that of now. */
  const at = async (state: string): Promise<Plan | undefined> =>
    state === '' ? undefined : (await api.planAt(session.planId, Number(state))).plan;
  return { states, at };
}
