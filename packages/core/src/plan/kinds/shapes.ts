import { choices, decimal, integer, name, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { encapsulationNames } from './vocabulary.js';

/** A kind of machine that a provider offers. */
export const shapes = defineKind({
  kind: 'shapes',
  code: 'shape',
  one: 'machine shape',
  about: 'A kind of machine that a provider offers.',
  since: 2,
  unique: { by: ['name'] },
  fields: {
    name: name('What the kind of machine is called.'),
    profileId: reference({
      label: 'Profile',
      help: 'The provider profile that offers it.',
      to: 'profiles',
      onRemoval: 'cascade',
    }),
    vcpus: integer({ label: 'vCPU', help: 'Virtual processors.', unit: 'vCPU', min: 1, max: 1024, fallback: 4 }),
    memoryGib: integer({ label: 'Memory', help: 'Memory in GiB.', unit: 'GiB', min: 1, max: 65_536, fallback: 16 }),
    interfaces: integer({
      label: 'Interfaces',
      help: 'Network interfaces a machine can have.',
      unit: 'interfaces',
      min: 1,
      max: 64,
      fallback: 4,
    }),
    slotsPerInterface: integer({
      label: 'Slots',
      help: 'Addresses, or slots for /28 prefixes, on each interface.',
      unit: 'slots',
      min: 1,
      max: 1000,
      fallback: 15,
    }),
    podCap: integer({
      label: 'Pod cap',
      help: 'Most pods one node of this shape may run, whatever its interfaces allow.',
      unit: 'pods',
      min: 1,
      max: 1000,
      fallback: 110,
    }),
    encapsulations: choices({
      label: 'Kernel encapsulations',
      help: 'Encapsulations that its kernel supports.',
      options: encapsulationNames,
      min: 0,
      fallback: encapsulationNames,
      since: 3,
    }),
    price: decimal({
      label: 'Price per month',
      help: 'For one node and month, in the currency of the plan.',
      unit: 'per month',
      min: 0,
      max: 1_000_000,
      decimals: 2,
      isOptional: false,
      fallback: 0,
    }),
  },
});

/** A kind of machine that a provider offers. */
export type Shape = EntityOfFields<(typeof shapes)['fields']>;
