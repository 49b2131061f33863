import { byId } from '../collection.js';
import { hostPrefix } from '../rangeOf.js';
import type { Firewall } from './firewalls.js';
import type { KindRules } from './rules.js';

export const firewallsRules: KindRules<Firewall> = {
  label: ({ name }) => name,
  about: ({ subnetId, isStateful, defaultAction }, plan) =>
    `${isStateful ? 'stateful' : 'stateless'} firewall in ${byId(plan.subnets, subnetId)?.name ?? ''}, default ${defaultAction}`,
  holds: {
    prefixes: ({ publicAddresses }) => publicAddresses.map(hostPrefix),
    called: ({ name }) => `public address of the firewall ${name}`,
  },
};
