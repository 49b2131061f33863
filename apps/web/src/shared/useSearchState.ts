import { useSearchParams } from 'react-router';

/** What the address shows, and how to change some of it; an empty text takes a part out. */
export function useSearchState(): [URLSearchParams, (part: Readonly<Record<string, string>>) => void] {
  const [search, setSearch] = useSearchParams();
  const set = (part: Readonly<Record<string, string>>) =>
    setSearch(
      (before) => {
        const after = new URLSearchParams(before);
        for (const [key, value] of Object.entries(part)) {
          if (value === '') after.delete(key);
          else after.set(key, value);
        }
        return after;
      },
      { replace: true },
    );
  return [search, set];
}
