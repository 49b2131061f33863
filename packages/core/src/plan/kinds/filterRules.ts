import { choice, intent, note, ports, proposedAs, reference, references } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { action, icmp, position, protocol, rulePrefixes, rulePrefixSets } from './ruleFields.js';

/** One rule of a filter. */
export const filterRules = defineKind({
  kind: 'filterRules',
  code: 'filterRule',
  one: 'filter rule',
  about: 'One rule of a filter.',
  since: 5,
  unique: {
    by: ['filterId', 'direction', 'position'],
    taken: {
      field: 'position',
      code: 'rule.position',
      message: 'This filter has a rule at that position and direction already.',
      fix: 'Choose another position.',
    },
  },
  fields: {
    filterId: reference({ label: 'Filter', help: 'The filter it is in.', to: 'filters', onRemoval: 'cascade' }),
    direction: choice({
      label: 'Direction',
      help: 'Packets that enter what the filter is attached to, or leave it.',
      options: ['in', 'out'],
    }),
    position: position(),
    action: action(),
    protocol: protocol(),
    ports: ports('Destination ports, each as 443 or 30000-32767; empty for all.'),
    icmp: icmp(),
    peers: rulePrefixes('Peers', 'Prefixes at the other side; with nothing named, everybody.'),
    peerSetIds: rulePrefixSets('Peer sets', 'Prefix sets at the other side.'),
    peerFilterIds: references({
      label: 'Peer filters',
      help: 'Filters whose members are at the other side.',
      to: 'filters',
      min: 0,
      max: 50,
      fallback: [],
    }),
    note: note(),
    intent: intent(),
    proposedAs: proposedAs(),
  },
});

/** One rule of a filter. */
export type FilterRule = EntityOfFields<(typeof filterRules)['fields']>;
