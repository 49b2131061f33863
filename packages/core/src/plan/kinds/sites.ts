import { choice, decimal, name, reference, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

const degrees = (label: string, help: string, most: number) =>
  decimal({ label, help, unit: '°', min: -most, max: most, decimals: 4, isOptional: true, since: 2 });

/** A place where clusters stand. */
export const sites = defineKind({
  kind: 'sites',
  code: 'site',
  one: 'site',
  about: 'A place where clusters run.',
  since: 1,
  unique: { by: ['name'] },
  fields: {
    name: name('What the place is called.'),
    kind: choice({
      label: 'Kind',
      help: 'A cloud region, a data centre or an edge place.',
      options: ['region', 'data centre', 'edge'],
    }),
    profileId: reference({ label: 'Profile', help: 'The provider rules that hold here.', to: 'profiles' }),
    zones: texts({ label: 'Zones', help: 'Names of the zones, at least one.', min: 1, max: 9, maxLength: 20 }),
    latitude: degrees('Latitude', 'Degrees north; empty when unknown.', 90),
    longitude: degrees('Longitude', 'Degrees east; empty when unknown.', 180),
  },
});

/** A place where clusters stand. */
export type Site = EntityOfFields<(typeof sites)['fields']>;
