import { choice, intent, note, prefix, proposedAs, reference } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

const hop = (label: string, help: string, to: string) =>
  reference({ label, help, empty: 'none', to, isOptional: true, onRemoval: 'drop' });

/** A static route of a route table. */
export const routes = defineKind({
  kind: 'routes',
  code: 'route',
  one: 'static route',
  about: 'A static route of a route table.',
  since: 5,
  unique: {
    by: ['routeTableId', 'prefix'],
    taken: {
      field: 'prefix',
      code: 'route.twice',
      message: 'This table has a static route for that prefix already.',
      fix: 'Change that one instead.',
    },
  },
  fields: {
    routeTableId: reference({
      label: 'Route table',
      help: 'The table it is in.',
      to: 'routeTables',
      onRemoval: 'cascade',
    }),
    prefix: prefix('The destinations it is for.'),
    nextHop: choice({
      label: 'Next hop',
      help: 'Where packets go: over a link, to a NAT device or firewall of the same network, to the internet, or nowhere.',
      options: ['link', 'nat', 'firewall', 'internet', 'drop'],
    }),
    linkId: hop('Link', 'The link, when that is the next hop.', 'links'),
    natDeviceId: hop('NAT device', 'The NAT device, when that is the next hop.', 'natDevices'),
    firewallId: hop('Firewall', 'The firewall, when that is the next hop.', 'firewalls'),
    note: note(),
    intent: intent(),
    proposedAs: proposedAs(),
  },
});

/** A static route of a route table. */
export type Route = EntityOfFields<(typeof routes)['fields']>;
