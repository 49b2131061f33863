import { useLayoutEffect, useRef, useState } from 'react';

type Functions = Readonly<Record<string, (...given: never[]) => unknown>>;

/** Functions that stay the same from one drawing to the next and do what the newest ones do: for children that are memoised. */
export function useStable<F extends object>(newest: F): F {
  const latest = useRef(newest);
  useLayoutEffect(() => {
    latest.current = newest;
  });
  const [stable] = useState(() => {
    const call =
      (name: string) =>
      (...given: never[]) =>
        (latest.current as unknown as Functions)[name]?.(...given);
    // Each name stands for the function of that name.
    return Object.fromEntries(Object.keys(newest).map((name) => [name, call(name)])) as unknown as F;
  });
  return stable;
}
