import { choice, flag, intent, name, note, proposedAs, references } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

const attached = (label: string, help: string, to: string) =>
  references({ label, help, to, min: 0, max: 1000, onRemoval: 'drop', fallback: [] });

/** Rules on what may enter and leave what it is attached to. */
export const filters = defineKind({
  kind: 'filters',
  code: 'filter',
  one: 'filter',
  about: 'Rules on what may enter and leave what it is attached to.',
  since: 5,
  unique: { by: ['name'] },
  fields: {
    name: name('What the filter is called.'),
    mode: choice({
      label: 'Mode',
      help: 'A union of what is allowed, or a list in order whose first matching rule decides.',
      options: ['allow-only', 'ordered'],
      fallback: 'allow-only',
    }),
    isStateful: flag({
      label: 'Stateful',
      help: 'Answers of an allowed connection pass without a rule.',
      fallback: true,
    }),
    defaultIn: choice({
      label: 'Default in',
      help: 'What happens to packets that enter and match no rule.',
      options: ['deny', 'allow'],
      fallback: 'deny',
    }),
    defaultOut: choice({
      label: 'Default out',
      help: 'What happens to packets that leave and match no rule.',
      options: ['deny', 'allow'],
      fallback: 'deny',
    }),
    clusterIds: attached('Clusters', 'Clusters whose nodes it is attached to.', 'clusters'),
    nodePoolIds: attached('Node pools', 'Node pools whose nodes it is attached to.', 'nodePools'),
    subnetIds: attached('Subnets', 'Subnets it is attached to.', 'subnets'),
    endpointIds: attached('Private endpoints', 'Private endpoints it is attached to.', 'endpoints'),
    balancerIds: references({
      label: 'Load balancers',
      help: 'Load balancers it is attached to.',
      to: 'balancers',
      min: 0,
      max: 1000,
      onRemoval: 'drop',
      fallback: [],
      since: 7,
    }),
    note: note(),
    intent: intent(),
    proposedAs: proposedAs(),
  },
});

/** Rules on what may enter and leave what it is attached to. */
export type Filter = EntityOfFields<(typeof filters)['fields']>;
