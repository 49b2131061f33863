import { byId } from '../collection.js';
import type { ForwardingRule } from './forwardingRules.js';
import type { KindRules } from './rules.js';
import { wrong } from './rules.js';
import { notName } from './zonesRules.js';

export const forwardingRulesRules: KindRules<ForwardingRule> = {
  label: ({ name }) => name,
  about: ({ domain, targets }) => `${domain === '' ? 'every name' : domain} to ${targets.join(', ')}`,
  betweenFields: ({ domain }) => notName('domain', domain),
  betweenEntities: (plan, forward) => {
    const through = byId(plan.resolvers, forward.throughId ?? '');
    return [
      ...(through?.role === 'inbound'
        ? [
            wrong(
              'throughId',
              'forward.inbound',
              `${through.name} takes questions of others and sends none.`,
              'Choose an outbound resolver.',
            ),
          ]
        : []),
    ];
  },
};
