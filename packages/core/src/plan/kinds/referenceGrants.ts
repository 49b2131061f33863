import { name, note, reference, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { keptFields, namespace } from './workloads.js';

/** Who of other namespaces may name objects of this one: a ReferenceGrant of the Gateway API. */
export const referenceGrants = defineKind({
  kind: 'referenceGrants',
  code: 'referenceGrant',
  one: 'reference grant',
  about: 'Who of other namespaces may name services and secrets of this one.',
  since: 13,
  unique: { by: ['clusterId', 'namespace', 'name'] },
  fields: {
    name: name('What the grant is called.'),
    clusterId: reference({ label: 'Cluster', help: 'Where it is.', to: 'clusters', onRemoval: 'cascade' }),
    namespace: namespace('The namespace it is in: that of the services and secrets which may be named.'),
    from: texts({
      label: 'From',
      help: 'Who may name them, each as a kind and its namespace: HTTPRoute in shop, Gateway in edge.',
      min: 1,
      max: 16,
      maxLength: 90,
      form: 'grantFrom',
    }),
    to: texts({
      label: 'To',
      help: 'What may be named, each as a kind, with a name if only that one may be named: Service, Service basket, Secret edge-cert.',
      min: 1,
      max: 16,
      maxLength: 270,
      form: 'grantTo',
    }),
    preserved: keptFields(),
    note: note(),
  },
});

/** Who of other namespaces may name objects of this one. */
export type ReferenceGrant = EntityOfFields<(typeof referenceGrants)['fields']>;
