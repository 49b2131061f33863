import { date, reference, text } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A locked decision of a built cluster that was changed, with its reason. */
export const rebuilds = defineKind({
  kind: 'rebuilds',
  code: 'rebuild',
  one: 'rebuild',
  about: 'A locked decision of a built cluster that was changed, with its reason.',
  since: 3,
  sameRow: ['clusterId', 'what', 'decidedOn'],
  fields: {
    clusterId: reference({ label: 'Cluster', help: 'What is rebuilt.', to: 'clusters', onRemoval: 'cascade' }),
    what: text({ label: 'Changes', help: 'The decision and its new value.', min: 1, max: 500 }),
    reason: text({ label: 'Reason', help: 'Why it has to be.', min: 1, max: 500 }),
    decidedOn: date({ label: 'Decided on', help: 'The day, as 2026-11-23.' }),
    decidedBy: text({ label: 'Decided by', help: 'Who decided it.', min: 1, max: 80 }),
  },
});

/** A locked decision of a built cluster that was changed, with its reason. */
export type Rebuild = EntityOfFields<(typeof rebuilds)['fields']>;
