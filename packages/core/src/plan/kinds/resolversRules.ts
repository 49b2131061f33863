import { byId } from '../collection.js';
import { hostPrefix } from '../rangeOf.js';
import type { Resolver } from './resolvers.js';
import type { KindRules } from './rules.js';

export const resolversRules: KindRules<Resolver> = {
  label: ({ name }) => name,
  about: ({ role, networkId }, plan) =>
    `${role === 'both' ? '' : `${role} `}resolver of ${byId(plan.networks, networkId)?.name ?? ''}`,
  holds: {
    prefixes: ({ addresses }) => addresses.map(hostPrefix),
    called: ({ name }) => `resolver ${name}`,
  },
};
