import { useSlice } from '../plan/useSlice';
import { useSearchState } from '../shared/useSearchState';
import type { RehearsalFilter, ShownRun } from '../worker/slices/rehearsalSlices';
import { secondOf, wishOf } from './wish';

/** The run that the address asks for, and the second that is shown. */
export function useRun(): { readonly run: ShownRun | undefined; readonly at: number } {
  const [search] = useSearchState();
  const run = useSlice('rehearsal', wishOf(search));
  return { run, at: run?.ok === true ? secondOf(search, run.total) : 0 };
}

/** Which objects and lines the address shows. */
export function filterOf(search: URLSearchParams): RehearsalFilter {
  return { text: search.get('q') ?? '', phase: search.get('phase') ?? '', state: search.get('state') ?? '' };
}
