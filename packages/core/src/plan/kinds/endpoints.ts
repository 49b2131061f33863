import { address, choice, intent, name, proposedAs, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** An address in a subnet behind which a shared service answers. */
export const endpoints = defineKind({
  kind: 'endpoints',
  code: 'endpoint',
  one: 'private endpoint',
  about: 'An address in a subnet behind which a shared service answers.',
  since: 5,
  unique: { by: ['name'] },
  fields: {
    name: name('What the endpoint is called.'),
    subnetId: reference({ label: 'Subnet', help: 'The subnet it is in.', to: 'subnets' }),
    address: address({ label: 'Address', help: 'Its address in that subnet.' }),
    serves: choice({
      label: 'Serves',
      help: 'What answers there: the API of a cluster, a registry, or another shared service.',
      options: ['cluster API', 'registry', 'service'],
      fallback: 'service',
    }),
    clusterId: reference({
      label: 'Cluster',
      help: 'Whose API it is, when it serves one.',
      empty: 'none',
      to: 'clusters',
      isOptional: true,
      onRemoval: 'cascade',
    }),
    intent: intent(),
    proposedAs: proposedAs(),
  },
});

/** An address in a subnet behind which a shared service answers. */
export type Endpoint = EntityOfFields<(typeof endpoints)['fields']>;
