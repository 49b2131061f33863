import { encapsulationNames, encryptionNames, podRequirements, purposes } from './entities.js';
import type { EntityOf, Kind, PlanSettings } from './entities.js';

interface Common {
  /** Column heading and form label. */
  readonly label: string;
  /** One line on what the field means. */
  readonly help: string;
  /** What it means to leave it empty, in a word or two; for fields that may be. */
  readonly empty?: string;
}

/** How each text of a list is written: a label or taint of the Kubernetes API, a step of growth, a field of a cluster with its value. */
export type TextForm = 'label' | 'taint' | 'step' | 'fix';

/** What one field accepts. Forms, imports, the server's validation and the published JSON Schema all read this. */
export type FieldRule = Common &
  (
    | { readonly type: 'text'; readonly min: number; readonly max: number; readonly fallback?: string }
    | {
        readonly type: 'integer';
        readonly min: number;
        readonly max: number;
        readonly unit: string;
        readonly fallback?: number;
      }
    | {
        readonly type: 'optionalInteger';
        readonly min: number;
        readonly max: number;
        readonly unit: string;
        readonly fallback?: null;
      }
    | {
        readonly type: 'decimal';
        readonly min: number;
        readonly max: number;
        readonly unit: string;
        /** Digits after the point. */
        readonly decimals: number;
        readonly isOptional: boolean;
        readonly fallback?: number | null;
      }
    | { readonly type: 'choice'; readonly options: readonly string[]; readonly fallback?: string }
    | { readonly type: 'flag'; readonly fallback: boolean }
    | { readonly type: 'prefix' }
    | { readonly type: 'address' }
    | { readonly type: 'reference'; readonly to: Kind; readonly isOptional: boolean }
    | {
        readonly type: 'references';
        readonly to: Kind;
        readonly min: number;
        readonly max: number;
        readonly fallback?: readonly string[];
      }
    | { readonly type: 'prefixes'; readonly min: number; readonly max: number; readonly fallback?: readonly string[] }
    | {
        readonly type: 'choices';
        readonly options: readonly string[];
        readonly min: number;
        readonly fallback?: readonly string[];
      }
    | {
        readonly type: 'texts';
        readonly min: number;
        readonly max: number;
        readonly maxLength: number;
        /** How each is written; free text when absent. */
        readonly form?: TextForm;
        readonly fallback?: readonly string[];
      }
    | { readonly type: 'date' }
  );

type FieldsOf<E> = { readonly [F in Exclude<keyof E, 'id'>]-?: FieldRule };

const name = (help: string): FieldRule => ({ type: 'text', label: 'Name', help, min: 1, max: 80 });
const note: FieldRule = {
  type: 'text',
  label: 'Note',
  help: 'Anything worth knowing.',
  min: 0,
  max: 500,
  fallback: '',
};
const prefixLength = (label: string, help: string, fallback: number): FieldRule => ({
  type: 'integer',
  label,
  help,
  unit: 'bits',
  min: 4,
  max: 31,
  fallback,
});
const network = (help: string): FieldRule => ({
  type: 'reference',
  label: 'Network',
  help,
  to: 'networks',
  isOptional: false,
});
const zone = (help: string): FieldRule => ({ type: 'text', label: 'Zone', help, min: 0, max: 20, fallback: '' });
const prefix = (help: string): FieldRule => ({ type: 'prefix', label: 'Prefix', help });
const integer = (
  label: string,
  help: string,
  unit: string,
  min: number,
  max: number,
  fallback?: number,
): FieldRule => ({
  type: 'integer',
  label,
  help,
  unit,
  min,
  max,
  ...(fallback === undefined ? {} : { fallback }),
});

const price = (label: string, help: string): FieldRule => ({
  type: 'decimal',
  label,
  help: `${help}, in the currency of the plan; empty when it is not known.`,
  empty: 'not known',
  unit: 'a month',
  min: 0,
  max: 1_000_000,
  decimals: 4,
  isOptional: true,
  fallback: null,
});
const optional = (label: string, help: string, to: Kind, empty: string): FieldRule => ({
  empty,
  type: 'reference',
  label,
  help,
  to,
  isOptional: true,
});
const gigabytes = (label: string, help: string): FieldRule => ({
  type: 'decimal',
  label,
  help,
  unit: 'GB',
  min: 0,
  max: 1_000_000,
  decimals: 2,
  isOptional: false,
  fallback: 0,
});

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
] as const satisfies readonly (keyof EntityOf['clusters'])[];

