import { flag, intent, name, note, proposedAs, reference, zone } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A route table of a network: its static routes, beside those that are derived. */
export const routeTables = defineKind({
  kind: 'routeTables',
  code: 'routeTable',
  one: 'route table',
  about: 'A route table of a network: its static routes, beside those that are derived.',
  since: 5,
  unique: {
    by: ['networkId', 'name'],
    taken: {
      field: 'name',
      code: 'route-table.twice',
      message: 'This network has a route table of that name already.',
      fix: 'Choose another name.',
    },
  },
  fields: {
    name: name('What the route table is called.'),
    networkId: reference({ label: 'Network', help: 'Whose table it is.', to: 'networks', onRemoval: 'cascade' }),
    isMain: flag({
      label: 'Main',
      help: 'Holds for every subnet and node range of its network, and of its zone if it has one, that names no table; and for what arrives over links.',
      fallback: false,
    }),
    zone: zone('The zone it is the main table for; empty for the whole network.'),
    note: note(),
    intent: intent(),
    proposedAs: proposedAs(),
  },
});

/** A route table of a network: its static routes, beside those that are derived. */
export type RouteTable = EntityOfFields<(typeof routeTables)['fields']>;
