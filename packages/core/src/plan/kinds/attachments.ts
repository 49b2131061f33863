import { choice, flag, integer, prefixes, reference, references } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** What routers give a route to which nothing else is given: common practice. */
export const USUAL_PREFERENCE = 100;

/** What one network advertises and accepts over one link. */
export const attachments = defineKind({
  kind: 'attachments',
  code: 'attachment',
  one: 'link attachment',
  about: 'What one network advertises and accepts over one link.',
  since: 2,
  unique: {
    by: ['linkId', 'networkId'],
    taken: {
      field: 'networkId',
      code: 'attachment.twice',
      message: 'This network has an attachment to that link already.',
      fix: 'Change that one instead.',
    },
  },
  fields: {
    linkId: reference({ label: 'Link', help: 'The link it is about.', to: 'links', onRemoval: 'cascade' }),
    networkId: reference({
      label: 'Network',
      help: 'The network on that link.',
      to: 'networks',
      onRemoval: 'cascade',
    }),
    advertises: prefixes({
      label: 'Advertises',
      help: 'Prefixes it advertises to the others; empty for all its own. A prefix of another network is passed on (transit).',
      min: 0,
      max: 200,
      fallback: [],
    }),
    accepts: choice({
      label: 'Accepts',
      help: 'Which routes it accepts from the others: all, none, or those of the listed networks.',
      options: ['all', 'none', 'listed'],
      fallback: 'all',
    }),
    acceptsFromIds: references({
      label: 'Accepts from',
      help: 'The networks whose routes it accepts, when it accepts listed ones.',
      to: 'networks',
      min: 0,
      max: 1000,
      onRemoval: 'drop',
      fallback: [],
    }),
    localPreference: integer({
      label: 'Local preference',
      help: 'Of equally long routes the one over the link with the highest is taken (RFC 4271 5.1.5); of equal ones packets take any.',
      unit: '',
      min: 0,
      max: 1_000_000,
      fallback: USUAL_PREFERENCE,
      since: 12,
    }),
    isPlanned: flag({
      label: 'Planned',
      help: 'The network is not on the link yet, though the link may exist; verdicts that need it say so.',
      fallback: false,
      since: 4,
    }),
  },
});

/** What one network advertises and accepts over one link. */
export type Attachment = EntityOfFields<(typeof attachments)['fields']>;