/** The rule of every field of every kind. */
export const fieldRules: { readonly [K in Kind]: FieldsOf<EntityOf[K]> } = {
  profiles: {
    name: name('What the set of provider rules is called.'),
    reservedFirst: integer('Reserved first', 'Addresses kept at the start of each IPv4 subnet.', 'addresses', 1, 16, 1),
    reservedLast: integer('Reserved last', 'Addresses kept at the end of each IPv4 subnet.', 'addresses', 1, 16, 1),
    subnetScope: {
      type: 'choice',
      label: 'Subnet scope',
      help: 'Whether a subnet lives in one zone or spans the region.',
      options: ['zone', 'region'],
    },
    routesPerTable: integer('Routes a table', 'Routes one route table may hold.', 'routes', 1, 100_000, 1000),
    smallestSubnet: prefixLength('Smallest subnet', 'IPv4 prefix length of the smallest subnet, such as 28.', 30),
    largestSubnet: prefixLength('Largest subnet', 'IPv4 prefix length of the largest subnet, such as 16.', 8),
    smallestBlock: prefixLength('Smallest block', 'IPv4 prefix length of a network’s smallest address block.', 30),
    largestBlock: prefixLength('Largest block', 'IPv4 prefix length of a network’s largest address block.', 8),
    blocksPerNetwork: integer('Blocks a network', 'Address blocks of a family in one network.', 'blocks', 1, 1000, 10),
    clustersPerSite: integer('Clusters a site', 'Clusters one site may hold.', 'clusters', 1, 10_000, 1000),
    nodesPerCluster: integer('Nodes a cluster', 'Nodes one cluster may have.', 'nodes', 1, 20_000, 5000),
    peeringsPerNetwork: integer('Peerings a network', 'Peerings one network may have.', 'peerings', 0, 1000, 100),
    leastSurge: integer('Least surge', 'Nodes an upgrade adds at least.', 'nodes', 0, 10, 0),
    nativeRule: {
      type: 'choice',
      label: 'Native pods',
      help: 'Whether pods take addresses from subnets: none, addresses one by one, or prefixes (/28) by slot.',
      options: ['none', 'addresses', 'prefixes'],
      fallback: 'addresses',
    },
    warmSpare: integer('Warm spare', 'Addresses each node keeps ready for native pods.', 'addresses', 0, 256, 0),
    membersPerBalancer: integer(
      'Members a balancer',
      'Members one load balancer can send to.',
      'members',
      1,
      100_000,
      1000,
    ),
    publicAddresses: integer('Public addresses', 'Public addresses one site may hold.', 'addresses', 0, 100_000, 100),
    priceControlPlane: price('Control plane price', 'For one hosted control plane and month'),
    priceBalancer: price('Balancer price', 'For one load balancer and month'),
    priceNat: price('NAT price', 'For one address translation device and month'),
    priceNatGb: price('NAT price a GB', 'For one gigabyte through address translation'),
    priceAddress: price('Address price', 'For one public address and month'),
    priceZoneGb: price('Zone price a GB', 'For one gigabyte between zones of a site'),
    priceOutGb: price('Out price a GB', 'For one gigabyte that leaves the site'),
  },
  shapes: {
    name: name('What the kind of machine is called.'),
    profileId: {
      type: 'reference',
      label: 'Profile',
      help: 'The provider profile that offers it.',
      to: 'profiles',
      isOptional: false,
    },
    vcpus: integer('vCPU', 'Virtual processors.', 'vCPU', 1, 1024, 4),
    memoryGib: integer('Memory', 'Memory in GiB.', 'GiB', 1, 65_536, 16),
    interfaces: integer('Interfaces', 'Network interfaces a machine can have.', 'interfaces', 1, 64, 4),
    slotsPerInterface: integer(
      'Slots',
      'Addresses, or slots for /28 prefixes, on each interface.',
      'slots',
      1,
      1000,
      15,
    ),
    podCap: integer('Pod cap', 'Most pods a node of this shape may run.', 'pods', 1, 1000, 110),
    encapsulations: {
      type: 'choices',
      label: 'Kernel wraps in',
      help: 'What its kernel can wrap packets in.',
      options: encapsulationNames,
      min: 0,
      fallback: encapsulationNames,
    },
    price: {
      type: 'decimal',
      label: 'Price a month',
      help: 'For one node and month, in the currency of the plan.',
      unit: 'a month',
      min: 0,
      max: 1_000_000,
      decimals: 2,
      isOptional: false,
      fallback: 0,
    },
  },
  sites: {
    name: name('What the place is called.'),
    kind: {
      type: 'choice',
      label: 'Kind',
      help: 'A cloud region, a data centre or an edge place.',
      options: ['region', 'data centre', 'edge'],
    },
    profileId: {
      type: 'reference',
      label: 'Profile',
      help: 'The provider rules that hold here.',
      to: 'profiles',
      isOptional: false,
    },
    zones: { type: 'texts', label: 'Zones', help: 'Names of the zones, at least one.', min: 1, max: 9, maxLength: 20 },
    latitude: {
      type: 'decimal',
      label: 'Latitude',
      help: 'Degrees north; empty when unknown.',
      unit: '°',
      min: -90,
      max: 90,
      decimals: 4,
      isOptional: true,
      fallback: null,
    },
    longitude: {
      type: 'decimal',
      label: 'Longitude',
      help: 'Degrees east; empty when unknown.',
      unit: '°',
      min: -180,
      max: 180,
      decimals: 4,
      isOptional: true,
      fallback: null,
    },
  },
  networks: {
    name: name('What the network is called.'),
    mtu: integer('MTU', 'Largest IP packet that its links carry whole.', 'bytes', 1280, 9216, 1500),
    note,
  },
  blocks: { networkId: network('The network that has it.'), prefix: prefix('The address block.'), note },
  subnets: {
    name: name('What the subnet is called.'),
    networkId: network('The network it is part of.'),
    siteId: { type: 'reference', label: 'Site', help: 'Where it is.', to: 'sites', isOptional: false },
    zone: zone('The zone it is in; empty when it spans the site.'),
    purpose: {
      type: 'choice',
      label: 'For',
      help: 'What it is set aside for.',
      options: ['node', 'pod', 'entry', 'endpoint', 'other'],
    },
    prefix: prefix('Its addresses.'),
    delegatedTo: {
      type: 'text',
      label: 'Given to',
      help: 'The service it is given over to, such as storage or bastion; empty for none.',
      min: 0,
      max: 60,
      fallback: '',
    },
    isPublic: {
      type: 'flag',
      label: 'Public',
      help: 'Machines in it may have public addresses.',
      fallback: false,
    },
    wayOut: {
      type: 'choice',
      label: 'Way out',
      help: 'Where traffic leaves for the internet: none, nat, hub or direct.',
      options: ['none', 'nat', 'hub', 'direct'],
      fallback: 'nat',
    },
    routeTable: {
      type: 'text',
      label: 'Route table',
      help: 'Name of its route table; empty for the network’s own.',
      min: 0,
      max: 60,
      fallback: '',
    },
  },
  links: {
    name: name('What the link is called.'),
    kind: {
      type: 'choice',
      label: 'Kind',
      help: 'Peering, tunnel and circuit join two networks; a transit hub joins all that attach.',
      options: ['peering', 'hub', 'tunnel', 'circuit'],
    },
    networkIds: {
      type: 'references',
      label: 'Networks',
      help: 'The networks it joins.',
      to: 'networks',
      min: 2,
      max: 1000,
    },
    mtu: integer('MTU', 'Largest IP packet on it, before it wraps anything.', 'bytes', 576, 9216, 1500),
    encapsulation: {
      type: 'choice',
      label: 'Wraps in',
      help: 'What wraps the packets that cross it.',
      options: encapsulationNames,
      fallback: 'none',
    },
    isPlanned: {
      type: 'flag',
      label: 'Planned',
      help: 'Not there yet; verdicts that need it say so.',
      fallback: false,
    },
  },
  attachments: {
    linkId: { type: 'reference', label: 'Link', help: 'The link it is about.', to: 'links', isOptional: false },
    networkId: network('The network on that link.'),
    advertises: {
      type: 'prefixes',
      label: 'Advertises',
      help: 'Prefixes it tells the others; empty for all its own. A prefix of another network is passed on.',
      min: 0,
      max: 200,
      fallback: [],
    },
    learns: {
      type: 'choice',
      label: 'Learns',
      help: 'Which routes it takes from the others: all, none, or those of the listed networks.',
      options: ['all', 'none', 'listed'],
      fallback: 'all',
    },
    learnsFromIds: {
      type: 'references',
      label: 'Learns from',
      help: 'The networks whose routes it takes, when it learns listed ones.',
      to: 'networks',
      min: 0,
      max: 1000,
      fallback: [],
    },
  },
  pools: {
    name: name('What the pool is called.'),
    prefix: prefix('The address space of the pool.'),
    purposes: {
      type: 'choices',
      label: 'For',
      help: 'Which ranges are taken from it.',
      options: purposes,
      min: 1,
    },
    siteId: {
      type: 'reference',
      label: 'Site',
      help: 'Only for clusters at this site; empty for any.',
      empty: 'any',
      to: 'sites',
      isOptional: true,
    },
    isShared: {
      type: 'flag',
      label: 'Shared',
      help: 'Overlay pod and service ranges may repeat in other clusters.',
      fallback: false,
    },
  },
  inUse: {
    prefix: prefix('The range somebody else uses.'),
    owner: { type: 'text', label: 'Owner', help: 'Who uses it.', min: 1, max: 120 },
    networkId: {
      type: 'reference',
      label: 'Network',
      help: 'The network it answers in; empty when attached to none yet.',
      empty: 'none yet',
      to: 'networks',
      isOptional: true,
    },
    note,
  },
  templates: {
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
  },
  clusters: {
    name: name('What the cluster is called.'),
    templateId: optional('Template', 'The template it was made from; empty for none.', 'templates', 'none'),
    siteId: { type: 'reference', label: 'Site', help: 'Where it stands.', to: 'sites', isOptional: false },
    networkId: network('The network its nodes are in.'),
    podMode: {
      type: 'choice',
      label: 'Pod network',
      help: 'How pods get their addresses.',
      options: ['overlay', 'routed', 'native'],
      fallback: 'overlay',
    },
    encapsulation: {
      type: 'choice',
      label: 'Wraps in',
      help: 'What wraps packets between nodes while the pods are in an overlay.',
      options: encapsulationNames,
      fallback: 'vxlan',
    },
    encryption: {
      type: 'choice',
      label: 'Encrypts with',
      help: 'What encrypts packets between nodes, beneath what wraps them.',
      options: encryptionNames,
      fallback: 'none',
    },
    shapeId: {
      type: 'reference',
      label: 'Machine shape',
      help: 'The machine shape of its nodes; empty when it is not decided.',
      empty: 'not decided',
      to: 'shapes',
      isOptional: true,
    },
    podNeeds: {
      type: 'choices',
      label: 'Pods must',
      help: 'What the pod network must be able to do.',
      options: podRequirements,
      min: 0,
      fallback: [],
    },
    podWishes: {
      type: 'choices',
      label: 'Pods should',
      help: 'What the pod network should be able to do: weighed, not required.',
      options: podRequirements,
      min: 0,
      fallback: [],
    },
    mtuFloor: integer(
      'MTU floor',
      'Smallest packet that must pass whole between pods; 0 for any.',
      'bytes',
      0,
      9216,
      0,
    ),
    family: {
      type: 'choice',
      label: 'Family',
      help: 'Address families the cluster runs.',
      options: ['ipv4', 'ipv6', 'dual'],
      fallback: 'ipv4',
    },
    controlPlane: {
      type: 'choice',
      label: 'Control plane',
      help: 'Hosted by the provider, or self-run on control nodes of its own.',
      options: ['hosted', 'self-run'],
      fallback: 'hosted',
    },
    controlNodes: integer('Control nodes', 'Nodes of a self-run control plane.', 'nodes', 1, 9, 3),
    controlShapeId: optional(
      'Control shape',
      'The machine shape of the control nodes; empty for that of its nodes.',
      'shapes',
      'as its nodes',
    ),
    apiEndpoint: {
      type: 'choice',
      label: 'API endpoint',
      help: 'Whether a hosted control plane answers on a public address, or on one in each node subnet.',
      options: ['public', 'private'],
      fallback: 'public',
    },
    zoneCount: {
      type: 'optionalInteger',
      label: 'Zones',
      help: 'How many of the site’s zones it is spread over, in their order; empty for all.',
      empty: 'all',
      unit: 'zones',
      min: 1,
      max: 9,
    },
    nodesNow: integer('Nodes now', 'Worker nodes today, those of its node pools apart.', 'nodes', 0, 20_000),
    nodesHorizon: integer('Nodes at horizon', 'The same at the horizon.', 'nodes', 0, 20_000),
    growth: {
      type: 'choice',
      label: 'Growth',
      help: 'Straight, by the same share each month (compound), or in the steps listed.',
      options: ['linear', 'compound', 'steps'],
      fallback: 'linear',
    },
    growthPerYear: {
      type: 'decimal',
      label: 'Growth a year',
      help: 'Compound growth; the nodes at the horizon follow from it. Empty follows the two counts.',
      empty: 'from the counts',
      unit: '%',
      min: 0,
      max: 100_000,
      decimals: 1,
      isOptional: true,
      fallback: null,
    },
    growthSteps: {
      type: 'texts',
      label: 'Growth steps',
      help: 'Nodes from a month on, each as 6=40.',
      min: 0,
      max: 36,
      maxLength: 12,
      form: 'step',
      fallback: [],
    },
    podsPerNode: integer('Pods a node', 'Most pods one node may run.', 'pods', 1, 1000, 110),
    services: integer('Services', 'Services at the horizon, of every kind.', 'services', 0, 500_000, 200),
    nodePortServices: integer(
      'NodePort services',
      'Services with a port on every node, of all services.',
      'services',
      0,
      500_000,
      0,
    ),
    balancerServices: integer(
      'LoadBalancer services',
      'Services with a load balancer of their own, of all services.',
      'services',
      0,
      500_000,
      0,
    ),
    headlessServices: integer(
      'Headless services',
      'Services without an address, of all services.',
      'services',
      0,
      500_000,
      0,
    ),
    hasPublicBalancers: {
      type: 'flag',
      label: 'Public balancers',
      help: 'Its load balancers have public addresses.',
      fallback: false,
    },
    natAddresses: integer(
      'NAT addresses',
      'Public addresses its nodes leave under; 0 when they leave without translation.',
      'addresses',
      0,
      1000,
      0,
    ),
    snatPorts: integer('SNAT ports', 'Ports of such an address kept for each node.', 'ports', 32, 64_512, 1024),
    zoneGb: gigabytes('To other zones', 'Gigabytes a node and month sends to other zones.'),
    outGb: gigabytes('Out of the site', 'Gigabytes a node and month sends out of the site.'),
    surgePercent: integer('Surge', 'Extra nodes while an upgrade rolls.', '%', 0, 100, 10),
    entryAddresses: integer(
      'Entry addresses',
      'Load-balancer and endpoint addresses, in each node subnet or each entry subnet.',
      'addresses',
      0,
      1000,
      8,
    ),
    hasEntrySubnets: {
      type: 'flag',
      label: 'Entry subnets',
      help: 'Entry addresses are in subnets of their own instead of the node subnets.',
      fallback: false,
    },
    perNodeLength: {
      type: 'optionalInteger',
      label: 'Per-node prefix',
      help: 'Decided IPv4 prefix length a node; empty follows pods a node.',
      empty: 'follows',
      unit: 'bits',
      min: 16,
      max: 30,
    },
    isBuilt: {
      type: 'flag',
      label: 'Built',
      help: 'Running already; what cannot be changed later is locked.',
      fallback: false,
    },
  },
  nodePools: {
    clusterId: {
      type: 'reference',
      label: 'Cluster',
      help: 'Whose nodes they are.',
      to: 'clusters',
      isOptional: false,
    },
    name: name('What the node pool is called.'),
    kind: {
      type: 'choice',
      label: 'Holds',
      help: 'Nodes; or pods without nodes, which take addresses straight from subnets: then the counts are pods.',
      options: ['nodes', 'pods'],
      fallback: 'nodes',
    },
    shapeId: optional('Machine shape', 'Empty follows the cluster.', 'shapes', 'as the cluster'),
    zones: {
      type: 'texts',
      label: 'Zones',
      help: 'The zones it is spread over; empty for the cluster’s.',
      min: 0,
      max: 9,
      maxLength: 20,
      fallback: [],
    },
    nodesNow: integer('Now', 'Nodes today.', 'nodes', 0, 20_000),
    nodesMin: integer('Least', 'Fewest nodes it scales down to.', 'nodes', 0, 20_000, 0),
    nodesMax: integer('Most', 'Most nodes it scales up to today.', 'nodes', 0, 20_000),
    nodesHorizon: integer('At horizon', 'Most nodes at the horizon.', 'nodes', 0, 20_000),
    surgePercent: integer('Surge', 'Extra nodes while an upgrade rolls.', '%', 0, 100, 10),
    podsPerNode: {
      type: 'optionalInteger',
      label: 'Pods a node',
      help: 'Most pods one node may run; empty follows the cluster.',
      empty: 'as the cluster',
      unit: 'pods',
      min: 1,
      max: 1000,
    },
    isPublic: { type: 'flag', label: 'Public', help: 'Its nodes have public addresses.', fallback: false },
    labels: {
      type: 'texts',
      label: 'Labels',
      help: 'Labels of its nodes, each as key=value.',
      min: 0,
      max: 32,
      maxLength: 320,
      form: 'label',
      fallback: [],
    },
    taints: {
      type: 'texts',
      label: 'Taints',
      help: 'Taints of its nodes, each as key=value:NoSchedule.',
      min: 0,
      max: 32,
      maxLength: 340,
      form: 'taint',
      fallback: [],
    },
    attachmentSubnetIds: {
      type: 'references',
      label: 'More attachments',
      help: 'Subnets in which each of its nodes has a further interface.',
      to: 'subnets',
      min: 0,
      max: 16,
      fallback: [],
    },
  },
  allocations: {
    clusterId: { type: 'reference', label: 'Cluster', help: 'Whose range it is.', to: 'clusters', isOptional: false },
    purpose: { type: 'choice', label: 'For', help: 'What the range is for.', options: purposes },
    zone: zone('The zone whose subnet it is; empty for the whole cluster.'),
    prefix: prefix('The range itself.'),
    isFixed: { type: 'flag', label: 'Fixed', help: 'Never moved by a proposal.', fallback: false },
  },
  runs: {
    name: name('What the addresses are kept for, such as the control plane of a cluster.'),
    clusterId: {
      type: 'reference',
      label: 'Cluster',
      help: 'Whose addresses they are.',
      to: 'clusters',
      isOptional: false,
    },
    first: { type: 'address', label: 'First address', help: 'The first of the addresses in a row.' },
    count: integer('Addresses', 'How many addresses in a row, the first included.', 'addresses', 1, 256, 1),
    note,
  },
  rebuilds: {
    clusterId: { type: 'reference', label: 'Cluster', help: 'What is rebuilt.', to: 'clusters', isOptional: false },
    what: { type: 'text', label: 'Changes', help: 'The decision and its new value.', min: 1, max: 500 },
    reason: { type: 'text', label: 'Reason', help: 'Why it has to be.', min: 1, max: 500 },
    decidedOn: { type: 'date', label: 'Decided on', help: 'The day, as 2026-11-23.' },
    decidedBy: { type: 'text', label: 'Decided by', help: 'Who decided it.', min: 1, max: 80 },
  },
};

