import { choice, date, note, reference, text } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** What only people can know before anything is built. */
export const confirmable = [
  'permissions',
  'tools',
  'quotas',
  'image copies',
  'address plan agreed',
  'change window',
] as const;

/** A prerequisite that was confirmed by hand: while the row is there, it counts as met. */
export const confirmations = defineKind({
  kind: 'confirmations',
  code: 'confirmation',
  one: 'confirmation',
  about: 'A prerequisite of building that was confirmed by hand.',
  since: 15,
  unique: {
    by: ['siteId', 'what'],
    taken: {
      field: 'what',
      code: 'confirmation.twice',
      message: 'That is confirmed at this site already.',
      fix: 'Change that row instead.',
    },
  },
  fields: {
    siteId: reference({ label: 'Site', help: 'Where it is confirmed.', to: 'sites', onRemoval: 'cascade' }),
    what: choice({ label: 'Confirmed', help: 'What is there, or was agreed.', options: confirmable }),
    confirmedBy: text({ label: 'Confirmed by', help: 'Who confirmed it.', min: 1, max: 80 }),
    confirmedOn: date({ label: 'Confirmed on', help: 'The day it was confirmed.' }),
    note: note(),
  },
});

/** A prerequisite that was confirmed by hand. */
export type Confirmation = EntityOfFields<(typeof confirmations)['fields']>;
