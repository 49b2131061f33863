import { addresses, intent, name, proposedAs, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** Translates private source addresses to its public ones. */
export const natDevices = defineKind({
  kind: 'natDevices',
  code: 'natDevice',
  one: 'NAT device',
  about: 'Translates private source addresses to its public ones.',
  since: 5,
  unique: { by: ['name'] },
  fields: {
    name: name('What the device is called.'),
    subnetId: reference({
      label: 'Subnet',
      help: 'The subnet it is in; its zone is that of the device.',
      to: 'subnets',
    }),
    publicAddresses: addresses({
      label: 'Public addresses',
      help: 'The public IPv4 addresses it translates to.',
      min: 0,
      max: 64,
      fallback: [],
    }),
    intent: intent(),
    proposedAs: proposedAs(),
  },
});

/** Translates private source addresses to its public ones. */
export type NatDevice = EntityOfFields<(typeof natDevices)['fields']>;
