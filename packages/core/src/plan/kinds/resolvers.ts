import { addresses, choice, name, note, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** Addresses of a network at which names are asked, or from which it asks others. */
export const resolvers = defineKind({
  kind: 'resolvers',
  code: 'resolver',
  one: 'resolver',
  about: 'Addresses of a network at which names are asked, or from which it asks others.',
  since: 8,
  unique: { by: ['name'] },
  fields: {
    name: name('What the resolver is called.'),
    networkId: reference({
      label: 'Network',
      help: 'Where its addresses are; it answers as names are answered there.',
      to: 'networks',
    }),
    addresses: addresses({ label: 'Addresses', help: 'Its addresses in subnets of the network.', min: 1, max: 16 }),
    role: choice({
      label: 'Role',
      help: 'Inbound takes questions of others, outbound sends forwarded ones, both as a server of one’s own does.',
      options: ['inbound', 'outbound', 'both'],
      fallback: 'both',
    }),
    note: note(),
  },
});

/** Addresses of a network at which names are asked, or from which it asks others. */
export type Resolver = EntityOfFields<(typeof resolvers)['fields']>;
