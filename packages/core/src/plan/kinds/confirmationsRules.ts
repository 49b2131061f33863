import { byId } from '../collection.js';
import type { Confirmation } from './confirmations.js';
import type { KindRules } from './rules.js';

export const confirmationsRules: KindRules<Confirmation> = {
  label: ({ siteId, what }, plan) => `${what} at ${byId(plan.sites, siteId)?.name ?? ''}`,
  about: ({ confirmedBy, confirmedOn }) => `${confirmedBy}, ${confirmedOn}`,
};
