import { choice, intent, note, ports, prefixes, proposedAs, reference, references } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { position, protocol } from './ruleFields.js';

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
      mend: 'Choose another position.',
    },
  },
  fields: {
    firewallId: reference({ label: 'Firewall', help: 'The firewall it is in.', to: 'firewalls', onRemoval: 'cascade' }),
    position: position(),
    action: choice({
      label: 'Action',
      help: 'What happens to a packet that matches.',
      options: ['allow', 'deny'],
      fallback: 'allow',
    }),
    protocol: protocol(),
    ports: ports('Destination ports, each as 443 or 30000-32767; empty for all.'),
    sources: prefixes({
      label: 'Sources',
      help: 'Prefixes packets come from; with no source named, everybody.',
      min: 0,
      max: 200,
      fallback: [],
    }),
    sourceSetIds: references({
      label: 'Source sets',
      help: 'Prefix sets packets come from.',
      to: 'prefixSets',
      min: 0,
      max: 50,
      fallback: [],
    }),
    destinations: prefixes({
      label: 'Destinations',
      help: 'Prefixes packets go to; with no destination named, everywhere.',
      min: 0,
      max: 200,
      fallback: [],
    }),
    destinationSetIds: references({
      label: 'Destination sets',
      help: 'Prefix sets packets go to.',
      to: 'prefixSets',
      min: 0,
      max: 50,
      fallback: [],
    }),
    note: note(),
    intent: intent(),
    proposedAs: proposedAs(),
  },
});

/** One rule of a firewall; the first that matches decides. */
export type FirewallRule = EntityOfFields<(typeof firewallRules)['fields']>;
