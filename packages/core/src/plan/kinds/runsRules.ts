import { cover } from '../../address/index.js';
import { addressSpan } from '../addressSpan.js';
import type { KindRules } from './rules.js';
import type { Run } from './runs.js';

export const runsRules: KindRules<Run> = {
  label: ({ name }) => name,
  about: ({ count, first }) => `${count === 1 ? '1 address' : `${count} addresses`} from ${first}`,
  holds: {
    prefixes: (run) => {
      const { first, last } = addressSpan(run);
      return cover(first, last);
    },
    called: ({ name }) => `run ${name}`,
  },
};
