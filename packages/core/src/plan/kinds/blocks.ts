import { note, prefix, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** An address block of a network; a network that has blocks takes its subnets from them. */
export const blocks = defineKind({
  kind: 'blocks',
  code: 'block',
  one: 'address block',
  about: 'An address block of a network; a network that has blocks takes its subnets from them.',
  since: 2,
  sameRow: ['networkId', 'prefix'],
  fields: {
    networkId: reference({
      label: 'Network',
      help: 'The network that has it.',
      to: 'networks',
      onRemoval: 'cascade',
    }),
    prefix: prefix('The address block.'),
    note: note(),
  },
});

/** An address block of a network; a network that has blocks takes its subnets from them. */
export type Block = EntityOfFields<(typeof blocks)['fields']>;
