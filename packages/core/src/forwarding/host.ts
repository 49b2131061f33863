import {
  addressFurther,
  compareAddresses,
  containsAddress,
  formatAddress,
  lastAddress,
  parseAddress,
  prefixAround,
  specialBlockAround,
} from '../address/index.js';
import type { Address, Family, Prefix } from '../address/index.js';
import { nthFreeAddress } from '../allocation/index.js';
import { around, byId, hostPrefix, nodePoolsOf, rangeOf, zonesOfCluster } from '../plan/index.js';
import type { Allocation, Balancer, Cluster, ClusterPart, Subnet } from '../plan/index.js';
import { expectGood } from '../result.js';
import { found, lacking } from '../road/index.js';
import type { Found } from '../road/index.js';
import { perNodePrefix } from '../sizing/index.js';
import type { ForwardingState } from './forwardingState.js';
import type { Host } from './machine.js';
import type { Holder } from './networkSpace.js';

/** The address of places on the internet that the plan knows nothing of. Source: RFC 5737 3, for documents. */
export const SOMEWHERE: Address = hostPrefix('192.0.2.129');

/** One address in each quarter of the unicast space, the first from documents: rules for a part of the internet do not cover them all. */
const STAND_INS = ['192.0.2.129', '32.0.0.1', '96.0.0.1', '160.0.0.1'].map(hostPrefix);

/** Further ones, by which a rule for the whole internet is judged. */
const JUDGES = ['205.0.0.9', '51.0.0.9', '140.0.0.9'].map(hostPrefix);

/** The addresses that stand for the internet, IPv4 ones several, without those that the plan itself holds somewhere. */
export function internetAddresses(
  { parts, rangesOf }: ForwardingState,
  family: Family,
  isJudge = false,
): readonly Address[] {
  if (family === 6) return [expectGood(parseAddress('2001:db8::1'))];
  const held = [parts.blocks, parts.subnets, parts.inUse];
  const isHeld = (address: Prefix) =>
    held.some((ranges) => around<{ readonly prefix: string }>(ranges, address).length > 0) ||
    parts.clusters.some(({ id }) => rangesOf(id).some((range) => containsAddress(rangeOf(range), address)));
  const free = (isJudge ? JUDGES : STAND_INS).filter((address) => !isHeld(address));
  return free.length === 0 ? [SOMEWHERE] : free;
}

/** The address that stands for the public API of a hosted control plane, which its provider chooses. Source: RFC 5737 3. */
export const PUBLIC_API: Address = hostPrefix('192.0.2.1');

/** The address that stands for that of a public load balancer while it is not decided. Source: RFC 5737 3. */
const SOME_PUBLIC: Address = hostPrefix('192.0.2.65');

/**
 * Which of a cluster's nodes a question is about, where it may be either of two: a cluster's own pods are looked for on
 * another node. Gateways are nodes beyond these, by number from 2.
 */
export type WhichNode = 'first' | 'other' | number;

/** A part of a cluster, in one of several subnets of its zone where that is said; otherwise in the first. */
export type HostPart = ClusterPart & { readonly turn?: number };

/** Of each state the nodes that stand for whole clusters: many ask for them. */
const standingFor = new WeakMap<ForwardingState, Map<string, Found<Host>>>();

/** A node of a cluster, or why it has no address yet. */
export function nodeHost(
  forwarding: ForwardingState,
  part: HostPart,
  family: Family,
  which: WhichNode = 'first',
): Found<Host> {
  if (part.nodePoolId !== null || part.zone !== '' || part.turn !== undefined)
    return makeNodeHost(forwarding, part, family, which);
  const known = standingFor.get(forwarding) ?? new Map<string, Found<Host>>();
  standingFor.set(forwarding, known);
  const key = `${part.clusterId} ${family} ${which}`;
  const host = known.get(key) ?? makeNodeHost(forwarding, part, family, which);
  known.set(key, host);
  return host;
}

