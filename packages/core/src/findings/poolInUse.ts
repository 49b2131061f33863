import { intersect, prefixSize, totalSize } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** A pool of which others use a large part: what it seems to hold it does not have. */
export function poolInUse({ pools, inUse }: Pick<Plan, 'pools' | 'inUse'>): Finding[] {
  const used = inUse.map(rangeOf);
  return pools.flatMap((pool) => {
    const whole = rangeOf(pool);
    const percent = Number((totalSize(intersect(whole, used)) * 100n) / prefixSize(whole));
    if (percent < 25) return [];
    return [
      finding('pool.in-use', percent === 100 ? 'error' : 'warning', [{ kind: 'pools', id: pool.id }], {
        pool: pool.name,
        percent,
      }),
    ];
  });
}
