import { byId } from '../collection.js';
import { rangeOf } from '../rangeOf.js';
import type { InUseRange } from './inUse.js';
import type { KindRules } from './rules.js';

export const inUseRules: KindRules<InUseRange> = {
  label: ({ prefix, owner }) => `${prefix} (${owner})`,
  holds: { prefixes: (entity) => [rangeOf(entity)], called: ({ owner }) => `range of ${owner}` },
  about: ({ networkId }, plan) =>
    `in use in ${byId(plan.networks, networkId ?? '')?.name ?? 'no network of this plan'}`,
};
