/** What a rate limit does to one client that asks evenly. */
export interface Limited {
  /** Share of its requests that are refused in the long run, 0 to 1. */
  readonly refused: number;
  /** Seconds until the first is refused; undefined when none is. */
  readonly firstAfter: number | undefined;
}

/**
 * Requests of one client, evenly spread, against a limit of `perMinute`. A fixed window lets through as many in each whole minute; a token
 * bucket holds as many and fills again evenly. Check: 30 a minute and one request a second: the window refuses the 31st to the 60th of each
 * minute, the bucket first refuses after about 60 s (handbook 8).
 */
export function limited(asked: number, perMinute: number, by: 'fixed window' | 'token bucket'): Limited {
  if (asked <= perMinute) return { refused: 0, firstAfter: undefined };
  const perSecond = asked / 60;
  const refused = 1 - perMinute / asked;
  // The nth request comes n - 1 steps after the first.
  if (by === 'fixed window') return { refused, firstAfter: perMinute / perSecond };
  return { refused, firstAfter: perMinute / (perSecond - perMinute / 60) };
}
