import { choices, flag, name, prefix, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { purposes } from './vocabulary.js';

/** Address space that ranges are allocated from. */
export const pools = defineKind({
  kind: 'pools',
  code: 'pool',
  one: 'address pool',
  about: 'Address space that ranges are allocated from.',
  since: 1,
  unique: { by: ['name'] },
  fields: {
    name: name('What the pool is called.'),
    prefix: prefix('The address space of the pool.'),
    purposes: choices({
      label: 'Purpose',
      formerly: ['For'],
      help: 'Which ranges are taken from it.',
      options: purposes,
      min: 1,
    }),
    siteId: reference({
      label: 'Site',
      help: 'Only for clusters at this site; empty for any.',
      empty: 'any',
      to: 'sites',
      isOptional: true,
    }),
    isShared: flag({
      label: 'Shared',
      help: 'Overlay pod and service ranges from it may repeat in other clusters.',
      fallback: false,
    }),
  },
});

/** Address space that ranges are allocated from. */
export type Pool = EntityOfFields<(typeof pools)['fields']>;
