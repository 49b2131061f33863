import { choice, name, note, reference, text, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { certificateHosts, certificateName } from './listeners.js';
import { keptFields, namespace } from './workloads.js';

/** Listeners that routes attach to: a Gateway of the Gateway API. */
export const gateways = defineKind({
  kind: 'gateways',
  code: 'gateway',
  one: 'gateway',
  about: 'Listeners that routes of the Gateway API attach to.',
  since: 7,
  unique: { by: ['clusterId', 'namespace', 'name'] },
  fields: {
    name: name('What the gateway is called.'),
    clusterId: reference({ label: 'Cluster', help: 'Where it is.', to: 'clusters', onRemoval: 'cascade' }),
    namespace: namespace('The namespace it is in.'),
    className: text({
      label: 'Class',
      help: 'The gateway class, which a controller serves.',
      min: 1,
      max: 63,
      compare: 'exact',
    }),
    listeners: texts({
      label: 'Listeners',
      help: [
        'Each as name, protocol and port, with a host if it is only for one: web https 443 *.tide.example.',
        'A certificate of its own may follow, and whose routes it takes where the gateway says otherwise:',
        'cert tide-cert, or passthrough; from all, own or labelled.',
      ].join(' '),
      min: 1,
      max: 64,
      maxLength: 500,
      form: 'gatewayListener',
    }),
    allowedRoutes: choice({
      label: 'Allowed routes',
      formerly: ['Takes routes of'],
      help: 'Whether routes of its own namespace attach to it, of every one, or of those with the labels below.',
      options: ['its namespace', 'all namespaces', 'labelled namespaces'],
      fallback: 'its namespace',
    }),
    namespaceTerms: texts({
      label: 'Namespaces',
      help: 'Conditions on the labels of the namespaces whose routes attach, where those decide: team=web, tier in (a, b), !old.',
      min: 0,
      max: 16,
      maxLength: 320,
      form: 'selectorTerm',
      fallback: [],
      since: 13,
    }),
    certificate: certificateName(),
    certificateHosts: certificateHosts(),
    preserved: keptFields(),
    note: note(),
  },
});

/** Listeners that routes of the Gateway API attach to. */
export type Gateway = EntityOfFields<(typeof gateways)['fields']>;