function makeNodeHost(
  forwarding: ForwardingState,
  { clusterId, nodePoolId, zone, turn }: HostPart,
  family: Family,
  which: WhichNode = 'first',
): Found<Host> {
  const { parts } = forwarding;
  const cluster = byId(parts.clusters, clusterId);
  const site = byId(parts.sites, cluster?.siteId ?? '');
  if (cluster === undefined || site === undefined) return lacking({ code: 'host.gone', what: 'cluster' });
  const pool = nodePoolId === null ? undefined : byId(parts.nodePools, nodePoolId);
  const wanted = zone === '' ? (standing(forwarding, site.id, pool?.zones ?? [])[0] ?? '') : zone;
  const all = forwarding
    .rangesOf(clusterId)
    .filter((range) => range.purpose === 'node' && rangeOf(range).family === family);
  const meant = (ranges: readonly Allocation[]) =>
    turn === undefined
      ? inZone(ranges, wanted, which)
      : ranges.find((each) => each.zone === zone && each.turn === turn);
  // A range without a zone has nodes in all that the cluster is spread over.
  const spread = pool === undefined || pool.zones.length === 0 ? zonesOfCluster(cluster, site) : pool.zones;
  const left = spread.filter((each) => isThere(forwarding, site.id, each));
  const isLeft = wanted === '' ? left.length > 0 : isThere(forwarding, site.id, wanted);
  const range = meant(all.filter((each) => (each.zone === '' ? isLeft : isThere(forwarding, site.id, each.zone))));
  if (range === undefined)
    return lacking(
      meant(all) === undefined
        ? { code: 'host.no-range', clusterId, purpose: 'node', family, zone: wanted }
        : { code: 'host.zone-lost', clusterId },
    );
  const pools = nodePoolsOf(parts, clusterId);
  const round = which === 'first' ? 0 : which === 'other' ? 1 : which;
  const place = (pool === undefined ? 0 : 1 + pools.indexOf(pool)) + round * (1 + pools.length);
  const address = addressOf(forwarding, cluster, range, place);
  const subnet = forwarding.space(cluster.networkId).subnetOf(address);
  return found({
    kind: 'node',
    label: `node of ${cluster.name}${range.zone === '' ? '' : ` in ${range.zone}`}`,
    address,
    networkId: cluster.networkId,
    cluster,
    ...(pool === undefined ? {} : { pool }),
    zone: range.zone !== '' ? range.zone : wanted !== '' ? wanted : (left[0] ?? ''),
    ...(subnet === undefined ? {} : { subnet }),
    place,
    isPublic: pool?.isPublic ?? subnet?.isPublic ?? false,
    attachable: [clusterId, ...(pool === undefined ? [] : [pool.id])],
  });
}

/** A pod of a cluster on a node, or why it has no address yet. */
export function podHost(
  forwarding: ForwardingState,
  part: HostPart,
  family: Family,
  which: WhichNode = 'first',
): Found<Host> {
  const node = nodeHost(forwarding, part, family, which);
  if (!node.ok) return node;
  const { cluster } = node.value;
  if (cluster === undefined) return lacking({ code: 'host.gone', what: 'cluster' });
  const ranges = forwarding
    .rangesOf(cluster.id)
    .filter(
      (range) =>
        range.purpose === 'pod' && rangeOf(range).family === family && isThere(forwarding, cluster.siteId, range.zone),
    );
  const ofTurn = ranges.find((each) => each.zone === part.zone && each.turn === part.turn);
  const range = ofTurn ?? inZone(ranges, part.zone === '' ? '' : node.value.zone, which) ?? ranges[0];
  if (range === undefined)
    return lacking({ code: 'host.no-range', clusterId: cluster.id, purpose: 'pod', family, zone: '' });
  const own = cluster.podMode === 'native' ? forwarding.space(cluster.networkId).subnetOf(rangeOf(range)) : undefined;
  return found({
    kind: 'pod',
    label: `pod of ${cluster.name}${part.zone === '' ? '' : ` in ${part.zone}`}`,
    address: podAddress(forwarding, cluster, range, node.value.place ?? 0),
    networkId: cluster.networkId,
    cluster,
    ...(node.value.pool === undefined ? {} : { pool: node.value.pool }),
    zone: node.value.zone,
    ...(own === undefined ? {} : { subnet: own }),
    node: node.value,
    isPublic: false,
    attachable: node.value.attachable,
  });
}

