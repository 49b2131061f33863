import { address, integer, name, note, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** Consecutive addresses, in one of a cluster's subnets, that must be kept for it: virtual addresses, control plane with its spare. */
export const reservations = defineKind({
  kind: 'reservations',
  code: 'reservation',
  one: 'address reservation',
  about: 'Consecutive addresses, in one of a cluster’s subnets, that are kept for it.',
  since: 2,
  unique: { by: ['name'] },
  fields: {
    name: name('What the addresses are kept for, such as the control plane of a cluster.'),
    clusterId: reference({ label: 'Cluster', help: 'Whose addresses they are.', to: 'clusters', onRemoval: 'cascade' }),
    first: address({ label: 'First address', help: 'The first of the consecutive addresses.' }),
    count: integer({
      label: 'Addresses',
      help: 'How many consecutive addresses, the first included.',
      unit: 'addresses',
      min: 1,
      max: 256,
      fallback: 1,
    }),
    note: note(),
  },
});

/** Consecutive addresses that are kept for a cluster. */
export type Reservation = EntityOfFields<(typeof reservations)['fields']>;
