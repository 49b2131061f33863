import { merge, overlaps, parsePrefix } from '../address/index.js';
import type { Family, Prefix } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { advertisedIn } from '../verdicts/index.js';
import { FreeSpace } from './freeSpace.js';

// RFC 1918, RFC 6598 and RFC 4193: space that may be planned in.
const privateSpace: Readonly<Record<Family, readonly Prefix[]>> = {
  4: ['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16', '100.64.0.0/10'].map((text) => expectGood(parsePrefix(text))),
  6: [expectGood(parsePrefix('fd00::/8'))],
};

/** A prefix of this length in private space that nothing in the plan touches; undefined when there is none. */
export function freePrivateSpace(plan: Plan, family: Family, length: number): Prefix | undefined {
  const taken = merge(
    [
      ...[...plan.pools, ...plan.blocks, ...plan.subnets, ...plan.inUse, ...plan.allocations].map(rangeOf),
      ...advertisedIn(plan).map(({ prefix }) => prefix),
    ].filter((each) => each.family === family),
  );
  for (const whole of privateSpace[family]) {
    if (whole.length > length) continue;
    const prefix = FreeSpace.within(
      whole,
      taken.filter((each) => overlaps(each, whole)),
    ).fit(length, []);
    if (prefix !== undefined) return prefix;
  }
  return undefined;
}
