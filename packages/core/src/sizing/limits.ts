import type { Family, Prefix } from '../address/index.js';
import { figure, sayNumber } from '../working/index.js';
import type { Figure, Source } from '../working/index.js';
import { countsAtHorizon, countsOf, nodesAtOnce, nodesAtRest, podsOf } from './counts.js';
import type { Counts } from './counts.js';
import { monthReached } from './growth.js';
import { nativePodsPerNode } from './nativePods.js';
import { familiesOf, perNodeOf, servicesWithAddress } from './needs.js';
import { nodesServed } from './podRange.js';
import {
  raiseBalancer,
  raiseNodePorts,
  raisePodRange,
  raisePublicAddresses,
  raiseQuota,
  raiseRoutes,
  raiseServices,
  raiseShape,
  raiseSnat,
  raiseSubnets,
} from './raises.js';
import type { Raise } from './raises.js';
import { serviceUsable } from './serviceRange.js';
import type { Sizing } from './sizingOf.js';
import { nodeSubnetDemand, podSubnetDemand, reservedIn, subnetZones, usableAddresses } from './subnetDemand.js';
import { withSurge } from './surge.js';

/** Something that stops growth, on the one scale: worker nodes at rest. */
export interface Limit {
  readonly name: string;
  readonly nodes: Figure;
  readonly month: Figure;
  /** Ways to raise it to the nodes of the horizon (or one further when it holds them), the cheapest first; none when nothing but another cluster helps. */
  readonly raises: () => readonly Raise[];
}

/** What others at a cluster's site hold. */
export interface Neighbours {
  /** Clusters at the site, this one included. */
  readonly clusters: number;
  /** Public addresses that the others take at the horizon. */
  readonly publicAddresses: number;
}

/** What limits are counted from besides the cluster's own demand. */
export interface LimitContext {
  readonly sizing: Sizing;
  /** The range of one need; undefined when none is allocated. */
  readonly rangeOf: (purpose: 'node' | 'pod' | 'service', zone: string, family: Family) => Prefix | undefined;
  readonly neighbours: Neighbours;
}

/** A capacity and what a number of nodes asks of it. The limit is the most nodes whose demand it holds. */
interface Bound {
  readonly name: string;
  /** What it is in a sentence: "addresses in the node subnet of zone n1". */
  readonly what: string;
  readonly capacity: Figure;
  /** Never falls as nodes are added. */
  readonly demandOf: (counts: Counts, total: number) => number;
  readonly formula: string;
  readonly source: Source;
  readonly raises: (target: number) => readonly Raise[];
}

/** Counting stops here: more nodes than any node part of a pod range can tell apart. */
const MOST_COUNTED = 65_536;
/** Pods a cluster may run. From memory: stated limits of the Kubernetes API. */
export const PODS_PER_CLUSTER = 150_000;
/** Ports 30000 to 32767. From memory: Kubernetes API, NodePort range. */
export const NODE_PORTS = 2768;
/** 65,536 − 1,024 ports of one public address and destination. Source: common practice. */
export const SNAT_PORTS = 64_512;

const common = (text: string): Source => ({ mark: 'C', text: `Common practice: ${text}` });
const memory = (text: string): Source => ({ mark: 'M', text: `${text} (from memory)` });

/** Every limit of a cluster (handbook 3), the nearest first. */
export function limitsOf(context: LimitContext): Limit[] {
  const { sizing } = context;
  const target = (value: number) => Math.max(sizing.growth.nodesHorizon, value + 1);
  return boundsOf(context)
    .map((bounds) => nearest(sizing, bounds))
    .map(({ bound, nodes }) => ({
      name: bound.name,
      nodes: limitFigure(sizing, bound, nodes),
      month: monthReached(sizing.growth, nodes),
      raises: () => bound.raises(target(nodes)),
    }))
    .sort((a, b) => a.nodes.value - b.nodes.value);
}

