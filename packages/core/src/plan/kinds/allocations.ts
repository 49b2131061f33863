import { choice, flag, prefix, reference, zone } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { purposes } from './vocabulary.js';

/** A range given to one cluster for one purpose. */
export const allocations = defineKind({
  kind: 'allocations',
  code: 'allocation',
  one: 'allocated range',
  about: 'A range given to one cluster for one purpose.',
  since: 1,
  unique: {
    by: ['clusterId', 'purpose', 'zone', { familyOf: 'prefix' }],
    taken: {
      field: 'purpose',
      code: 'allocation.twice',
      message: 'This cluster has a range for that purpose, zone and family already.',
      mend: 'Change that one instead.',
    },
  },
  fields: {
    clusterId: reference({ label: 'Cluster', help: 'Whose range it is.', to: 'clusters', onRemoval: 'cascade' }),
    purpose: choice({ label: 'For', help: 'What the range is for.', options: purposes }),
    zone: zone('The zone whose subnet it is; empty for the whole cluster.'),
    prefix: prefix('The range itself.'),
    isFixed: flag({ label: 'Fixed', help: 'Never moved by a proposal.', fallback: false }),
  },
});

/** A range given to one cluster for one purpose. */
export type Allocation = EntityOfFields<(typeof allocations)['fields']>;
