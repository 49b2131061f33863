import { byId } from '../collection.js';
import type { FirewallRule } from './firewallRules.js';
import { mixedFamilies, portsWithoutProtocol } from './portRules.js';
import type { KindRules } from './rules.js';

export const firewallRulesRules: KindRules<FirewallRule> = {
  label: ({ firewallId, position }, plan) => `${byId(plan.firewalls, firewallId)?.name ?? ''} ${position}`,
  about: (rule) => `${rule.action} ${rule.protocol}${rule.ports.length === 0 ? '' : ` ${rule.ports.join(', ')}`}`,
  betweenFields: (rule) => [
    ...portsWithoutProtocol(rule),
    ...mixedFamilies({ sources: rule.sources, destinations: rule.destinations }),
  ],
};