/** A further pod on the node of who asks, or why there is none. */
export function neighbourHost(forwarding: ForwardingState, from: Host, part: HostPart): Found<Host> {
  const node = from.kind === 'pod' ? from.node : from.kind === 'node' ? from : undefined;
  const { clusterId, nodePoolId, zone } = part;
  if (node === undefined || node.cluster?.id !== clusterId)
    return lacking({ code: 'host.not-its-node', clusterId, isOther: false });
  const isMeant = (nodePoolId === null || node.pool?.id === nodePoolId) && (zone === '' || node.zone === zone);
  if (!isMeant) return lacking({ code: 'host.not-its-node', clusterId, isOther: true });
  const own = { clusterId, nodePoolId: node.pool?.id ?? null, zone: node.zone };
  const pod = podHost(forwarding, own, from.address.family);
  if (!pod.ok) return pod;
  const address = further(forwarding, pod.value, from.address);
  return found({ ...pod.value, label: `neighbouring ${pod.value.label}`, address, node, isNeighbour: true });
}

/** An address beside that of a pod for another one on its node: the next in the range, or the one before where there is none. */
function further(forwarding: ForwardingState, { cluster, address }: Host, taken: Address): Address {
  const around = forwarding
    .rangesOf(cluster?.id ?? '')
    .filter(({ purpose }) => purpose === 'pod')
    .map(rangeOf)
    .find((range) => range.family === address.family && containsAddress(range, address));
  const others = [1, -1, 2, -2].map((by) => addressFurther(address, by));
  const isFree = (other: Address) =>
    around !== undefined && containsAddress(around, other) && compareAddresses(other, taken) !== 0;
  return others.find(isFree) ?? address;
}

/**
 * The address that a node has in the overlay of its cluster: the one before the first pod of its prefix (common practice);
 * undefined without a pod range.
 */
export function tunnelAddress(
  forwarding: ForwardingState,
  { cluster, place = 0 }: Host,
  family: Family,
): Address | undefined {
  const range = forwarding
    .rangesOf(cluster?.id ?? '')
    .find((each) => each.purpose === 'pod' && rangeOf(each).family === family);
  return range === undefined || cluster === undefined ? undefined : inNodePrefix(cluster, rangeOf(range), place, 1);
}

/** Whether a zone is not lost in a drill; what is in no zone in particular stays. */
export function isThere({ faults }: ForwardingState, siteId: string, zone: string): boolean {
  return zone === '' || !faults.zones.has(`${siteId} ${zone}`);
}

/** Zones without those that are lost; all where none is left. */
function standing(forwarding: ForwardingState, siteId: string, zones: readonly string[]): readonly string[] {
  const left = zones.filter((zone) => isThere(forwarding, siteId, zone));
  return left.length === 0 ? zones : left;
}

/** A host of the asking one's own cluster, named so that the two are told apart. */
export function another(host: Host): Host {
  return {
    ...host,
    label: `another ${host.label}`,
    isAnother: true,
    ...(host.node === undefined ? {} : { node: { ...host.node, label: `another ${host.node.label}` } }),
  };
}

/** Pods of overlay and routed clusters have an address of their node's prefix; native pods one of the range. */
function podAddress(forwarding: ForwardingState, cluster: Cluster, own: Allocation, place: number): Address {
  const range = rangeOf(own);
  if (cluster.podMode === 'native')
    return isShared(forwarding, cluster, range)
      ? addressOf(forwarding, cluster, own, FIRST_POD + place)
      : clamped(range, FIRST_POD + place);
  return inNodePrefix(cluster, range, place, 2);
}

/** The nth address of the prefix of a node. */
function inNodePrefix(cluster: Cluster, range: Prefix, place: number, nth: number): Address {
  const each = perNodePrefix(range.family, cluster.podsPerNode, cluster.perNodeLength).value;
  const bits = (range.family === 4 ? 32 : 128) - each;
  const start = each <= range.length ? 0 : place * 2 ** Math.min(bits, 50);
  return clamped(range, start + nth);
}

function inZone(ranges: readonly Allocation[], zone: string, which: WhichNode): Allocation | undefined {
  if (zone !== '') return ranges.find((range) => range.zone === zone) ?? ranges.find((range) => range.zone === '');
  // Of several zones the other node is in another one.
  return which === 'other' ? (ranges[1] ?? ranges[0]) : ranges[0];
}

/** Native pods stand a little behind the nodes. */
const FIRST_POD = 10;

function isShared(forwarding: ForwardingState, { networkId }: Cluster, range: Prefix): boolean {
  return forwarding.space(networkId).livingIn(range).length > 1;
}

/**
 * The nth address of a cluster in its range, of those that nobody holds; its last where there are fewer. Of a subnet
 * that several live in, each has its own ones in turn.
 */
