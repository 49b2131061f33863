import type { Family, Prefix } from '../address/index.js';
import { addressBits } from '../address/index.js';
import { formatNumber } from '../working/index.js';
import { bitsFor } from './bits.js';
import { SNAT_PORTS, withNodes } from './bound.js';
import type { HeldRange, Raise } from './bound.js';
import { countsOf, nodesAtOnce } from './counts.js';
import { nativePodsPerNode } from './nativePods.js';
import { perNodeOf, servicesWithAddress } from './needs.js';
import { MAX_NODE_BITS } from './podRange.js';
import { MAX_SERVICE_HOST_BITS } from './serviceRange.js';
import type { Sizing } from './sizing.js';
import { addressesOf, roomBeside } from './residents.js';
import { entryInNodeSubnet, nodeSubnetAddresses, podSubnetAddresses, reservedIn, subnetZones } from './subnetDemand.js';

const free = { addresses: 0, monthly: 0, isRebuild: false, isAsked: false } as const;

/**
 * The cheapest first: what needs no rebuild, then nobody else, then least money, then fewest addresses. An unknown
 * price counts as dear.
 */
function cheapestFirst(raises: readonly Raise[]): Raise[] {
  const dear = (raise: Raise) => raise.monthly ?? Number.MAX_SAFE_INTEGER;
  return [...raises].sort(
    (a, b) =>
      Number(a.isRebuild) - Number(b.isRebuild) ||
      Number(a.isAsked) - Number(b.isAsked) ||
      dear(a) - dear(b) ||
      a.addresses - b.addresses,
  );
}

const sizeOf = (length: number) => 2 ** (32 - length);

interface SubnetRaise {
  readonly sizing: Sizing;
  readonly purpose: 'node' | 'pod';
  readonly zone: string;
  /** The subnets it has there, in their turn. */
  readonly held: readonly HeldRange[];
  readonly target: number;
}

/**
 * A larger subnet, or a further one; where others live in it, one of its own; for nodes, entry addresses in subnets of
 * their own, where that is enough; for native pods, fewer on each node.
 */
export function raiseSubnets({ sizing, purpose, zone, held, target }: SubnetRaise): Raise[] {
  const reserved = reservedIn(sizing.profile);
  const counts = countsOf(sizing, target);
  const demand = (purpose === 'node' ? nodeSubnetAddresses : podSubnetAddresses)(sizing, counts, zone);
  const where = zone === '' ? '' : ` of zone ${zone}`;
  const left = held.map(({ range, others }) => roomBeside(sizing, range, others));
  const room = left.reduce((sum, each) => sum + each, 0);
  // The last one holds what those before it leave over.
  const [{ range, others } = { range: undefined, others: [] }] = held.slice(-1);
  if (range === undefined) return [];
  const over = demand - room + (left.at(-1) ?? 0);
  const wanted = 32 - bitsFor(over + reserved + addressesOf(others));
  const raises: Raise[] = [];
  if (wanted < range.length)
    raises.push({
      ...free,
      words: `A /${wanted} instead of the /${range.length}${where}: grow it in place, or move it.`,
      addresses: sizeOf(wanted) - sizeOf(range.length),
    });
  if (demand > room) {
    const further = Math.min(sizing.profile.smallestSubnet, 32 - bitsFor(demand - room + reserved));
    raises.push({
      ...free,
      words: `An additional /${further}${where}, filled once ${held.length === 1 ? 'the first is' : 'those before it are'} full.`,
      addresses: sizeOf(further),
    });
  }
  const shared = held.find((each) => each.others.length > 0);
  if (shared !== undefined) {
    const own = 32 - bitsFor(demand - room + roomBeside(sizing, shared.range, shared.others) + reserved);
    raises.push({
      ...free,
      words: `A /${own} of its own${where}: move it out of the subnet that others live in.`,
      addresses: sizeOf(own),
    });
  }
  const entry = entryInNodeSubnet(sizing);
  if (purpose === 'node' && entry > 0 && demand - entry <= room)
    raises.push({
      ...free,
      words: `Entry addresses in subnets of their own: that leaves ${formatNumber(entry)} for nodes.`,
      addresses: subnetZones(sizing).length * 2 ** bitsFor(entry + reserved),
    });
  if (purpose === 'pod') {
    const pods = Math.floor((room / demand) * sizing.podsPerNode);
    if (pods >= 1 && pods < sizing.podsPerNode)
      raises.push({ ...free, words: `${pods} pods per node instead of ${sizing.podsPerNode}.` });
  }
  return cheapestFirst(raises);
}

interface PodRangeRaise {
  readonly sizing: Sizing;
  readonly family: Family;
  readonly length: number;
  readonly target: number;
}

/** A larger pod range, or a longer prefix for each node that still holds its pods once. */
export function raisePodRange({ sizing, family, length, target }: PodRangeRaise): Raise[] {
  const isRebuild = sizing.cluster.isBuilt;
  const q = perNodeOf(sizing, family).value;
  const bits = bitsFor(nodesAtOnce(sizing, countsOf(sizing, target)));
  const raises: Raise[] = [];
  if (bits <= MAX_NODE_BITS && q - bits < length)
    raises.push({
      ...free,
      words: `A /${q - bits} pod range instead of the /${length}.`,
      addresses: family === 4 && sizing.cluster.podMode === 'routed' ? sizeOf(q - bits) - sizeOf(length) : 0,
      isRebuild,
    });
  const longer = length + bits;
  const held = sizeOf(longer);
  if (family === 4 && longer > q && held >= sizing.podsPerNode)
    raises.push({
      ...free,
      words: [
        `A /${longer} for each node instead of /${q}:`,
        `${formatNumber(held)} addresses for ${sizing.podsPerNode} pods${held < 2 * sizing.podsPerNode ? ', so that they rest less before they are used again' : ''}.`,
      ].join(' '),
      isRebuild,
    });
  return cheapestFirst(raises);
}

