import type { Cluster, Template } from './entities.js';
import { name, optional } from './fieldRule.js';
import type { FieldsOf } from './fieldRule.js';

/** The fields of a cluster that a template may fix, its network and shape apart. */
export const templateFields = [
  'podMode',
  'encapsulation',
  'encryption',
  'podNeeds',
  'mtuFloor',
  'family',
  'controlPlane',
  'controlNodes',
  'apiEndpoint',
  'zoneCount',
  'nodesNow',
  'nodesHorizon',
  'podsPerNode',
  'perNodeLength',
  'services',
  'surgePercent',
  'entryAddresses',
  'hasEntrySubnets',
] as const satisfies readonly (keyof Cluster)[];

/** The rule of every field of a cluster template. */
export const templateFieldRules: FieldsOf<Template> = {
  name: name('What the template is called.'),
  basedOnId: optional(
    'Based on',
    'The template it follows in whatever it does not fix; empty for none.',
    'templates',
    'none',
  ),
  namePattern: {
    type: 'text',
    label: 'Names',
    help: 'How its clusters are named, such as kiosk-{site}; empty follows the template it is based on.',
    min: 0,
    max: 60,
    fallback: '{site}',
  },
  networkId: optional('Network', 'The network of its clusters; empty leaves it open.', 'networks', 'open'),
  shapeId: optional('Machine shape', 'The machine shape of its clusters; empty leaves it open.', 'shapes', 'open'),
  fixes: {
    type: 'texts',
    label: 'Fixes',
    help: 'The other cluster fields it fixes, each as podMode=overlay.',
    min: 0,
    max: 40,
    maxLength: 200,
    form: 'fix',
    fallback: [],
  },
  poolIds: {
    type: 'references',
    label: 'Pools',
    help: 'The pools its clusters take ranges from; empty for any that is open to them.',
    to: 'pools',
    min: 0,
    max: 20,
    fallback: [],
  },
};
