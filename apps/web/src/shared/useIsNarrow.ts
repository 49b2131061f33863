import { useSyncExternalStore } from 'react';

/** Below this two halves do not fit beside one another. */
const narrow = '(max-width: 52rem)';

/** Whether the window is too narrow for two halves. */
export function useIsNarrow(): boolean {
  return useSyncExternalStore(
    (tell) => {
      const query = window.matchMedia(narrow);
      query.addEventListener('change', tell);
      return () => query.removeEventListener('change', tell);
    },
    () => window.matchMedia(narrow).matches,
  );
}
