import { byId } from '../collection.js';
import type { Rebuild } from './rebuilds.js';
import type { KindRules } from './rules.js';

export const rebuildsRules: KindRules<Rebuild> = {
  label: ({ clusterId, what }, plan) => `${byId(plan.clusters, clusterId)?.name ?? ''}: ${what}`,
  about: ({ decidedOn, decidedBy }) => `decided ${decidedOn} by ${decidedBy}`,
};