function addressOf(forwarding: ForwardingState, cluster: Cluster, own: Allocation, nth: number): Address {
  const { parts } = forwarding;
  const { networkId } = cluster;
  const prefix = rangeOf(own);
  const profile = byId(parts.profiles, byId(parts.sites, cluster.siteId)?.profileId ?? '');
  const living = forwarding.space(networkId).livingIn(prefix);
  const at = Math.max(
    0,
    living.findIndex(({ allocation }) => allocation?.id === own.id),
  );
  const place = nth * Math.max(1, living.length) + at;
  // Integrity was checked: a cluster has a site, and that a profile.
  const free = profile === undefined ? undefined : nthFreeAddress(parts, { prefix, networkId, profile }, place);
  return free ?? lastAddress(prefix);
}

function clamped(range: Prefix, at: number): Address {
  const address = addressFurther(range, at);
  return containsAddress(range, address) ? address : lastAddress(range);
}

/** Who answers at an address of a network: a device, a pod, a node, a machine of a range in use; undefined where nobody is. */
export function hostAt(forwarding: ForwardingState, networkId: string, address: Address): Host | undefined {
  const device = deviceAt(forwarding, networkId, address);
  if (device !== undefined) return device;
  const space = forwarding.space(networkId);
  const holder = space.holderOf(address);
  if (holder === undefined || holder.kind === 'block') return undefined;
  if (subnetEndAt(forwarding, networkId, address) !== undefined) return undefined;
  const subnet = space.subnetOf(address);
  if (holder.cluster !== undefined && holder.kind !== 'entry') return machineOf(forwarding, holder, address);
  return {
    kind: 'machine',
    label: holder.label,
    address,
    networkId,
    zone: subnet?.zone ?? '',
    ...(subnet === undefined ? {} : { subnet }),
    isPublic: subnet?.isPublic ?? false,
    attachable: [],
  };
}

/**
 * The IPv4 subnet whose own address or broadcast an address of a network is: no machine has it; subnets of two addresses have neither. Sources:
 * RFC 1122 3.2.1.3 (a) and (e), RFC 3021 2.1.
 */
export function subnetEndAt(forwarding: ForwardingState, networkId: string, address: Address): Prefix | undefined {
  const space = forwarding.space(networkId);
  const holder = space.holderOf(address);
  if (address.family !== 4 || (holder?.kind !== 'nodes' && holder?.kind !== 'subnet')) return undefined;
  const subnet = space.subnetOf(address);
  const range = subnet === undefined ? holder.prefix : rangeOf(subnet);
  const isEnd = [range, lastAddress(range)].some((end) => compareAddresses(end, address) === 0);
  return isEnd && range.length <= 30 ? range : undefined;
}

/** The node or pod of a cluster that has this address. */
function machineOf(
  forwarding: ForwardingState,
  { cluster, allocation, kind, prefix }: Holder,
  address: Address,
): Host | undefined {
  const part = { clusterId: cluster?.id ?? '', nodePoolId: null, zone: allocation?.zone ?? '' };
  const machine =
    kind === 'nodes' ? nodeHost(forwarding, part, address.family) : podHost(forwarding, part, address.family, 'other');
  if (!machine.ok) return undefined;
  // Of which of them it is, the plan does not say: what any of them lets through passes only where all do.
  const others = forwarding
    .space(machine.value.networkId)
    .livingIn(prefix)
    .filter((other) => other.cluster?.id !== cluster?.id);
  // Nor does it say of one address of a range without a zone in which of its cluster's zones it is.
  const isAnyZone = part.zone === '';
  if (others.length === 0) return { ...machine.value, address, isAnyZone };
  return {
    ...machine.value,
    address,
    isAnyZone,
    label: `${machine.value.label} or of ${others.map((other) => other.cluster?.name ?? '').join(', ')}`,
    attachable: [...machine.value.attachable, ...others.flatMap((other) => other.cluster?.id ?? [])],
  };
}

function deviceAt(forwarding: ForwardingState, networkId: string, address: Address): Host | undefined {
  const { balancers, bastions, endpoints, subnets } = forwarding.parts;
  const text = formatAddress(address);
  const inNetwork = ({ subnetId }: { readonly subnetId: string }) => byId(subnets, subnetId)?.networkId === networkId;
  const bastion = bastions.find((each) => each.address === text && inNetwork(each));
  if (bastion !== undefined) return bastionHost(forwarding, bastion.id);
  const endpoint = endpoints.find((each) => each.address === text && inNetwork(each));
  if (endpoint !== undefined) return endpointHost(forwarding, endpoint.id);
  const balancer = balancers.find((each) => each.side === 'internal' && each.address === text && inNetwork(each));
  return balancer === undefined ? undefined : balancerHost(forwarding, balancer);
}

