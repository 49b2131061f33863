import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import { rangeOf } from '../rangeOf.js';
import type { Allocation } from './allocations.js';
import type { KindRules } from './rules.js';
import { zoneProblem } from './sitesRules.js';

export const allocationsRules: KindRules<Allocation> = {
  label: (allocation, plan) => `${allocation.prefix} (${rangeOfWhom(allocation, plan)})`,
  // A range whose zone is gone becomes a finding; one that is written down with such a zone is a slip.
  mistypes: (plan, { clusterId, zone }) => zoneProblem(plan, byId(plan.clusters, clusterId)?.siteId ?? '', zone),
  holds: { prefixes: (entity) => [rangeOf(entity)], called: rangeOfWhom },
  about: ({ zone }) => (zone === '' ? 'allocated range' : `allocated range in zone ${zone}`),
};

function rangeOfWhom({ purpose, clusterId }: Allocation, plan: Plan): string {
  return `${purpose} range of ${byId(plan.clusters, clusterId)?.name ?? 'a cluster'}`;
}
