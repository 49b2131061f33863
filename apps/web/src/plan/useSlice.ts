import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { core } from '../worker/coreClient';
import type { SliceAnswer, SliceArgs, SliceName } from '../worker/slices';
import { usePlan } from './PlanContext';

/** A slice of the evaluation, and whether it answers what is asked now: the last answer stays until the next is there. */
export interface Answer<T> {
  readonly slice: T | undefined;
  readonly isFresh: boolean;
  /** Why there is none; undefined while nothing failed. */
  readonly failure: Error | null;
}

/** What is answered with all that is planned standing when that is asked for. What makes changes is always asked of the plan as it stands. */
const answersMade: ReadonlySet<SliceName> = new Set<SliceName>([
  'trace',
  'expectations',
  'routeTable',
  'dependentsOf',
  'uses',
  'useDescription',
  'faults',
  'drill',
  'siteMap',
  'vantages',
  'keptRecords',
  'entryPoints',
  'reach',
  'diagram',
  'findings',
  'findingCounts',
  'waysOut',
  'matters',
  'prerequisites',
  'rehearsal',
  'rehearsalObjects',
  'rehearsalObject',
  'rehearsalLog',
  'rehearsalsCompared',
  'connectionTests',
  'scoreCard',
  'losses',
  'lostAtOnce',
]);

/** Asks the worker for a slice, and leaves it to the caller to say why there is none. */
export function useTriedSlice<S extends SliceName>(name: S, ...args: SliceArgs<S>): Answer<SliceAnswer<S>> {
  const { session, revision, isMade } = usePlan();
  const inMade = isMade && answersMade.has(name);
  // The worker answers undefined for what is not there, and a query may not.
  const { data, isPlaceholderData, error } = useQuery({
    queryKey: [session.planId, revision, inMade, name, ...(args as readonly unknown[])],
    // Given up with the part of the page that asked.
    queryFn: async ({ signal }) => ({ slice: await core.askIn({ isMade: inMade, signal }, name, ...args) }),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
    throwOnError: false,
  });
  // A first answer may fill a page: it is drawn bit by bit, and what is typed or clicked meanwhile goes before it.
  const isDrawn = useDeferredValue(data !== undefined);
  return {
    slice: isDrawn ? data?.slice : undefined,
    isFresh: isDrawn && data !== undefined && !isPlaceholderData,
    failure: error,
  };
}

/** Asks the worker for a slice, for what is applied: only a fresh one may be. A failure is said by the part of the page around. */
export function useAnswer<S extends SliceName>(name: S, ...args: SliceArgs<S>): Answer<SliceAnswer<S>> {
  const answer = useTriedSlice(name, ...args);
  if (answer.failure !== null) throw answer.failure;
  return answer;
}

/** Asks the worker for a slice of the evaluation at the present revision. A failure is said by the part of the page around. */
export function useSlice<S extends SliceName>(name: S, ...args: SliceArgs<S>): SliceAnswer<S> | undefined {
  return useAnswer(name, ...args).slice;
}
