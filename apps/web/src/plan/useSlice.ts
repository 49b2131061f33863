import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { Remote } from 'comlink';
import { core } from '../worker/coreClient';
import type { CoreWorkerApi } from '../worker/coreWorker';
import { usePlan } from './PlanContext';

/** Asks the worker for a slice of the evaluation at the present revision; the last answer stays until the next is there. */
export function useSlice<T>(key: readonly unknown[], ask: (core: Remote<CoreWorkerApi>) => Promise<T>): T | undefined {
  const { session, revision } = usePlan();
  // The worker answers undefined for what is not there, and a query may not.
  const { data } = useQuery({
    queryKey: [session.planId, revision, ...key],
    queryFn: async () => ({ slice: await ask(core) }),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return data?.slice;
}
