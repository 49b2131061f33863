import { choice, choices, integer, name, note, reference, references, text } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** What keeps records in step with a cluster’s services, routes and gateways, from inside it. */
export const recordControllers = defineKind({
  kind: 'recordControllers',
  code: 'recordController',
  one: 'record controller',
  about: 'What keeps records in step with a cluster’s services, routes and gateways, from inside it.',
  since: 8,
  unique: { by: ['name'] },
  fields: {
    name: name('What the record controller is called.'),
    clusterId: reference({ label: 'Cluster', help: 'Where it runs.', to: 'clusters', onRemoval: 'cascade' }),
    ownerMark: text({
      label: 'Owner mark',
      help: 'By which it knows its own records; empty for none, which takes every record for its own.',
      min: 0,
      max: 63,
      compare: 'exact',
      fallback: '',
    }),
    zoneIds: references({
      label: 'Zones',
      help: 'Zones it may touch; empty for all.',
      to: 'zones',
      min: 0,
      max: 100,
      onRemoval: 'drop',
      fallback: [],
    }),
    types: choices({
      label: 'Types',
      help: 'Records it keeps.',
      options: ['A', 'AAAA', 'CNAME'],
      min: 1,
      fallback: ['A', 'AAAA', 'CNAME'],
    }),
    sources: choices({
      label: 'Sources',
      help: 'What it takes names from.',
      options: ['services', 'Ingress hosts', 'gateways'],
      min: 1,
      fallback: ['services', 'Ingress hosts', 'gateways'],
    }),
    policy: choice({
      label: 'Policy',
      help: 'Whether it also removes records that nothing asks for any more.',
      options: ['create only', 'create and remove'],
      fallback: 'create and remove',
    }),
    ttl: integer({ label: 'TTL', help: 'Of its records.', unit: 's', min: 0, max: 2_147_483_647, fallback: 300 }),
    note: note(),
  },
});

/** What keeps records in step with a cluster’s services, routes and gateways, from inside it. */
export type RecordController = EntityOfFields<(typeof recordControllers)['fields']>;
