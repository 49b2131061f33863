import { address, intent, name, proposedAs, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A place from which nodes are administered. */
export const bastions = defineKind({
  kind: 'bastions',
  code: 'bastion',
  one: 'bastion',
  about: 'A place from which nodes are administered.',
  since: 5,
  unique: { by: ['name'] },
  fields: {
    name: name('What the bastion is called.'),
    subnetId: reference({ label: 'Subnet', help: 'The subnet it is in.', to: 'subnets' }),
    address: address({ label: 'Address', help: 'Its address in that subnet.' }),
    intent: intent(),
    proposedAs: proposedAs(),
  },
});

/** A place from which nodes are administered. */
export type Bastion = EntityOfFields<(typeof bastions)['fields']>;
