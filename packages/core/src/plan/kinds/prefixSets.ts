import { name, note, prefixes } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** Prefixes that rules refer to by one name. */
export const prefixSets = defineKind({
  kind: 'prefixSets',
  code: 'prefixSet',
  one: 'prefix set',
  about: 'Prefixes that rules refer to by one name.',
  since: 5,
  unique: { by: ['name'] },
  fields: {
    name: name('What rules call it.'),
    prefixes: prefixes({ label: 'Prefixes', help: 'The prefixes in it.', min: 1, max: 1000 }),
    note: note(),
  },
});

/** Prefixes that rules refer to by one name. */
export type PrefixSet = EntityOfFields<(typeof prefixSets)['fields']>;
