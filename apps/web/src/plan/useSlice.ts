import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { core } from '../worker/coreClient';
import type { SliceAnswer, SliceArgs, SliceName } from '../worker/slices';
import { usePlan } from './PlanContext';

/** Asks the worker for a slice of the evaluation at the present revision; the last answer stays until the next is there. */
export function useSlice<S extends SliceName>(name: S, ...args: SliceArgs<S>): SliceAnswer<S> | undefined {
  const { session, revision } = usePlan();
  // The worker answers undefined for what is not there, and a query may not.
  const { data } = useQuery({
    queryKey: [session.planId, revision, name, ...(args as readonly unknown[])],
    queryFn: async () => ({ slice: await core.ask(name, ...args) }),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return data?.slice;
}
