import { integer, name, note } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A network: one routing domain of its own, in which each address is unique. */
export const networks = defineKind({
  kind: 'networks',
  code: 'network',
  one: 'network',
  about: 'A network: each address is unique in it.',
  since: 1,
  unique: { by: ['name'] },
  fields: {
    name: name('What the network is called.'),
    mtu: integer({
      label: 'MTU',
      help: 'Largest IP packet that its links carry whole.',
      unit: 'bytes',
      min: 1280,
      max: 9216,
      fallback: 1500,
      since: 2,
    }),
    note: note(),
  },
});

/** A network: one routing domain of its own, in which each address is unique. */
export type Network = EntityOfFields<(typeof networks)['fields']>;
