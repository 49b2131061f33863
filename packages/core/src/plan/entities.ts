/** What a range is for: nodes, pods, services, or entry (load balancers and their virtual addresses). */
export type Purpose = 'node' | 'pod' | 'service' | 'entry';

/** Every purpose, in the order they are listed. */
export const purposes = ['node', 'pod', 'service', 'entry'] as const satisfies readonly Purpose[];

/** How pods get their addresses (handbook 6): inside the cluster only, a routed prefix a node, or from the network's own subnets. */
export type PodMode = 'overlay' | 'routed' | 'native';

/** What wraps packets between two places; ESP with its cipher, and with NAT traversal or without. */
export type Encapsulation =
  'none' | 'vxlan' | 'geneve' | 'ipip' | 'gre' | 'wireguard' | 'esp-gcm' | 'esp-gcm-nat' | 'esp-cbc' | 'esp-cbc-nat';

/** Every encapsulation. */
export const encapsulationNames = [
  'none',
  'vxlan',
  'geneve',
  'ipip',
  'gre',
  'wireguard',
  'esp-gcm',
  'esp-gcm-nat',
  'esp-cbc',
  'esp-cbc-nat',
] as const satisfies readonly Encapsulation[];

/** What a cluster's pod network must be able to do; a mode that cannot is excluded. */
export type PodRequirement =
  | 'reachable'
  | 'reachable on-premises'
  | 'source kept'
  | 'network policy'
  | 'encryption'
  | 'multicast'
  | 'dual stack'
  | 'several attachments'
  | 'mtu floor';

/** Every requirement. */
export const podRequirements = [
  'reachable',
  'reachable on-premises',
  'source kept',
  'network policy',
  'encryption',
  'multicast',
  'dual stack',
  'several attachments',
  'mtu floor',
] as const satisfies readonly PodRequirement[];

/** What can encrypt the traffic between a cluster's nodes, beneath whatever its pod network wraps packets in. */
export type Encryption = Extract<Encapsulation, 'none' | 'wireguard' | 'esp-gcm' | 'esp-gcm-nat'>;

/** Every encryption between nodes. */
export const encryptionNames = ['none', 'wireguard', 'esp-gcm', 'esp-gcm-nat'] as const satisfies readonly Encryption[];

/** Which address families a cluster runs. */
export type ClusterFamily = 'ipv4' | 'ipv6' | 'dual';

/** How a cluster's nodes grow from now to the horizon: straight, by the same share each month, or at the steps it lists. */
export type GrowthKind = 'linear' | 'compound' | 'steps';

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
  /** IPv4 prefix length of the smallest subnet that can be made, such as 28. */
  readonly smallestSubnet: number;
  /** IPv4 prefix length of the largest subnet that can be made, such as 16. */
  readonly largestSubnet: number;
  /** IPv4 prefix length of the smallest address block of a network. */
  readonly smallestBlock: number;
  /** IPv4 prefix length of the largest address block of a network. */
  readonly largestBlock: number;
  /** Address blocks of one family one network may have. */
  readonly blocksPerNetwork: number;
  readonly clustersPerSite: number;
  readonly nodesPerCluster: number;
  readonly peeringsPerNetwork: number;
  /** Nodes an upgrade adds at least, however small the surge in percent. */
  readonly leastSurge: number;
  /** Whether pods can take addresses from subnets, and how: not at all, one by one, or a /28 at a time. */
  readonly nativeRule: 'none' | 'addresses' | 'prefixes';
  /** Addresses each node keeps ready for native pods beyond those that run. */
  readonly warmSpare: number;
  /** Members one load balancer can send to. */
  readonly membersPerBalancer: number;
  /** Public addresses one site may hold. */
  readonly publicAddresses: number;
  /** A month for one hosted control plane, in the plan's currency; null when no price is known. Likewise the others. */
  readonly priceControlPlane: number | null;
  readonly priceBalancer: number | null;
  readonly priceNat: number | null;
  /** For one gigabyte through address translation. */
  readonly priceNatGb: number | null;
  readonly priceAddress: number | null;
  /** For one gigabyte between zones of a site. */
  readonly priceZoneGb: number | null;
  /** For one gigabyte that leaves the site. */
  readonly priceOutGb: number | null;
}

