import { useSearchParams } from 'react-router';

/** What the address shows, and how to change some of it; an empty text takes a part out. */
export function useSearchState(): [URLSearchParams, (part: Readonly<Record<string, string>>) => void] {
  const [search, setSearch] = useSearchParams();
  const set = (part: Readonly<Record<string, string>>) => {
    // From the address itself: what was rendered last may be a change behind when two come at once.
    const after = new URLSearchParams(window.location.search);
    for (const [key, value] of Object.entries(part)) {
      if (value === '') after.delete(key);
      else after.set(key, value);
    }
    setSearch(after, { replace: true });
  };
  return [search, set];
}
