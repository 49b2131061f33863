import { note, prefix, reference, text } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A range that somebody else already uses. */
export const inUse = defineKind({
  kind: 'inUse',
  code: 'inUse',
  one: 'range in use',
  about: 'A range that somebody else already uses.',
  since: 1,
  sameRow: ['prefix', 'owner', 'networkId'],
  sameRowLoosely: ['prefix', 'networkId'],
  fields: {
    prefix: prefix('The range somebody else uses.'),
    owner: text({ label: 'Owner', help: 'Who uses it.', min: 1, max: 120 }),
    networkId: reference({
      label: 'Network',
      help: 'The network it answers in; empty when attached to none yet.',
      empty: 'none yet',
      to: 'networks',
      isOptional: true,
    }),
    note: note(),
  },
});

/** A range that somebody else already uses. */
export type InUseRange = EntityOfFields<(typeof inUse)['fields']>;