/** A kind of machine that a provider offers. */
export interface Shape {
  readonly id: string;
  readonly name: string;
  readonly profileId: string;
  readonly vcpus: number;
  readonly memoryGib: number;
  /** Network interfaces a machine can have. */
  readonly interfaces: number;
  /** Addresses, or slots for prefixes, on each interface. */
  readonly slotsPerInterface: number;
  /** Most pods a node of this shape may run, whatever its interfaces allow. */
  readonly podCap: number;
  /** What its kernel can wrap packets in. */
  readonly encapsulations: readonly Encapsulation[];
  /** For one node and month, in the plan's currency. */
  readonly price: number;
}

/** A place where clusters stand. */
export interface Site {
  readonly id: string;
  readonly name: string;
  readonly kind: 'region' | 'data centre' | 'edge';
  readonly profileId: string;
  /** Names of its zones, at least one. */
  readonly zones: readonly string[];
  /** Degrees north; null when unknown. */
  readonly latitude: number | null;
  /** Degrees east; null when unknown. */
  readonly longitude: number | null;
}

/** A network: one forwarding place, in which a destination address means one thing. */
export interface Network {
  readonly id: string;
  readonly name: string;
  /** Largest IP packet in bytes that its links carry whole. */
  readonly mtu: number;
  readonly note: string;
}

/** An address block of a network; a network that has blocks takes its subnets from them. */
export interface Block {
  readonly id: string;
  readonly networkId: string;
  readonly prefix: string;
  readonly note: string;
}

/** What a subnet is for; endpoint and other subnets hold no cluster's ranges. */
export type SubnetPurpose = 'node' | 'pod' | 'entry' | 'endpoint' | 'other';

/** Where traffic leaves a subnet for the internet: not at all, through address translation, by the hub, or directly. */
export type WayOut = 'none' | 'nat' | 'hub' | 'direct';

/** A part of a network set aside for one purpose. */
export interface Subnet {
  readonly id: string;
  readonly name: string;
  readonly networkId: string;
  readonly siteId: string;
  /** The zone it is in; empty when it spans the site. */
  readonly zone: string;
  readonly purpose: SubnetPurpose;
  readonly prefix: string;
  /** The service it is given over to, such as storage or bastion; empty for none. */
  readonly delegatedTo: string;
  /** Whether machines in it may have public addresses. */
  readonly isPublic: boolean;
  readonly wayOut: WayOut;
  /** Name of its route table; empty for the network's own. */
  readonly routeTable: string;
}

/** How networks are joined: peering (two, not transitive), transit hub (all that attach), tunnel or private circuit (two). */
export type LinkKind = 'peering' | 'hub' | 'tunnel' | 'circuit';

/** A join of networks. What each side advertises and learns is in its attachment; without one it is everything. */
export interface Link {
  readonly id: string;
  readonly name: string;
  readonly kind: LinkKind;
  readonly networkIds: readonly string[];
  /** Largest IP packet in bytes on it, before it wraps anything. */
  readonly mtu: number;
  /** What wraps the packets that cross it. */
  readonly encapsulation: Encapsulation;
  /** Not there yet: its verdicts say so. */
  readonly isPlanned: boolean;
}

