import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api } from '../plan/api';
import { usePlan } from '../plan/PlanContext';
import { Computing } from '../shared/Halves';
import { StandInFields } from './StandInFields';
import { StandInsRunning } from './StandInsRunning';

/** How often what runs is looked at, in milliseconds. */
const LOOK_MS = 2000;

/** Name servers, load balancers and cluster APIs of the plan at ports of this machine: what is started, and what runs. */
export function StandInsView() {
  const { planId } = usePlan().session;
  const queries = useQueryClient();
  const queryKey = ['stand-ins', planId];
  const { data: running, error } = useQuery({
    queryKey,
    queryFn: () => api.standIns(planId),
    refetchInterval: LOOK_MS,
    throwOnError: false,
  });
  const act = useMutation({
    mutationFn: (run: () => Promise<unknown>) => run(),
    onSettled: () => queries.invalidateQueries({ queryKey }),
  });
  const problem = act.error ?? error;
  if (running === undefined && problem === null) return <Computing />;
  return (
    <>
      {problem !== null && (
        <p role="alert" className="rule-b text-error px-4 py-2">
          {problem.message}
        </p>
      )}
      {running === undefined || running === null ? (
        <StandInFields
          isStarting={act.isPending}
          onStart={(wish) => {
            act.mutate(() => api.startStandIns(planId, wish));
          }}
        />
      ) : (
        <StandInsRunning
          report={running}
          isBusy={act.isPending}
          onAct={(run) => {
            act.mutate(run);
          }}
        />
      )}
    </>
  );
}