/** A load balancer at the address that clients call: its own, or while that is not decided one that stands for it. */
export function balancerHost(
  forwarding: ForwardingState,
  { id, name, subnetId, side, address, zones }: Balancer,
): Host | undefined {
  const subnet = byId(forwarding.parts.subnets, subnetId);
  if (subnet === undefined) return undefined;
  const isPublic = side === 'public';
  const stands = isPublic ? SOME_PUBLIC : lastAddress(rangeOf(subnet));
  const made = deviceHost('balancer', `load balancer ${name}`, address ?? formatAddress(stands), subnet, [id]);
  return { ...made, zones, isPublic };
}

/** The same load balancer where it calls its members: from its subnet. */
export function balancerInside(forwarding: ForwardingState, balancer: Balancer): Host | undefined {
  const host = balancerHost(forwarding, balancer);
  if (host?.subnet === undefined || balancer.side === 'internal') return host;
  const range = rangeOf(host.subnet);
  const size = 2 ** Math.min(20, (range.family === 4 ? 32 : 128) - range.length);
  // Providers take the addresses of their own machines from the subnet's free ones; the last but one stands for them.
  return { ...host, isPublic: false, address: addressFurther(range, Math.max(0, size - 2)) };
}

/** The public load balancer at an address. */
export function publicBalancerAt({ parts }: ForwardingState, address: Address): Balancer | undefined {
  const text = formatAddress(address);
  return parts.balancers.find(
    (each) =>
      each.side === 'public' &&
      (each.address === text || (each.address === null && text === formatAddress(SOME_PUBLIC))),
  );
}

/** A bastion as a machine. */
export function bastionHost(forwarding: ForwardingState, id: string): Host | undefined {
  const bastion = byId(forwarding.parts.bastions, id);
  const subnet = byId(forwarding.parts.subnets, bastion?.subnetId ?? '');
  if (bastion === undefined || subnet === undefined) return undefined;
  return deviceHost('bastion', `bastion ${bastion.name}`, bastion.address, subnet, []);
}

/** A private endpoint as a machine. */
export function endpointHost(forwarding: ForwardingState, id: string): Host | undefined {
  const endpoint = byId(forwarding.parts.endpoints, id);
  const subnet = byId(forwarding.parts.subnets, endpoint?.subnetId ?? '');
  if (endpoint === undefined || subnet === undefined) return undefined;
  return deviceHost('endpoint', `private endpoint ${endpoint.name}`, endpoint.address, subnet, [endpoint.id]);
}

function deviceHost(
  kind: Host['kind'],
  label: string,
  address: string,
  subnet: Subnet,
  attachable: readonly string[],
): Host {
  return {
    kind,
    label,
    address: expectGood(parseAddress(address)),
    networkId: subnet.networkId,
    zone: subnet.zone,
    subnet,
    isPublic: subnet.isPublic,
    attachable,
  };
}

/** A machine somewhere on the internet. */
export function internetHost(address: Address = SOMEWHERE, label = 'the internet'): Host {
  return { kind: 'internet', label, address, networkId: '', zone: '', isPublic: true, attachable: [] };
}

/** The address that stands for that of a machine with a public one while it is not decided. Source: RFC 5737 3. */
const SOME_OWN: Address = hostPrefix('192.0.2.97');

/**
 * The address by which the internet knows a machine with a private one: its own, or while that is not decided one that
 * stands for it. Undefined for what has no public address.
 */
export function publicStandIn({ kind, isPublic, address, publicAddress }: Host): Address | undefined {
  if (!isPublic || address.family === 6 || isPublicAddress(address)) return undefined;
  return kind === 'node' || kind === 'machine' || kind === 'bastion' ? (publicAddress ?? SOME_OWN) : undefined;
}

/**
 * Whether an address can be reached on the internet. Documentation space stands for public addresses, as it does in
 * examples (RFC 5737).
 */
export function isPublicAddress(address: Address): boolean {
  const block = specialBlockAround(prefixAround(address, address.family === 4 ? 32 : 128));
  return block === undefined || block.use === 'documentation';
}
