import { intent, note, ports, proposedAs, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { action, icmp, position, protocol, rulePrefixes, rulePrefixSets } from './ruleFields.js';

/** One rule of a firewall; the first that matches decides. */
export const firewallRules = defineKind({
  kind: 'firewallRules',
  code: 'firewallRule',
  one: 'firewall rule',
  about: 'One rule of a firewall; the first that matches decides.',
  since: 5,
  unique: {
    by: ['firewallId', 'position'],
    taken: {
      field: 'position',
      code: 'rule.position',
      message: 'This firewall has a rule at that position already.',
      fix: 'Choose another position.',
    },
  },
  fields: {
    firewallId: reference({ label: 'Firewall', help: 'The firewall it is in.', to: 'firewalls', onRemoval: 'cascade' }),
    position: position(),
    action: action(),
    protocol: protocol(),
    ports: ports('Destination ports, each as 443 or 30000-32767; empty for all.'),
    icmp: icmp(),
    sources: rulePrefixes('Sources', 'Prefixes packets come from; with no source named, everybody.'),
    sourceSetIds: rulePrefixSets('Source sets', 'Prefix sets packets come from.'),
    destinations: rulePrefixes('Destinations', 'Prefixes packets go to; with no destination named, everywhere.'),
    destinationSetIds: rulePrefixSets('Destination sets', 'Prefix sets packets go to.'),
    note: note(),
    intent: intent(),
    proposedAs: proposedAs(),
  },
});

/** One rule of a firewall; the first that matches decides. */
export type FirewallRule = EntityOfFields<(typeof firewallRules)['fields']>;
