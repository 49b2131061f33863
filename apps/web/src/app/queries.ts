import { QueryClient } from '@tanstack/react-query';

/** Asks once, and leaves a failure to the part of the page around, which says it in words. */
export function newQueryClient(): QueryClient {
  return new QueryClient({
    defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false, throwOnError: true } },
  });
}