/** A larger service range, up to what the Kubernetes API takes, or services that need no address. */
export function raiseServices(sizing: Sizing, range: Prefix, target: number): Raise[] {
  const services = servicesWithAddress(sizing.cluster);
  const wanted = withNodes(sizing, services, target) + 2;
  const bits = bitsFor(wanted + 2);
  const length = addressBits(range.family) - bits;
  const room = 2 ** (addressBits(range.family) - range.length) - 4;
  return cheapestFirst([
    ...(bits <= MAX_SERVICE_HOST_BITS && length < range.length
      ? [
          {
            ...free,
            words: `A /${length} service range instead of the /${range.length}.`,
            isRebuild: sizing.cluster.isBuilt,
          },
        ]
      : []),
    ...(wanted - 2 > room
      ? [{ ...free, words: `${formatNumber(wanted - 2 - room)} of the services headless, or together behind others.` }]
      : []),
  ]);
}

/** Asking for a higher quota. */
export function raiseQuota(whom: string, value: number, what: string): Raise[] {
  return [{ ...free, words: `Ask ${whom} ${formatNumber(value)} ${what}.`, isAsked: true }];
}

/** Another shape that its provider offers, or fewer pods. */
export function raiseShape(sizing: Sizing, at: number, held: number): Raise[] {
  const { groups, offers, profile, cluster } = sizing;
  const group = groups[at];
  if (group?.shape === undefined) return [];
  const { shape, podsPerNode, horizon } = group;
  const isNative = cluster.podMode === 'native';
  const holds = (pods: number) => pods >= podsPerNode;
  const others = offers
    .filter((offer) => holds(isNative ? nativePodsPerNode(offer, profile).value : offer.podCap))
    .map((offer): Raise => ({
      ...free,
      words: `Shape ${offer.name} instead of ${shape.name}.`,
      monthly: Math.round(100 * (offer.price - shape.price) * horizon) / 100,
    }));
  return cheapestFirst([...others, { ...free, words: `${held} pods per node instead of ${podsPerNode}.` }]);
}

/** A higher quota, or pods that take no routes. */
export function raiseRoutes({ cluster, profile }: Sizing, routes: number): Raise[] {
  return cheapestFirst([
    ...raiseQuota(`${profile.name} to allow`, routes, 'routes per table'),
    { ...free, words: 'Pods in an overlay take no routes.', isRebuild: cluster.isBuilt },
  ]);
}

/** Fewer services with a port of their own. */
export function raiseNodePorts(tooMany: number): Raise[] {
  if (tooMany <= 0) return [];
  return [{ ...free, words: `${formatNumber(tooMany)} of them as ClusterIP behind an ingress or gateway.` }];
}

/** A second load balancer, a higher quota, or pods as members. */
export function raiseBalancer({ cluster, profile }: Sizing, members: number): Raise[] {
  const isByNode = cluster.podMode === 'overlay';
  return cheapestFirst([
    { ...free, words: 'A second load balancer beside the first.', monthly: profile.priceBalancer },
    ...raiseQuota(`${profile.name} to allow`, members, 'members per load balancer'),
    ...(isByNode ? [{ ...free, words: 'Routed or native pods as members.', isRebuild: cluster.isBuilt }] : []),
  ]);
}

/** More public addresses to leave under, or fewer ports for each node. */
export function raiseSnat({ cluster, profile }: Sizing, nodes: number, perAddress: number): Raise[] {
  const { natAddresses } = cluster;
  const more = perAddress === 0 ? 0 : Math.ceil(nodes / perAddress) - natAddresses;
  const each = Math.ceil(nodes / natAddresses);
  const ports = Math.floor(SNAT_PORTS / each);
  return cheapestFirst([
    ...(more > 0
      ? [
          {
            ...free,
            words: `${more} more NAT ${more === 1 ? 'address' : 'addresses'}.`,
            monthly: profile.priceAddress === null ? null : Math.round(100 * more * profile.priceAddress) / 100,
          },
        ]
      : []),
    ...(ports >= 128
      ? [
          {
            ...free,
            words: `${formatNumber(ports)} ports per node instead of ${formatNumber(cluster.snatPorts)}: fewer connections at once to one destination.`,
          },
        ]
      : []),
  ]);
}

/** Private nodes, or a higher quota. */
export function raisePublicAddresses({ groups, profile }: Sizing, addresses: number): Raise[] {
  const open = groups.filter(({ isPublic }) => isPublic).map(({ name }) => name);
  return cheapestFirst([
    ...(open.length > 0
      ? [{ ...free, words: `Private nodes in ${open.join(', ')}: they leave by address translation.` }]
      : []),
    ...raiseQuota(`${profile.name} to allow`, addresses, 'public addresses per site'),
  ]);
}
