import { addressFurther, cover, parseAddress } from '../../address/index.js';
import { expectGood } from '../../result.js';
import type { KindRules } from './rules.js';
import type { Run } from './runs.js';

export const runsRules: KindRules<Run> = {
  label: ({ name }) => name,
  about: ({ count, first }) => `${count} addresses from ${first}`,
  holds: {
    prefixes: ({ first, count }) => {
      const from = expectGood(parseAddress(first));
      return cover(from, addressFurther(from, count - 1));
    },
    called: ({ name }) => `run ${name}`,
  },
};