/** What one network tells and takes over one link. */
export interface Attachment {
  readonly id: string;
  readonly linkId: string;
  readonly networkId: string;
  /** Prefixes it advertises; empty for all its own. A listed prefix of another network is passed on (transit). */
  readonly advertises: readonly string[];
  /** Which routes it takes: all, none, or those of the listed networks. */
  readonly learns: 'all' | 'none' | 'listed';
  readonly learnsFromIds: readonly string[];
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

/** What clusters that are alike have in common; based on another template, it follows that one in whatever it does not fix. */
export interface Template {
  readonly id: string;
  readonly name: string;
  readonly basedOnId: string | null;
  /** How its clusters are named: "kiosk-{site}"; empty follows the template it is based on. */
  readonly namePattern: string;
  /** The network of its clusters; null leaves it to each, or to the template it is based on. Likewise the shape. */
  readonly networkId: string | null;
  readonly shapeId: string | null;
  /** The other fields it fixes: "podMode=overlay". */
  readonly fixes: readonly string[];
  /** The pools its clusters take ranges from; empty for any that is open to them. */
  readonly poolIds: readonly string[];
}

/** One container cluster and its demand. */
export interface Cluster {
  readonly id: string;
  readonly name: string;
  /** The template it was made from; null for none. */
  readonly templateId: string | null;
  readonly siteId: string;
  readonly networkId: string;
  readonly podMode: PodMode;
  /** What wraps packets between nodes while the pods are in an overlay. */
  readonly encapsulation: Encapsulation;
  /** What encrypts the packets between nodes, beneath that. */
  readonly encryption: Encryption;
  /** The machine shape of its nodes; null when it is not decided. */
  readonly shapeId: string | null;
  /** What its pod network must be able to do. */
  readonly podNeeds: readonly PodRequirement[];
  /** What its pod network should be able to do; weighed, not required. */
  readonly podWishes: readonly PodRequirement[];
  /** Smallest packet in bytes that must pass whole between its pods; 0 for any. Named among the wishes, it should. */
  readonly mtuFloor: number;
  readonly family: ClusterFamily;
  /** Run on its own nodes, or hosted by the provider. */
  readonly controlPlane: 'hosted' | 'self-run';
  /** Control nodes of a self-run control plane. */
  readonly controlNodes: number;
  readonly controlShapeId: string | null;
  /** Whether a hosted control plane answers on a public address or on one in the node subnets. */
  readonly apiEndpoint: 'public' | 'private';
  /** How many of its site's zones it is spread over, in their order; null for all. */
  readonly zoneCount: number | null;
  /** Worker nodes now, those of its node pools apart. */
  readonly nodesNow: number;
  /** The same at the plan's horizon. */
  readonly nodesHorizon: number;
  readonly growth: GrowthKind;
  /** Compound growth in percent a year; null follows the two counts. */
  readonly growthPerYear: number | null;
  /** Steps of growth: "6=40" for 40 nodes from month 6 on. */
  readonly growthSteps: readonly string[];
  readonly podsPerNode: number;
  /** Services at the horizon. */
  readonly services: number;
  /** Of these: with a port on every node, with a load balancer, and without an address. */
  readonly nodePortServices: number;
  readonly balancerServices: number;
  readonly headlessServices: number;
  /** Whether its load balancers have public addresses. */
  readonly hasPublicBalancers: boolean;
  /** Public addresses its nodes leave under; 0 when they do not leave by address translation. */
  readonly natAddresses: number;
  /** Ports of such an address kept for each node. */
  readonly snatPorts: number;
  /** Gigabytes a node and month sends to other zones. */
  readonly zoneGb: number;
  /** Gigabytes a node and month sends out of the site. */
  readonly outGb: number;
  /** Extra nodes while upgrades roll, in percent of the nodes. */
  readonly surgePercent: number;
  /** Load-balancer and endpoint addresses, in each node subnet or each entry subnet. */
  readonly entryAddresses: number;
  /** Whether entry addresses are in subnets of their own instead of the node subnets. */
  readonly hasEntrySubnets: boolean;
  /** Decided IPv4 per-node prefix length; null to follow pods per node. */
  readonly perNodeLength: number | null;
  /** Running already: what cannot be changed later is locked. */
  readonly isBuilt: boolean;
}

/** Nodes of one cluster that are alike and differ from its others; or pods without nodes, which take addresses straight from subnets. */
export interface NodePool {
  readonly id: string;
  readonly clusterId: string;
  readonly name: string;
  /** Nodes, or pods without nodes; then the counts are pods. */
  readonly kind: 'nodes' | 'pods';
  /** Null follows the cluster. */
  readonly shapeId: string | null;
  /** The zones it is spread over; empty for the cluster's. */
  readonly zones: readonly string[];
  readonly nodesNow: number;
  /** Bounds within which it scales by itself. */
  readonly nodesMin: number;
  readonly nodesMax: number;
  readonly nodesHorizon: number;
  readonly surgePercent: number;
  /** Null follows the cluster. */
  readonly podsPerNode: number | null;
  /** Whether its nodes have public addresses. */
  readonly isPublic: boolean;
  /** Labels as the Kubernetes API writes them: "tier=edge". */
  readonly labels: readonly string[];
  /** Taints as the Kubernetes API writes them: "dedicated=edge:NoSchedule". */
  readonly taints: readonly string[];
  /** Subnets in which each of its nodes has a further interface. */
  readonly attachmentSubnetIds: readonly string[];
}

/** A decision of a built cluster that is taken anew, with its reason. */
export interface Rebuild {
  readonly id: string;
  readonly clusterId: string;
  /** What changes: "Pod network: overlay to native". */
  readonly what: string;
  readonly reason: string;
  /** The day it was decided, as 2026-11-23. */
  readonly decidedOn: string;
  readonly decidedBy: string;
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

/** Addresses in a row, in one of a cluster's subnets, that must be kept for it: virtual addresses, control plane with its spare. */
export interface Run {
  readonly id: string;
  readonly name: string;
  readonly clusterId: string;
  /** The first address. */
  readonly first: string;
  /** How many, the first included. */
  readonly count: number;
  readonly note: string;
}

/** What holds for the whole plan. */
export interface PlanSettings {
  readonly name: string;
  readonly note: string;
  /** Months from now to the horizon the plan is sized for. */
  readonly horizonMonths: number;
  /** Mergers or partner links are likely: widely used defaults get a note. */
  readonly expectsJoins: boolean;
  /** How much addresses from routable space weigh when pod networks are compared, 0 to 10; likewise the others. */
  readonly weightAddresses: number;
  readonly weightReach: number;
  readonly weightWire: number;
  readonly weightRoutes: number;
  readonly weightEffort: number;
  readonly weightWishes: number;
  /** What amounts of money are followed by; empty for none. */
  readonly currency: string;
}

/** The entities of each kind; a kind's name is also its collection in the plan. */
export interface EntityOf {
  readonly profiles: Profile;
  readonly shapes: Shape;
  readonly sites: Site;
  readonly networks: Network;
  readonly blocks: Block;
  readonly subnets: Subnet;
  readonly links: Link;
  readonly attachments: Attachment;
  readonly pools: Pool;
  readonly inUse: InUseRange;
  readonly templates: Template;
  readonly clusters: Cluster;
  readonly nodePools: NodePool;
  readonly allocations: Allocation;
  readonly runs: Run;
  readonly rebuilds: Rebuild;
}

/** A kind of entity. */
export type Kind = keyof EntityOf;

/** Any entity. */
export type Entity = EntityOf[Kind];

/** The kinds, each after those it may refer to. */
export const kinds = [
  'profiles',
  'shapes',
  'sites',
  'networks',
  'blocks',
  'subnets',
  'links',
  'attachments',
  'pools',
  'inUse',
  'templates',
  'clusters',
  'nodePools',
  'allocations',
  'runs',
  'rebuilds',
] as const satisfies readonly Kind[];

/** The whole plan. Each collection is ordered by id, so every place that holds the plan holds it alike. */
export type Plan = { readonly settings: PlanSettings } & { readonly [K in Kind]: readonly EntityOf[K][] };

/** What one entity of a kind is called in a sentence. */
export const kindNames: { readonly [K in Kind]: string } = {
  profiles: 'provider profile',
  shapes: 'machine shape',
  sites: 'site',
  networks: 'network',
  blocks: 'address block',
  subnets: 'subnet',
  links: 'link',
  attachments: 'attachment',
  pools: 'pool',
  inUse: 'range in use',
  templates: 'cluster template',
  clusters: 'cluster',
  nodePools: 'node pool',
  allocations: 'allocated range',
  runs: 'address run',
  rebuilds: 'rebuild',
};
