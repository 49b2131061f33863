import { choice, flag, integer, prefix, reference, zone } from './field.js';
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
    by: ['clusterId', 'purpose', 'zone', { familyOf: 'prefix' }, 'turn'],
    taken: {
      field: 'purpose',
      code: 'allocation.twice',
      message: 'This cluster has a range for that purpose, zone, family and turn already.',
      fix: 'Change that one, or give another subnet the next turn.',
    },
  },
  fields: {
    clusterId: reference({ label: 'Cluster', help: 'Whose range it is.', to: 'clusters', onRemoval: 'cascade' }),
    purpose: choice({ label: 'Purpose', formerly: ['For'], help: 'What the range is for.', options: purposes }),
    zone: zone('The zone whose subnet it is; empty for the whole cluster.'),
    prefix: prefix('The range itself.'),
    turn: integer({
      label: 'Turn',
      help: 'Which of the subnets of its zone it is, where there are several: 1 is filled first, then 2.',
      unit: '',
      min: 1,
      max: 16,
      fallback: 1,
      since: 11,
    }),
    isPinned: flag({ label: 'Pinned', formerly: ['Fixed'], help: 'Never moved by a proposal.', fallback: false }),
  },
});

/** A range given to one cluster for one purpose. */
export type Allocation = EntityOfFields<(typeof allocations)['fields']>;
