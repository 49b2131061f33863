import { addresses, name, note, reference, references } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { domain } from './zones.js';

/** Questions for a domain that networks send on to other resolvers. */
export const forwardingRules = defineKind({
  kind: 'forwardingRules',
  code: 'forwardingRule',
  one: 'forwarding rule',
  about: 'Questions for a domain that networks send on to other resolvers.',
  since: 8,
  unique: { by: ['name'] },
  fields: {
    name: name('What the rule is called.'),
    domain: domain({
      label: 'Domain name',
      help: 'Names at and below it are sent on; empty for every name that no zone is for.',
      min: 0,
    }),
    networkIds: references({
      label: 'Networks',
      help: 'Networks in which it holds.',
      to: 'networks',
      min: 1,
      max: 200,
    }),
    targets: addresses({
      label: 'Forward to',
      help: 'Addresses of the resolvers that are asked, in their order.',
      min: 1,
      max: 6,
    }),
    throughId: reference({
      label: 'Outbound resolver',
      help: 'The outbound resolver whose addresses the questions come from; empty for those of the network itself.',
      empty: 'its own',
      to: 'resolvers',
      isOptional: true,
    }),
    note: note(),
  },
});

/** Questions for a domain that networks send on to other resolvers. */
export type ForwardingRule = EntityOfFields<(typeof forwardingRules)['fields']>;
