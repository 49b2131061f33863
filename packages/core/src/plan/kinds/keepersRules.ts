import { byId } from '../collection.js';
import type { Keeper } from './keepers.js';
import type { KindRules } from './rules.js';

export const keepersRules: KindRules<Keeper> = {
  label: ({ name }) => name,
  about: ({ clusterId }, plan) => `record keeper of ${byId(plan.clusters, clusterId)?.name ?? ''}`,
  headings: { mark: 'ownerMark' },
};
