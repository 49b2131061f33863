import { choice, flag, integer, name, references } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { encapsulationNames } from './vocabulary.js';

/** A join of networks. What each side advertises and accepts is in its attachment; without one it is everything. */
export const links = defineKind({
  kind: 'links',
  code: 'link',
  one: 'link',
  about: 'A connection between networks: peering, transit hub, tunnel or private circuit.',
  since: 1,
  unique: { by: ['name'] },
  fields: {
    name: name('What the link is called.'),
    kind: choice({
      label: 'Kind',
      help: 'Peering, tunnel and circuit join two networks; a transit hub joins all that attach.',
      options: ['peering', 'hub', 'tunnel', 'circuit'],
    }),
    networkIds: references({
      label: 'Networks',
      help: 'The networks it joins.',
      to: 'networks',
      min: 2,
      max: 1000,
      onRemoval: 'drop',
    }),
    mtu: integer({
      label: 'MTU',
      help: 'Largest IP packet on it, before any encapsulation.',
      unit: 'bytes',
      min: 576,
      max: 9216,
      fallback: 1500,
      since: 2,
    }),
    encapsulation: choice({
      label: 'Encapsulation',
      help: 'Encapsulation of the packets that cross it.',
      options: encapsulationNames,
      fallback: 'none',
      since: 2,
    }),
    isPlanned: flag({ label: 'Planned', help: 'Not there yet; verdicts that need it say so.', fallback: false }),
  },
});

/** A join of networks. */
export type Link = EntityOfFields<(typeof links)['fields']>;

/** How networks are joined: peering (two, not transitive), transit hub (all that attach), tunnel or private circuit (two). */
export type LinkKind = Link['kind'];