const weight = (label: string, help: string, fallback: number): FieldRule =>
  integer(label, help, 'of 10', 0, 10, fallback);

/** The rules of the plan's own fields. */
export const settingsRules: { readonly [F in keyof PlanSettings]-?: FieldRule } = {
  name: name('What the plan is called.'),
  note,
  horizonMonths: integer('Horizon', 'Months from now that ranges must last.', 'months', 1, 120, 36),
  expectsJoins: {
    type: 'flag',
    label: 'Joins likely',
    help: 'Mergers or partner links are expected: widely used defaults get a note.',
    fallback: true,
  },
  weightAddresses: weight('Addresses', 'How much addresses taken from routable space weigh.', 5),
  weightReach: weight(
    'Reach',
    'How much it weighs that pods can be reached and load balancers send to them directly.',
    5,
  ),
  weightWire: weight('Wire', 'How much packet size and efficiency weigh.', 3),
  weightRoutes: weight('Routes', 'How much room in route tables weighs.', 3),
  weightEffort: weight('Effort', 'How much the effort to run it weighs.', 4),
  weightWishes: weight('Wishes', 'How much it weighs what a cluster’s pods should be able to do.', 5),
  currency: {
    type: 'text',
    label: 'Currency',
    help: 'What amounts of money are followed by; empty for none.',
    min: 0,
    max: 12,
    fallback: '',
  },
};
