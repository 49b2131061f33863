import { byId } from '../collection.js';
import type { FilterRule } from './filterRules.js';
import { aboutRule, icmpWithoutProtocol, mixedFamilies, portsWithoutProtocol } from './portRules.js';
import { wrong } from './rules.js';
import type { KindRules } from './rules.js';

export const filterRulesRules: KindRules<FilterRule> = {
  label: ({ filterId, direction, position }, plan) =>
    `${byId(plan.filters, filterId)?.name ?? ''} ${direction} ${position}`,
  about: aboutRule,
  betweenFields: (rule) => [
    ...portsWithoutProtocol(rule),
    ...icmpWithoutProtocol(rule),
    ...mixedFamilies({ peers: rule.peers }),
    ...(rule.peerFilterIds.includes(rule.filterId)
      ? [
          wrong(
            'peerFilterIds',
            'rule.itself',
            'The rule names its own filter as its peer.',
            'Name the prefixes of the members instead.',
          ),
        ]
      : []),
  ],
  betweenEntities: (plan, { filterId, action }) =>
    action === 'deny' && byId(plan.filters, filterId)?.mode === 'allow-only'
      ? [
          wrong(
            'action',
            'rule.deny',
            'An allow-only filter has no deny rules: what no rule allows is denied.',
            'Choose allow, or make the filter a list in order.',
          ),
        ]
      : [],
};
