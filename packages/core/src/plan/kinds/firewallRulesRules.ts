import { byId } from '../collection.js';
import type { FirewallRule } from './firewallRules.js';
import { aboutRule, icmpWithoutProtocol, mixedFamilies, portsWithoutProtocol } from './portRules.js';
import type { KindRules } from './rules.js';

export const firewallRulesRules: KindRules<FirewallRule> = {
  label: ({ firewallId, position }, plan) => `${byId(plan.firewalls, firewallId)?.name ?? ''} ${position}`,
  about: aboutRule,
  betweenFields: (rule) => [
    ...portsWithoutProtocol(rule),
    ...icmpWithoutProtocol(rule),
    ...mixedFamilies({ sources: rule.sources, destinations: rule.destinations }),
  ],
};
