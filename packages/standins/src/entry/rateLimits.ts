import { LRUCache } from 'lru-cache';
import type { IngressRoute } from '@wide-lattice/core/plan';
import { LIMITS } from '../limits.js';

const MINUTE_MS = 60_000;

interface Count {
  /** When the window began, or the bucket was last looked at. */
  readonly since: number;
  /** Requests of the window, or what is in the bucket. */
  readonly amount: number;
}

/** Counts the requests of each client against the limit of a route. */
export class RateLimits {
  private readonly counts = new LRUCache<string, Count>({ max: LIMITS.remembered });

  /**
   * Takes one request of a client; gives 0 where it is let through, else the seconds until one will be. A window is a minute from a client's
   * first request on; a bucket holds as many and fills again evenly.
   */
  take({ id, rateLimitPerMinute: most, rateLimitAlgorithm }: IngressRoute, client: string, now: number): number {
    if (most === null) return 0;
    const key = `${id} ${client}`;
    const last = this.counts.get(key);
    if (rateLimitAlgorithm === 'fixed window') {
      const isNew = last === undefined || now - last.since >= MINUTE_MS;
      const { since, amount } = isNew ? { since: now, amount: 0 } : last;
      if (amount >= most) return Math.ceil((since + MINUTE_MS - now) / 1000);
      this.counts.set(key, { since, amount: amount + 1 });
      return 0;
    }
    const perMs = most / MINUTE_MS;
    const amount = last === undefined ? most : Math.min(most, last.amount + (now - last.since) * perMs);
    const left = amount >= 1 ? amount - 1 : amount;
    this.counts.set(key, { since: now, amount: left });
    return amount >= 1 ? 0 : Math.ceil((1 - amount) / perMs / 1000);
  }
}
