import { address, choice, name, note, reference, texts } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';
import { domain } from './zones.js';

/** What takes calls at one address and sends them on to members. */
export const balancers = defineKind({
  kind: 'balancers',
  code: 'balancer',
  one: 'load balancer',
  about: 'What takes calls at one address and sends them on to members.',
  since: 7,
  unique: { by: ['name'] },
  fields: {
    name: name('What the load balancer is called.'),
    subnetId: reference({
      label: 'Subnet',
      help: 'Where it is: from there it calls its members, and there an internal one has its address.',
      to: 'subnets',
    }),
    layer: choice({
      label: 'Layer',
      help: 'Layer 4 passes connections on by port; layer 7 reads requests.',
      options: ['4', '7'],
      fallback: '4',
    }),
    runBy: choice({
      label: 'Run by',
      help: 'The provider, an appliance outside the cluster, or the cluster itself.',
      options: ['provider', 'appliance', 'cluster'],
      fallback: 'provider',
    }),
    clusterId: reference({
      label: 'Cluster',
      help: 'The cluster that runs it, where one does.',
      empty: 'none',
      to: 'clusters',
      isOptional: true,
      onRemoval: 'cascade',
    }),
    side: choice({
      label: 'Side',
      help: 'Whether it answers inside networks or on the internet.',
      options: ['internal', 'public'],
      fallback: 'internal',
    }),
    address: address({
      label: 'Address',
      help: 'The address that clients call; empty while it is not decided.',
      empty: 'not decided',
      isOptional: true,
    }),
    providerName: domain({
      label: 'Provider DNS name',
      help: 'The name that its provider gave it, which answers its addresses; empty for none.',
      min: 0,
      since: 8,
    }),
    zones: texts({
      label: 'Zones',
      help: 'Zones it runs in; empty for that of its subnet.',
      min: 0,
      max: 20,
      maxLength: 20,
      fallback: [],
    }),
    client: choice({
      label: 'Client address',
      help: 'Whether members see the client’s address or that of the load balancer.',
      options: ['replaced', 'kept'],
      fallback: 'replaced',
    }),
    note: note(),
  },
});

/** What takes calls at one address and sends them on to members. */
export type Balancer = EntityOfFields<(typeof balancers)['fields']>;
