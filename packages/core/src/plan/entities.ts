/** What a range is for. */
export type Purpose = 'node' | 'pod' | 'service';

/** How pods get their addresses (handbook 6): inside the cluster only, a routed prefix a node, or from the network's own subnets. */
export type PodMode = 'overlay' | 'routed' | 'native';

/** Which address families a cluster runs. */
export type ClusterFamily = 'ipv4' | 'ipv6' | 'dual';

/** A set of provider rules. */
export interface Profile {
  readonly id: string;
  readonly name: string;
  /** Addresses the provider keeps at the start of each IPv4 subnet. */
  readonly reservedFirst: number;
  /** Addresses the provider keeps at the end of each IPv4 subnet. */
  readonly reservedLast: number;
  /** Whether a subnet lives in one zone or spans the region. */
  readonly subnetScope: 'zone' | 'region';
  /** Routes one route table may hold; routed pods take one a node. */
  readonly routesPerTable: number;
}

/** A place where clusters stand. */
export interface Site {
  readonly id: string;
  readonly name: string;
  readonly kind: 'region' | 'data centre' | 'edge';
  readonly profileId: string;
  /** Names of its zones, at least one. */
  readonly zones: readonly string[];
}

/** A network: one forwarding place, in which a destination address means one thing. */
export interface Network {
  readonly id: string;
  readonly name: string;
  readonly note: string;
}

/** A join of networks: a peering (two, not transitive) or a transit hub (all that attach reach each other). */
export interface Link {
  readonly id: string;
  readonly name: string;
  readonly kind: 'peering' | 'hub';
  readonly networkIds: readonly string[];
  /** Not there yet: its verdicts say so. */
  readonly isPlanned: boolean;
}

/** Address space that ranges are allocated from. */
export interface Pool {
  readonly id: string;
  readonly name: string;
  readonly prefix: string;
  readonly purposes: readonly Purpose[];
  /** Only for clusters at this site; null for any. */
  readonly siteId: string | null;
  /** Cluster-internal ranges (overlay pods, services) from here may repeat in other clusters. */
  readonly isShared: boolean;
}

/** A range that somebody else already uses. */
export interface InUseRange {
  readonly id: string;
  readonly prefix: string;
  readonly owner: string;
  /** The network it answers in; null when it is attached to none yet. */
  readonly networkId: string | null;
  readonly note: string;
}

/** One container cluster and its demand. */
export interface Cluster {
  readonly id: string;
  readonly name: string;
  readonly siteId: string;
  readonly networkId: string;
  readonly podMode: PodMode;
  readonly family: ClusterFamily;
  readonly nodesNow: number;
  /** Nodes at the plan's horizon. */
  readonly nodesHorizon: number;
  readonly podsPerNode: number;
  /** Services at the horizon. */
  readonly services: number;
  /** Extra nodes while upgrades roll, in percent of the nodes. */
  readonly surgePercent: number;
  /** Load-balancer and endpoint addresses in each node subnet. */
  readonly entryAddresses: number;
  /** Decided IPv4 per-node prefix length; null to follow pods per node. */
  readonly perNodeLength: number | null;
  /** Running already: what cannot be changed later is locked. */
  readonly isBuilt: boolean;
}

/** A range given to one cluster for one purpose. */
export interface Allocation {
  readonly id: string;
  readonly clusterId: string;
  readonly purpose: Purpose;
  /** The zone whose subnet it is; empty when it serves the whole cluster. */
  readonly zone: string;
  readonly prefix: string;
  /** Fixed ranges are never moved by a proposal. */
  readonly isFixed: boolean;
}

/** What holds for the whole plan. */
export interface PlanSettings {
  readonly name: string;
  readonly note: string;
  /** Months from now to the horizon the plan is sized for. */
  readonly horizonMonths: number;
  /** Mergers or partner links are likely: widely used defaults get a note. */
  readonly expectsJoins: boolean;
}

/** The entities of each kind; a kind's name is also its collection in the plan. */
export interface EntityOf {
  readonly profiles: Profile;
  readonly sites: Site;
  readonly networks: Network;
  readonly links: Link;
  readonly pools: Pool;
  readonly inUse: InUseRange;
  readonly clusters: Cluster;
  readonly allocations: Allocation;
}

/** A kind of entity. */
export type Kind = keyof EntityOf;

/** Any entity. */
export type Entity = EntityOf[Kind];

/** The kinds, each after those it may refer to. */
export const kinds = [
  'profiles',
  'sites',
  'networks',
  'links',
  'pools',
  'inUse',
  'clusters',
  'allocations',
] as const satisfies readonly Kind[];

/** The whole plan. Each collection is ordered by id, so every place that holds the plan holds it alike. */
export type Plan = { readonly settings: PlanSettings } & { readonly [K in Kind]: readonly EntityOf[K][] };

/** What one entity of a kind is called in a sentence. */
export const kindNames: { readonly [K in Kind]: string } = {
  profiles: 'provider profile',
  sites: 'site',
  networks: 'network',
  links: 'link',
  pools: 'pool',
  inUse: 'range in use',
  clusters: 'cluster',
  allocations: 'allocated range',
};
