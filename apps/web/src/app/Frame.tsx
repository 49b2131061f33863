import { hasPlanned } from '@wide-lattice/core/plan';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { Outlet, useParams } from 'react-router';
import { toast } from 'sonner';
import { PlanContext } from '../plan/PlanContext';
import { PlanSession } from '../plan/planSession';
import { FailureBoundary } from '../shared/FailureBoundary';
import { Course } from './Course';
import { LongWork } from './LongWork';
import { fetchTheRest } from './pages';
import { RebuildDialog } from './RebuildDialog';
import { SkipLink } from './SkipLink';
import { OvertakenDialog } from './OvertakenDialog';
import { TopBar } from './TopBar';

/** Opens the plan of the address and frames its views. */
export function Frame() {
  const { planId = '' } = useParams();
  const { data: session, error } = useQuery({
    queryKey: ['session', planId],
    queryFn: () => PlanSession.open(planId),
    staleTime: Infinity,
    gcTime: 0,
  });
  if (error !== null) throw error;
  if (session === undefined) return <p className="quiet m-auto p-8">Opening the plan...</p>;
  return <OpenFrame key={planId} session={session} />;
}

function OpenFrame({ session }: { readonly session: PlanSession }) {
  const state = useSyncExternalStore(session.subscribe, session.snapshot);
  const [isMade, setMade] = useState(false);
  const open = useMemo(
    () => ({ session, ...state, isMade: isMade && hasPlanned(state.plan), setMade }),
    [session, state, isMade],
  );
  useEffect(() => session.follow((change) => toast.info(`${change.author}: ${change.label}`)), [session]);
  useEffect(() => {
    document.title = `${state.plan.settings.name} · Wide Lattice`;
  }, [state.plan.settings.name]);
  useEffect(fetchTheRest, []);
  return (
    <PlanContext.Provider value={open}>
      <SkipLink />
      <TopBar />
      <Course />
      <main tabIndex={-1} className="flex min-h-0 flex-1 flex-col outline-none">
        <FailureBoundary>
          <Outlet />
        </FailureBoundary>
      </main>
      <LongWork />
      <RebuildDialog />
      {state.overtaken !== undefined && <OvertakenDialog overtaken={state.overtaken} />}
    </PlanContext.Provider>
  );
}
