import { rangeOf } from '../rangeOf.js';
import type { Pool } from './pools.js';
import type { KindRules } from './rules.js';

export const poolsRules: KindRules<Pool> = {
  label: ({ name }) => name,
  holds: { prefixes: (entity) => [rangeOf(entity)], called: ({ name }) => name, isSpace: true },
  about: ({ prefix }) => `pool ${prefix}`,
};
