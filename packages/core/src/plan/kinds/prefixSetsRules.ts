import type { PrefixSet } from './prefixSets.js';
import type { KindRules } from './rules.js';

export const prefixSetsRules: KindRules<PrefixSet> = {
  label: ({ name }) => name,
  about: ({ prefixes }) => `prefix set: ${prefixes.slice(0, 3).join(', ')}${prefixes.length > 3 ? ' and others' : ''}`,
};
