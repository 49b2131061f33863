import { useSearchParams } from 'react-router';

/** Parts of the address that say where one is: back returns to the one before. */
const places = ['show', 'side'];

/** The address as it is now: what was rendered last may be a change behind when two come at once. */
export function searchNow(): URLSearchParams {
  return new URLSearchParams(window.location.search);
}

/** What the address shows, and how to change some of it; an empty text takes a part out. Another tab is a step that back takes back. */
export function useSearchState(): [URLSearchParams, (part: Readonly<Record<string, string>>) => void] {
  const [search, setSearch] = useSearchParams();
  const set = (part: Readonly<Record<string, string>>) => {
    const after = searchNow();
    const isMove = places.some((key) => (part[key] ?? '') !== '' && part[key] !== after.get(key));
    for (const [key, value] of Object.entries(part)) {
      if (value === '') after.delete(key);
      else after.set(key, value);
    }
    setSearch(after, { replace: !isMove });
  };
  return [search, set];
}