/** Of bounds that are one limit in several zones, the one that holds fewest nodes. */
function nearest(sizing: Sizing, bounds: readonly Bound[]): { bound: Bound; nodes: number } {
  const held = bounds.map((bound) => ({ bound, nodes: mostNodes(sizing, bound) }));
  return held.reduce((least, each) => (each.nodes < least.nodes ? each : least));
}

/** The most nodes whose demand the capacity holds; 0 when it holds not even one, MOST_COUNTED when it holds more than that. */
function mostNodes(sizing: Sizing, { capacity, demandOf }: Bound): number {
  const holds = (total: number) => demandOf(countsOf(sizing, total), total) <= capacity.value;
  if (!holds(1)) return 0;
  // Most limits lie near the horizon's count, so the search starts there.
  let low = 1;
  let high = Math.max(2, 2 * sizing.growth.nodesHorizon);
  while (high < MOST_COUNTED && holds(high)) [low, high] = [high, 2 * high];
  high = Math.min(high, MOST_COUNTED);
  if (holds(high)) return high;
  while (high - low > 1) {
    const middle = (low + high) >>> 1;
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return low;
}

function limitFigure(sizing: Sizing, { what, capacity, demandOf, formula, source }: Bound, value: number): Figure {
  return figure(value, 'nodes', () => {
    const at = (total: number) => sayNumber(demandOf(countsOf(sizing, total), total));
    const room = capacity.explain();
    return {
      title: `Nodes within the ${what}`,
      formula: `most nodes n with ${formula} ≤ capacity`,
      inputs: [
        ...room.inputs,
        { name: 'Capacity', value: `${sayNumber(capacity.value)} ${what}` },
        { name: 'Nodes at horizon', value: sayNumber(sizing.growth.nodesHorizon) },
      ],
      steps: [
        ...room.steps,
        value >= MOST_COUNTED
          ? `${sayNumber(MOST_COUNTED)} nodes, as far as is counted, ask for ${at(MOST_COUNTED)}`
          : `${sayNumber(value)} nodes ask for ${at(value)} of ${sayNumber(capacity.value)}; ${sayNumber(value + 1)} would ask for ${at(value + 1)}`,
      ],
      result: `${sayNumber(value)} nodes`,
      source,
    };
  });
}

function boundsOf(context: LimitContext): Bound[][] {
  const { sizing } = context;
  const { cluster } = sizing;
  return [
    ...familiesOf(cluster).flatMap((family) => [
      // A /64 never runs out of addresses, so IPv6 subnets set no limit.
      ...(family === 4 ? [subnetBounds(context, 'node')] : []),
      ...(cluster.podMode === 'native'
        ? family === 4
          ? [subnetBounds(context, 'pod')]
          : []
        : [podRangeBound(context, family)]),
      serviceBound(context, family),
    ]),
    [quotaBound(sizing)],
    [podsBound(sizing)],
    shapeBounds(sizing),
    cluster.podMode === 'routed' ? [routesBound(sizing)] : [],
    cluster.nodePortServices + cluster.balancerServices > 0 ? [nodePortBound(sizing)] : [],
    cluster.balancerServices > 0 ? [balancerBound(sizing)] : [],
    cluster.natAddresses > 0 ? [snatBound(sizing)] : [],
    publicAddressesOf(sizing, countsAtHorizon(sizing), sizing.growth.nodesHorizon) > 0 ? [publicBound(context)] : [],
    [siteBound(context)],
  ].filter((bounds) => bounds.length > 0);
}

function subnetBounds({ sizing, rangeOf }: LimitContext, purpose: 'node' | 'pod'): Bound[] {
  const demand = purpose === 'node' ? nodeSubnetDemand : podSubnetDemand;
  return subnetZones(sizing).flatMap((zone) => {
    const range = rangeOf(purpose, zone, 4);
    if (range === undefined) return [];
    const capacity = usableAddresses(range.length, reservedIn(sizing));
    return [
      {
        name: purpose === 'node' ? 'Node subnets' : 'Pod subnets',
        what: `addresses in the ${purpose} subnet${zone === '' ? '' : ` of zone ${zone}`}`,
        capacity,
        demandOf: (counts) => demand(sizing, counts, zone).addresses,
        formula:
          purpose === 'node'
            ? '⌈n ÷ zones⌉ × (1 + surge) + entry'
            : '⌈n ÷ zones⌉ × (1 + surge) × (pods a node + spare)',
        source: common(
          purpose === 'node' ? 'nodes, their surge and entry addresses' : 'each pod takes one address of the subnet',
        ),
        raises: (target) => raiseSubnets({ sizing, purpose, zone, length: range.length, target }),
      },
    ];
  });
}

function podRangeBound({ sizing, rangeOf }: LimitContext, family: Family): Bound[] {
  const range = rangeOf('pod', '', family);
  if (range === undefined) return [];
  return [
    {
      name: family === 6 ? 'Pod range (IPv6)' : 'Pod range',
      what: `node prefixes in the pod range`,
      capacity: nodesServed(range.length, perNodeOf(sizing, family)),
      demandOf: (counts) => nodesAtOnce(sizing, counts),
      formula: 'n × (1 + surge) + control nodes',
      source: memory('Kubernetes API node address controller: a prefix a node, node part at most 16 bits'),
      raises: (target) => raisePodRange({ sizing, family, length: range.length, target }),
    },
  ];
}

function serviceBound({ sizing, rangeOf }: LimitContext, family: Family): Bound[] {
  const range = rangeOf('service', '', family);
  if (range === undefined) return [];
  const services = servicesWithAddress(sizing.cluster);
  return [
    {
      name: family === 6 ? 'Service range (IPv6)' : 'Service range',
      what: 'addresses in the service range',
      capacity: serviceUsable(range),
      demandOf: (_, total) => withNodes(sizing, services, total) + 2,
      formula: '⌈services × n ÷ nodes at horizon⌉ + 2',
      source: memory('Documentation of the Kubernetes API on service addresses; services grow with the nodes'),
      raises: (target) => raiseServices(sizing, range, target),
    },
  ];
}

/** Something that grows with the nodes, at this many: its count at the horizon in proportion, rounded up. */
export function withNodes({ growth }: Sizing, atHorizon: number, total: number): number {
  return growth.nodesHorizon === 0 ? atHorizon : Math.ceil((atHorizon * total) / growth.nodesHorizon);
}

function given(value: number, unit: string, title: string, name: string, source: Source): Figure {
  return figure(value, unit, () => ({
    title,
    formula: 'given',
    inputs: [{ name, value: sayNumber(value) }],
    steps: [],
    result: `${sayNumber(value)} ${unit}`,
    source,
  }));
}

function quotaBound(sizing: Sizing): Bound {
  const { profile } = sizing;
  const source = common('what the provider’s management can carry; the limit itself is the profile’s');
  return {
    name: 'Nodes a cluster',
    what: 'nodes that one cluster may have',
    capacity: given(profile.nodesPerCluster, 'nodes', 'Nodes one cluster may have', `Nodes a cluster, ${profile.name}`, source), // prettier-ignore
    demandOf: (counts) => nodesAtRest(sizing, counts),
    formula: 'n + control nodes',
    source,
    raises: (target) => raiseQuota(`${profile.name} to allow`, nodesAtRest(sizing, countsOf(sizing, target)), 'nodes a cluster'), // prettier-ignore
  };
}

function podsBound(sizing: Sizing): Bound {
  const source = memory('Stated limits of the Kubernetes API: 150,000 pods a cluster');
  return {
    name: 'Pods a cluster',
    what: 'pods that one cluster may run',
    capacity: given(PODS_PER_CLUSTER, 'pods', 'Pods one cluster may run', 'Pods a cluster', source),
    demandOf: (counts) => podsOf(sizing, counts),
    formula: 'n × pods a node',
    source,
    raises: () => [],
  };
}

function shapeBounds(sizing: Sizing): Bound[] {
  const { cluster, profile, groups } = sizing;
  return groups.flatMap(({ shape, podsPerNode, name, horizon }, at) => {
    if (shape === undefined || horizon === 0) return [];
    const isNative = cluster.podMode === 'native' && profile.nativeRule !== 'none';
    const held = isNative
      ? nativePodsPerNode(shape, profile)
      : given(shape.podCap, 'pods', 'Pods a node of the shape may run', `Pod cap of ${shape.name}`, common('the cap is the shape’s')); // prettier-ignore
    // A shape that holds the pods of each node sets no limit to their number.
    if (held.value >= podsPerNode) return [];
    return [
      {
        name: 'Machine shape',
        what: `pods on a node of shape ${shape.name}`,
        capacity: held,
        demandOf: (counts: Counts) => ((counts.nodes[at] ?? 0) > 0 ? podsPerNode : 0),
        formula: `pods a node${groups.length === 1 ? '' : ` of ${name}`}`,
        source: common('interfaces and slots of the shape, and its cap'),
        raises: () => raiseShape(sizing, at, held.value),
      },
    ];
  });
}

function routesBound(sizing: Sizing): Bound {
  const { profile, cluster } = sizing;
  const families = familiesOf(cluster).length;
  const source = common('a route a node and family; the limit itself is the profile’s');
  return {
    name: 'Routes a table',
    what: 'routes that one route table may hold',
    capacity: given(profile.routesPerTable, 'routes', 'Routes one table may hold', `Routes a table, ${profile.name}`, source), // prettier-ignore
    demandOf: (counts) => families * nodesAtOnce(sizing, counts),
    formula: 'n × (1 + surge) × families',
    source,
    raises: (target) => raiseRoutes(sizing, families * nodesAtOnce(sizing, countsOf(sizing, target))),
  };
}

function nodePortBound(sizing: Sizing): Bound {
  const { nodePortServices, balancerServices } = sizing.cluster;
  const services = nodePortServices + balancerServices;
  const source = memory('Kubernetes API: ports 30000 to 32767');
  return {
    name: 'NodePorts',
    what: 'ports that services can have on every node',
    capacity: given(NODE_PORTS, 'ports', 'NodePorts', 'Ports 30000 to 32767', source),
    demandOf: (_, total) => withNodes(sizing, services, total),
    formula: '⌈NodePort and LoadBalancer services × n ÷ nodes at horizon⌉',
    source,
    raises: (target) => raiseNodePorts(withNodes(sizing, services, target) - NODE_PORTS),
  };
}

function balancerBound(sizing: Sizing): Bound {
  const { cluster, profile, groups } = sizing;
  const isByNode = cluster.podMode === 'overlay';
  const workers = ({ nodes }: Counts) => groups.reduce((sum, { surge }, i) => sum + withSurge(nodes[i] ?? 0, surge), 0);
  const source = common(
    isByNode ? 'a load balancer sends to a port on every node' : 'a load balancer sends to the pods of its service',
  );
  return {
    name: 'Balancer members',
    what: 'members that one load balancer can send to',
    capacity: given(profile.membersPerBalancer, 'members', 'Members a load balancer can send to', `Members a balancer, ${profile.name}`, source), // prettier-ignore
    demandOf: (counts) =>
      isByNode ? workers(counts) : Math.ceil(podsOf(sizing, counts) / Math.max(1, cluster.services)),
    formula: isByNode ? 'n × (1 + surge)' : '⌈pods ÷ services⌉, as they are on average',
    source,
    raises: (target) => raiseBalancer(sizing, workers(countsOf(sizing, target))),
  };
}

/** Ports kept for each node decide how many nodes one public address carries. */
function snatBound(sizing: Sizing): Bound {
  const { natAddresses, snatPorts } = sizing.cluster;
  const perAddress = Math.floor(SNAT_PORTS / snatPorts);
  const source = common('65,536 − 1,024 ports for each public address and destination');
  return {
    name: 'SNAT ports',
    what: 'nodes that the NAT addresses carry',
    capacity: figure(natAddresses * perAddress, 'nodes', () => ({
      title: 'Nodes the NAT addresses carry',
      formula: 'addresses × ⌊64,512 ÷ ports a node⌋',
      inputs: [
        { name: 'NAT addresses', value: sayNumber(natAddresses) },
        { name: 'SNAT ports a node', value: sayNumber(snatPorts) },
      ],
      steps: [`⌊64,512 ÷ ${sayNumber(snatPorts)}⌋ = ${perAddress} nodes an address`],
      result: `${sayNumber(natAddresses * perAddress)} nodes`,
      source,
    })),
    demandOf: (counts) => privateNodes(sizing, counts),
    formula: 'private nodes × (1 + surge) + control nodes',
    source,
    raises: (target) => raiseSnat(sizing, privateNodes(sizing, countsOf(sizing, target)), perAddress),
  };
}

function privateNodes(sizing: Sizing, counts: Counts): number {
  const open = sizing.groups.reduce(
    (sum, { isPublic, surge }, i) => sum + (isPublic ? withSurge(counts.nodes[i] ?? 0, surge) : 0),
    0,
  );
  return nodesAtOnce(sizing, counts) - open;
}

/** Public addresses a cluster takes: of public nodes with their surge, of public load balancers, and those its nodes leave under. */
export function publicAddressesOf(sizing: Sizing, counts: Counts, total: number): number {
  const { cluster } = sizing;
  const nodes = nodesAtOnce(sizing, counts) - privateNodes(sizing, counts);
  const balancers = cluster.hasPublicBalancers ? withNodes(sizing, cluster.balancerServices, total) : 0;
  return nodes + balancers + cluster.natAddresses;
}

function publicBound({ sizing, neighbours }: LimitContext): Bound {
  const { profile } = sizing;
  const source = common('one for each public node, public load balancer and NAT address; the limit is the profile’s');
  const left = Math.max(0, profile.publicAddresses - neighbours.publicAddresses);
  return {
    name: 'Public addresses',
    what: 'public addresses that the site has left',
    capacity: figure(left, 'addresses', () => ({
      title: 'Public addresses left at the site',
      formula: 'addresses a site − what its other clusters take',
      inputs: [
        { name: `Public addresses a site, ${profile.name}`, value: sayNumber(profile.publicAddresses) },
        { name: 'Other clusters at the site', value: sayNumber(neighbours.publicAddresses) },
      ],
      steps: [`${sayNumber(left)} left`],
      result: `${sayNumber(left)} addresses`,
      source,
    })),
    demandOf: (counts, total) => publicAddressesOf(sizing, counts, total),
    formula: 'public nodes × (1 + surge) + public load balancers + NAT addresses',
    source,
    raises: (target) => raisePublicAddresses(sizing, publicAddressesOf(sizing, countsOf(sizing, target), target) + neighbours.publicAddresses), // prettier-ignore
  };
}

/** A cluster at its largest grows on in further clusters, of which the site has so many left. */
function siteBound({ sizing, neighbours }: LimitContext): Bound {
  const { profile, site } = sizing;
  const free = profile.clustersPerSite - neighbours.clusters;
  const value = free < 0 ? 0 : profile.nodesPerCluster * (1 + free);
  const source = common('clusters at their largest; both limits are the profile’s');
  return {
    name: 'Clusters a site',
    what: 'nodes in this cluster and in those the site has left',
    capacity: figure(value, 'nodes', () => ({
      title: 'Nodes in all clusters the site has left',
      formula: 'nodes a cluster × (1 + clusters a site − clusters there)',
      inputs: [
        { name: `Nodes a cluster, ${profile.name}`, value: sayNumber(profile.nodesPerCluster) },
        { name: 'Clusters a site', value: sayNumber(profile.clustersPerSite) },
        { name: `Clusters at ${site.name}`, value: sayNumber(neighbours.clusters) },
      ],
      steps: [free < 0 ? 'The site has more clusters than it may.' : `${free} more clusters can be made`],
      result: `${sayNumber(value)} nodes`,
      source,
    })),
    demandOf: (counts) => nodesAtRest(sizing, counts),
    formula: 'n + control nodes',
    source,
    raises: () => raiseQuota(`${profile.name} to allow`, neighbours.clusters + 1, 'clusters a site'),
  };
}
