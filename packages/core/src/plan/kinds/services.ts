import { address, addresses, choice, flag, name, note, reference, text, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { keptFields, namespace } from './workloads.js';

const policy = (label: string, help: string) =>
  choice({ label, help, options: ['cluster', 'local'], fallback: 'cluster' });

/** A name and an address for the pods that a selector finds: a Service of the Kubernetes API. */
export const services = defineKind({
  kind: 'services',
  code: 'service',
  one: 'service',
  about: 'A name and an address for the pods that its selector finds.',
  since: 6,
  unique: { by: ['clusterId', 'namespace', 'name'] },
  fields: {
    name: name('What the service is called.'),
    clusterId: reference({ label: 'Cluster', help: 'Where it is.', to: 'clusters', onRemoval: 'cascade' }),
    namespace: namespace('The namespace it is in; it selects pods of the same.'),
    type: choice({
      label: 'Type',
      help: 'ClusterIP inside the cluster; NodePort on every node; LoadBalancer from outside; headless for the pods themselves; ExternalName for another name.',
      options: ['ClusterIP', 'NodePort', 'LoadBalancer', 'headless', 'ExternalName'],
      fallback: 'ClusterIP',
    }),
    selector: texts({
      label: 'Selector',
      help: 'Labels that its pods have, each as key=value.',
      min: 0,
      max: 16,
      maxLength: 320,
      form: 'label',
      fallback: [],
    }),
    ports: texts({
      label: 'Ports',
      help: [
        'Each as protocol, port and container port, by number or name: tcp 80 to http. A name may come',
        'before it, and a fixed NodePort after it: web tcp 80 to 8080 node 30080.',
      ].join(' '),
      min: 0,
      max: 32,
      maxLength: 64,
      form: 'servicePort',
      fallback: [],
    }),
    hosts: texts({
      label: 'Host names',
      help: 'Names that a record controller publishes for it.',
      min: 0,
      max: 20,
      maxLength: 253,
      form: 'host',
      fallback: [],
      since: 8,
    }),
    address: address({
      label: 'Cluster address',
      help: 'A fixed address of the service range; empty for one that the cluster gives.',
      empty: 'given',
      isOptional: true,
    }),
    internalPolicy: policy(
      'Internal traffic policy',
      'Whether callers in the cluster reach every member, or those of their own node.',
    ),
    externalPolicy: policy(
      'External traffic policy',
      'Whether a node passes calls on to every member, or only to its own, which keeps the client’s address.',
    ),
    affinity: choice({
      label: 'Affinity',
      help: 'Whether a client stays with the member it met first.',
      options: ['none', 'client address'],
      fallback: 'none',
    }),
    endpoints: addresses({
      label: 'Endpoints',
      help: 'Addresses that answer in place of pods, for a service without a selector: at the number of the container port.',
      min: 0,
      max: 100,
      fallback: [],
      since: 13,
    }),
    publishNotReady: flag({
      label: 'Publishes pods that are not ready',
      help: 'Whether pods that are not ready count as its members and are named in DNS.',
      fallback: false,
      since: 13,
    }),
    externalName: text({
      label: 'External name',
      help: 'The host name that an ExternalName service stands for.',
      min: 0,
      max: 253,
      fallback: '',
    }),
    preserved: keptFields(),
    note: note(),
  },
});

/** A name and an address for the pods that a selector finds. */
export type ClusterService = EntityOfFields<(typeof services)['fields']>;
