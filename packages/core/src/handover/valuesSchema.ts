import { VALUES_VERSION } from './keyedValues.js';

type Schema = Readonly<Record<string, unknown>>;

const text = (description: string): Schema => ({ type: 'string', description });
const texts = (description: string): Schema => ({ type: 'array', items: { type: 'string' }, description });
const yes = (description: string): Schema => ({ type: 'boolean', description });
const count = (description: string): Schema => ({ type: 'integer', minimum: 0, description });
const orNull = (schema: Schema): Schema => ({ ...schema, type: [schema['type'], 'null'] });

/** An object of which each key is there. */
function object(description: string, properties: Readonly<Record<string, Schema>>): Schema {
  return { type: 'object', description, properties, required: Object.keys(properties), additionalProperties: false };
}

/** Values by the names of things, in small letters. */
function by(description: string, each: Schema): Schema {
  return { type: 'object', description, propertyNames: { pattern: '^[a-z0-9_.-]+$' }, additionalProperties: each };
}

const range = object('A range of the cluster.', {
  prefix: text('The range in CIDR notation (RFC 4632, RFC 4291).'),
  zone: text('The zone that it is for; empty for all.'),
});

const clusterPart = object('The cluster itself.', {
  id: text('Its id in the plan, which stays when it is renamed.'),
  name: text('Its name.'),
  site: text('Its site.'),
  template: orNull(text('The template that it follows.')),
  isBuilt: yes('Whether it stands already.'),
  family: text('ipv4, ipv6 or dual.'),
  controlPlane: text('hosted by the provider or self-run.'),
  controlNodes: count('Nodes of a self-run control plane; 0 where it is hosted.'),
  apiEndpoint: text('Whether the API of a hosted control plane is public, private or both.'),
  apiPort: orNull(count('Port of its API; null for the usual one.')),
});

const podNetworkPart = object('Its pod network.', {
  mode: text('overlay, routed or native.'),
  encapsulation: text('What wraps packets between nodes.'),
  encryption: text('What encrypts packets between nodes; none for nothing.'),
  podsPerNode: count('Pods that a node runs at most.'),
  perNodeLength: orNull(count('Prefix length of the pod range of each node; null where it follows from the pods.')),
  untranslated: texts('Destinations to which pods keep their own addresses.'),
});

const nodesPart = by(
  'Its nodes by pool; main for those of no pool.',
  object('Nodes of a pool.', {
    now: count('Nodes today.'),
    horizon: count('Nodes at the horizon of the plan.'),
    zones: texts('Zones that they are spread over.'),
  }),
);

const networkPart = object('The network that its nodes are in.', {
  id: text('Its id in the plan.'),
  name: text('Its name.'),
  mtu: count('Largest packet that it carries, in bytes.'),
  blocks: texts('Its address blocks.'),
  nameServers: texts('Addresses of its name servers.'),
  timeServers: texts('Its time servers.'),
});

const subnetsPart = by(
  'Every subnet of that network by its name.',
  object('A subnet.', {
    id: text('Its id in the plan.'),
    prefix: text('Its range.'),
    zone: text('Its zone; empty for all of its site.'),
    purpose: text('What it is for.'),
    isPublic: yes('Whether its machines have public addresses.'),
    routeTable: orNull(text('Its route table; null for the main one.')),
  }),
);

const addressesPart = object('Addresses that are decided; null where one is still open.', {
  reserved: by(
    'Consecutive addresses that are reserved for the cluster.',
    object('A reservation.', {
      first: text('The first address.'),
      count: count('How many.'),
    }),
  ),
  endpoints: by('Private endpoints in its network.', orNull(text('The address.'))),
  balancers: by('Load balancers in its network.', orNull(text('The address.'))),
  nat: by('NAT devices in its network.', texts('Their public addresses.')),
  bastions: by('Bastions in its network.', orNull(text('The address.'))),
});

const namesPart = object('Its names.', {
  baseDomain: text('The domain that names of the cluster itself are in.'),
  clusterDomain: text('The domain of its services.'),
  replicas: orNull(count('Pods of its DNS; null where they follow from its size.')),
  hasNodeCache: yes('Whether each node keeps answers.'),
  zones: texts('Private zones that its network sees.'),
});

/** The JSON Schema (draft 2020-12) of the keyed values of a cluster. */
export function keyedValuesSchema(): Schema {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Keyed values of a cluster',
    ...object('What provisioning needs of one cluster, by keys that stay the same from plan to plan.', {
      version: { const: VALUES_VERSION, description: 'The version of this form.' },
      cluster: clusterPart,
      podNetwork: podNetworkPart,
      nodes: nodesPart,
      network: networkPart,
      subnets: subnetsPart,
      ranges: object('The ranges of the cluster.', {
        node: { type: 'array', items: range, description: 'For nodes.' },
        pod: { type: 'array', items: range, description: 'For pods.' },
        service: { type: 'array', items: range, description: 'For services.' },
      }),
      addresses: addressesPart,
      names: namesPart,
      connections: by(
        'Connections that it is a member of.',
        object('A membership.', {
          memberId: text('What the member is called there.'),
          method: text('tunnels, relays or flat.'),
          gateways: count('Gateways of the member.'),
        }),
      ),
    }),
  };
}
