import { addresses, choice, integer, name, note, optionalInteger, reference, text } from './field.js';
import { defineKind } from './kind.js';
import type { EntityOfFields } from './kind.js';

/** A named set of members that a load balancer sends to. */
export const backends = defineKind({
  kind: 'backends',
  code: 'backend',
  one: 'backend',
  about: 'A named set of members that a load balancer sends to.',
  since: 7,
  unique: { by: ['balancerId', 'name'] },
  fields: {
    name: name('What the backend is called.'),
    balancerId: reference({ label: 'Load balancer', help: 'What sends to it.', to: 'balancers', onRemoval: 'cascade' }),
    protocol: choice({
      label: 'Protocol',
      help: 'How members are called.',
      options: ['tcp', 'udp', 'http', 'https'],
      fallback: 'tcp',
    }),
    members: choice({
      label: 'Members',
      help: 'Nodes by the NodePort of a service, its pods themselves, or fixed addresses.',
      options: ['nodes', 'pods', 'addresses'],
      fallback: 'nodes',
    }),
    serviceId: reference({
      label: 'Service',
      help: 'The service whose nodes or pods are members; empty for fixed addresses, and while there is none yet.',
      empty: 'none',
      to: 'services',
      isOptional: true,
      onRemoval: 'drop',
    }),
    port: integer({
      label: 'Port',
      help: 'Port of that service; with fixed addresses the port that is called.',
      unit: 'port',
      min: 1,
      max: 65_535,
      fallback: 80,
    }),
    addresses: addresses({
      label: 'Addresses',
      help: 'Members by fixed address.',
      min: 0,
      max: 1000,
      fallback: [],
    }),
    healthPort: optionalInteger({
      label: 'Health port',
      help: 'Port that health checks call; empty for that of the member.',
      empty: 'as called',
      unit: 'port',
      min: 1,
      max: 65_535,
    }),
    healthPath: text({
      label: 'Health path',
      help: 'Path that health checks ask for; empty where a connection is enough.',
      min: 0,
      max: 200,
      compare: 'exact',
      fallback: '',
    }),
    method: choice({
      label: 'Balancing',
      help: 'How a member is chosen.',
      options: ['round robin', 'random', 'least connections', 'hash of the client'],
      fallback: 'round robin',
    }),
    sticky: choice({
      label: 'Stickiness',
      help: 'Whether a client stays with the member it met first, and what it is known by.',
      options: ['none', 'client address', 'cookie'],
      fallback: 'none',
    }),
    note: note(),
  },
});

/** A named set of members that a load balancer sends to. */
export type Backend = EntityOfFields<(typeof backends)['fields']>;
