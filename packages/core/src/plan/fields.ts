import type { EntityOf, Kind, PlanSettings } from './entities.js';

interface Common {
  /** Column heading and form label. */
  readonly label: string;
  /** One line on what the field means. */
  readonly help: string;
}

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
    | { readonly type: 'optionalInteger'; readonly min: number; readonly max: number; readonly unit: string }
    | { readonly type: 'choice'; readonly options: readonly string[]; readonly fallback?: string }
    | { readonly type: 'flag'; readonly fallback: boolean }
    | { readonly type: 'prefix' }
    | { readonly type: 'reference'; readonly to: Kind; readonly isOptional: boolean }
    | { readonly type: 'references'; readonly to: Kind; readonly min: number; readonly max: number }
    | { readonly type: 'choices'; readonly options: readonly string[]; readonly min: number }
    | { readonly type: 'texts'; readonly min: number; readonly max: number; readonly maxLength: number }
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
  },
  networks: { name: name('What the network is called.'), note },
  links: {
    name: name('What the link is called.'),
    kind: {
      type: 'choice',
      label: 'Kind',
      help: 'A peering joins two networks; a transit hub joins all that attach.',
      options: ['peering', 'hub'],
    },
    networkIds: {
      type: 'references',
      label: 'Networks',
      help: 'The networks it joins.',
      to: 'networks',
      min: 2,
      max: 1000,
    },
    isPlanned: {
      type: 'flag',
      label: 'Planned',
      help: 'Not there yet; verdicts that need it say so.',
      fallback: false,
    },
  },
  pools: {
    name: name('What the pool is called.'),
    prefix: { type: 'prefix', label: 'Prefix', help: 'The address space of the pool.' },
    purposes: {
      type: 'choices',
      label: 'For',
      help: 'Which ranges are taken from it.',
      options: ['node', 'pod', 'service'],
      min: 1,
    },
    siteId: {
      type: 'reference',
      label: 'Site',
      help: 'Only for clusters at this site; empty for any.',
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
    prefix: { type: 'prefix', label: 'Prefix', help: 'The range somebody else uses.' },
    owner: { type: 'text', label: 'Owner', help: 'Who uses it.', min: 1, max: 120 },
    networkId: {
      type: 'reference',
      label: 'Network',
      help: 'The network it answers in; empty when attached to none yet.',
      to: 'networks',
      isOptional: true,
    },
    note,
  },
  clusters: {
    name: name('What the cluster is called.'),
    siteId: { type: 'reference', label: 'Site', help: 'Where it stands.', to: 'sites', isOptional: false },
    networkId: {
      type: 'reference',
      label: 'Network',
      help: 'The network its nodes are in.',
      to: 'networks',
      isOptional: false,
    },
    podMode: {
      type: 'choice',
      label: 'Pod network',
      help: 'How pods get their addresses.',
      options: ['overlay', 'routed', 'native'],
      fallback: 'overlay',
    },
    family: {
      type: 'choice',
      label: 'Family',
      help: 'Address families the cluster runs.',
      options: ['ipv4', 'ipv6', 'dual'],
      fallback: 'ipv4',
    },
    nodesNow: integer('Nodes now', 'Nodes the cluster has today.', 'nodes', 0, 20_000),
    nodesHorizon: integer('Nodes at horizon', 'Nodes the cluster may have at the horizon.', 'nodes', 1, 20_000),
    podsPerNode: integer('Pods a node', 'Most pods one node may run.', 'pods', 1, 1000, 110),
    services: integer('Services', 'Services at the horizon.', 'services', 0, 500_000, 200),
    surgePercent: integer('Surge', 'Extra nodes while an upgrade rolls.', '%', 0, 100, 10),
    entryAddresses: integer(
      'Entry addresses',
      'Load-balancer and endpoint addresses in each node subnet.',
      'addresses',
      0,
      1000,
      8,
    ),
    perNodeLength: {
      type: 'optionalInteger',
      label: 'Per-node prefix',
      help: 'Decided IPv4 prefix length a node; empty follows pods a node.',
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
  allocations: {
    clusterId: { type: 'reference', label: 'Cluster', help: 'Whose range it is.', to: 'clusters', isOptional: false },
    purpose: { type: 'choice', label: 'For', help: 'What the range is for.', options: ['node', 'pod', 'service'] },
    zone: {
      type: 'text',
      label: 'Zone',
      help: 'The zone whose subnet it is; empty for the whole cluster.',
      min: 0,
      max: 20,
      fallback: '',
    },
    prefix: { type: 'prefix', label: 'Prefix', help: 'The range itself.' },
    isFixed: { type: 'flag', label: 'Fixed', help: 'Never moved by a proposal.', fallback: false },
  },
};

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
};
