import { addressFurther, formatAddress, parseAddress } from '../address/index.js';
import type { Address, Family } from '../address/index.js';
import { byId, prefixList, rangeOf, addressSpan } from '../plan/index.js';
import type { Cluster, Endpoint, Need, Place, Protocol, Service, Target, hostPrefix } from '../plan/index.js';
import { expectGood } from '../result.js';
import { found, lacking } from '../road/index.js';
import type { Found } from '../road/index.js';
import type { ForwardingState } from './forwardingState.js';
import {
  another,
  bastionHost,
  endpointHost,
  hostAt,
  internetAddresses,
  internetHost,
  isPublicAddress,
  isThere,
  neighbourHost,
  nodeHost,
  podHost,
  PUBLIC_API,
} from './host.js';
import type { HostPart } from './host.js';
import type { Host } from './machine.js';
import { partsOfPrefix, portsApart } from './needParts.js';
import type { ExportedService } from './stations/trip.js';
import { portRanges } from './ruleList.js';

/** One thing that a target comes to: an address with protocol and port, and the machine there where the plan knows it. */
export interface ResolvedTarget {
  readonly address: Address;
  readonly protocol: Protocol;
  readonly port: number;
  readonly host: Host | undefined;
  /** Whether it stands outside the asking cluster, whatever that one’s ranges say. */
  readonly isOutside: boolean;
  /** What it is called. */
  readonly label: string;
  /** The service of another cluster whose address it is; its gateway picks the pod. */
  readonly service?: ExportedService | undefined;
}

/** Flows that one need comes to, at most: parts of its prefixes that rules and routes tell apart, times ports. */
const MAX_AIMS = 512;

/** The family a place can speak; undefined when either will do. */
export function familyOf(forwarding: ForwardingState, place: Place | Target): Family | undefined {
  if (place.kind === 'address') return parsed(place.address).family;
  if (place.kind === 'range')
    return rangeOf(byId(forwarding.parts.inUse, place.inUseId) ?? { prefix: '0.0.0.0/0' }).family;
  if (place.kind !== 'pod' && place.kind !== 'node') return undefined;
  return byId(forwarding.parts.clusters, place.clusterId)?.family === 'ipv6' ? 6 : undefined;
}

/** Every machine that a place may be: in each zone where none is said. */
export function hostsOfPlace(forwarding: ForwardingState, place: Place, family: Family): Found<readonly Host[]> {
  if (place.kind === 'range') return machinesOfRange(forwarding, place.inUseId);
  const parts = partsOf(forwarding, place, family);
  if (parts === undefined) {
    const host = hostOfPlace(forwarding, place, family);
    return host.ok ? found([host.value]) : host;
  }
  const hosts: Host[] = [];
  for (const part of parts) {
    const host = hostOfPlace(forwarding, part, family);
    if (!host.ok) return host;
    hosts.push(host.value);
  }
  return found(hosts);
}

/** A machine in each part of a range in use that rules and routes tell apart. */
function machinesOfRange(forwarding: ForwardingState, inUseId: string): Found<readonly Host[]> {
  const range = byId(forwarding.parts.inUse, inUseId);
  if (range === undefined) return gone('range in use');
  const { networkId, owner } = range;
  if (networkId === null) return lacking({ code: 'host.nowhere', inUseId });
  const space = forwarding.space(networkId);
  const addresses = partsOfPrefix(forwarding, rangeOf(range))
    .map(firstHost)
    .filter((address) => space.holderOf(address)?.subject.id === inUseId);
  if (addresses.length > MAX_AIMS)
    return lacking({ code: 'range.parts', inUseId, count: addresses.length, max: MAX_AIMS });
  const all = addresses.length === 0 ? [addressFurther(rangeOf(range), 1)] : addresses;
  return found(all.map((address) => machine(forwarding, address, networkId, owner)));
}

/** A pod or node in each node subnet of its cluster, where a place names no zone and there are several; undefined for others. */
function partsOf(
  forwarding: ForwardingState,
  place: Place | Target,
  family: Family,
): readonly (HostPart & { readonly kind: 'pod' | 'node' })[] | undefined {
  if ((place.kind !== 'pod' && place.kind !== 'node') || place.zone !== '') return undefined;
  const { parts } = forwarding;
  const pool = byId(parts.nodePools, place.nodePoolId ?? '');
  const siteId = byId(parts.clusters, place.clusterId)?.siteId ?? '';
  const all = forwarding
    .rangesOf(place.clusterId)
    .filter(
      ({ purpose, prefix, zone }) =>
        purpose === 'node' &&
        rangeOf({ prefix }).family === family &&
        (pool === undefined || pool.zones.length === 0 || zone === '' || pool.zones.includes(zone)),
    );
  const ranges = all.filter(({ zone }) => isThere(forwarding, siteId, zone));
  return all.length < 2 || ranges.length === 0 ? undefined : ranges.map(({ zone, turn }) => ({ ...place, zone, turn }));
}

/** The machine that a place is. */
export function hostOfPlace(forwarding: ForwardingState, place: Place, family: Family): Found<Host> {
  switch (place.kind) {
    case 'pod':
      return podHost(forwarding, place, family);
    case 'node':
      return nodeHost(forwarding, place, family);
    case 'internet':
      return found(internetHost((family === 4 ? forwarding.internet : internetAddresses(forwarding, 6))[0]));
    case 'bastion': {
      const host = bastionHost(forwarding, place.bastionId);
      return host === undefined ? gone('bastion') : found(host);
    }
    case 'range': {
      const machines = machinesOfRange(forwarding, place.inUseId);
      return machines.ok ? found(machines.value[0] as Host) : machines;
    }
    case 'address':
      return atAddress(forwarding, place.networkId, parsed(place.address));
  }
}

/** Whoever has an address of a network: a node, pod or device by what is known of it. */
function atAddress(forwarding: ForwardingState, networkId: string, address: Address): Found<Host> {
  const label = `${formatAddress(address)} in ${byId(forwarding.parts.networks, networkId)?.name ?? ''}`;
  const known = hostAt(forwarding, networkId, address);
  if (known !== undefined) return found({ ...known, label });
  const { row } = forwarding.routes.lookUp(networkId, undefined, address);
  const isThere = row?.hop.kind === 'local' || row?.hop.kind === 'pods';
  if (!isThere) return lacking({ code: 'host.not-held', networkId, address });
  return found(machine(forwarding, address, networkId, label, forwarding.space(networkId).subnetOf(address)?.isPublic));
}

/** What a target comes to for a host that asks, or why it comes to nothing. */
export function aimsOf(forwarding: ForwardingState, target: Target, from: Host): Found<readonly ResolvedTarget[]> {
  const { parts } = forwarding;
  const { family } = from.address;
  switch (target.kind) {
    case 'need': {
      const need = byId(parts.needs, target.needId);
      return need === undefined ? gone('need') : aimsOfNeed(forwarding, need, from);
    }
    case 'api': {
      const cluster = byId(parts.clusters, target.clusterId);
      return cluster === undefined ? gone('cluster') : apiOf(forwarding, cluster, from);
    }
    case 'address': {
      const { protocol, port } = target.service;
      return found([
        { address: parsed(target.address), protocol, port, host: undefined, isOutside: false, label: target.address },
      ]);
    }
    case 'internet':
      return found(
        (family === 4 ? forwarding.internet : internetAddresses(forwarding, 6)).map((address) => ({
          address,
          ...target.service,
          host: undefined,
          isOutside: true,
          label: 'the internet',
        })),
      );
    default:
      return machinesMeant(forwarding, target, from);
  }
}

/** The machines of a cluster, range or bastion that are asked for. */
function machinesMeant(
  forwarding: ForwardingState,
  target: Exclude<Target, { readonly kind: 'need' | 'api' | 'address' | 'internet' }>,
  from: Host,
): Found<readonly ResolvedTarget[]> {
  const { family } = from.address;
  const isOwn = from.cluster !== undefined && 'clusterId' in target && target.clusterId === from.cluster.id;
  if (target.kind === 'range') {
    const machines = machinesOfRange(forwarding, target.inUseId);
    if (!machines.ok) return machines;
    return found(machines.value.map((host) => aimAt(forwarding, from, host, target.service, true)));
  }
  if (target.kind === 'pod' && target.isSameNode === true) {
    const host = neighbourHost(forwarding, from, target);
    return host.ok ? found([aimAt(forwarding, from, host.value, target.service, false)]) : host;
  }
  const aims: ResolvedTarget[] = [];
  for (const part of partsOf(forwarding, target, family) ?? [target]) {
    const which = isOwn ? 'other' : 'first';
    const host =
      part.kind === 'pod'
        ? podHost(forwarding, part, family, which)
        : part.kind === 'node'
          ? nodeHost(forwarding, part, family, which)
          : hostOfPlace(forwarding, part, family);
    if (!host.ok) return host;
    const asked = isOwn ? another(host.value) : host.value;
    aims.push(aimAt(forwarding, from, asked, target.service, !isOwn));
  }
  return found(aims);
}

function aimAt(
  forwarding: ForwardingState,
  from: Host,
  host: Host,
  service: Service,
  isOutside: boolean,
): ResolvedTarget {
  return { address: forwarding.tunnels.addressFor(from, host), ...service, host, isOutside, label: host.label };
}

function aimsOfNeed(forwarding: ForwardingState, need: Need, from: Host): Found<readonly ResolvedTarget[]> {
  if (need.access === 'private endpoint') {
    const endpoints = need.endpointIds.flatMap((id) => byId(forwarding.parts.endpoints, id) ?? []);
    const networkOf = ({ subnetId }: Endpoint) => byId(forwarding.parts.subnets, subnetId)?.networkId;
    const nearest = endpoints.find((each) => networkOf(each) === from.networkId) ?? endpoints[0];
    const host = nearest === undefined ? undefined : endpointHost(forwarding, nearest.id);
    if (host === undefined) return lacking({ code: 'need.no-endpoint', needId: need.id });
    return found(
      servicesOf(forwarding, need).map((service) => ({
        address: host.address,
        ...service,
        host,
        isOutside: true,
        label: need.name,
      })),
    );
  }
  const { family } = from.address;
  const known = needAims.get(forwarding) ?? new Map<string, Found<readonly ResolvedTarget[]>>();
  needAims.set(forwarding, known);
  const key = `${need.id} ${family}`;
  const made = known.get(key) ?? aimsIn(forwarding, need, family);
  known.set(key, made);
  return made;
}

/** Whoever asks, a need outside the plan comes to the same: worked out once for each state. */
const needAims = new WeakMap<ForwardingState, Map<string, Found<readonly ResolvedTarget[]>>>();

function servicesOf(forwarding: ForwardingState, { ports: ranges, protocol }: Need): Service[] {
  const ports = portRanges(ranges).flatMap((range) => portsApart(forwarding, range));
  return (ports.length === 0 ? [0] : ports).map((port) => ({ protocol, port }));
}

function aimsIn(forwarding: ForwardingState, need: Need, family: Family): Found<readonly ResolvedTarget[]> {
  const prefixes = prefixList(need.prefixes).filter((prefix) => prefix.family === family);
  if (prefixes.length === 0) return lacking({ code: 'need.family', needId: need.id, family });
  const addresses = prefixes.flatMap((prefix) => partsOfPrefix(forwarding, prefix).map(firstHost));
  const services = servicesOf(forwarding, need);
  const count = addresses.length * services.length;
  if (count > MAX_AIMS) return lacking({ code: 'need.parts', needId: need.id, count, max: MAX_AIMS });
  return found(
    addresses.flatMap((address) =>
      services.map((service) => ({ address, ...service, host: undefined, isOutside: true, label: need.name })),
    ),
  );
}

/** The API of a cluster: its private endpoint, the virtual address of a self-run control plane, an address in its node subnet, or a public one. */
function apiOf(forwarding: ForwardingState, cluster: Cluster, from: Host): Found<readonly ResolvedTarget[]> {
  const { parts } = forwarding;
  const service = { protocol: 'tcp' as const, port: apiPort(cluster) };
  const label = `API of ${cluster.name}`;
  const endpoints = parts.endpoints.filter(({ clusterId }) => clusterId === cluster.id);
  const networkOf = ({ subnetId }: Endpoint) => byId(parts.subnets, subnetId)?.networkId;
  const isPrivate = cluster.controlPlane === 'self-run' || cluster.apiEndpoint !== 'public';
  const endpoint = endpoints.find((each) => networkOf(each) === from.networkId) ?? endpoints[0];
  if (isPrivate && endpoint !== undefined) {
    const host = endpointHost(forwarding, endpoint.id);
    if (host !== undefined) return found([{ address: host.address, ...service, host, isOutside: true, label }]);
  }
  if (cluster.controlPlane === 'self-run') {
    const reservation = parts.reservations.find(
      ({ clusterId, count }) => clusterId === cluster.id && count > cluster.controlNodes,
    );
    const node = nodeHost(forwarding, { clusterId: cluster.id, nodePoolId: null, zone: '' }, from.address.family);
    if (!node.ok) return node;
    const address =
      reservation === undefined
        ? node.value.address
        : addressFurther(addressSpan(reservation).first, cluster.controlNodes);
    return found([{ address, ...service, host: { ...node.value, label, address }, isOutside: true, label }]);
  }
  if (!isPrivate) return found([{ address: PUBLIC_API, ...service, host: undefined, isOutside: true, label }]);
  const node = nodeHost(
    forwarding,
    { clusterId: cluster.id, nodePoolId: null, zone: '' },
    from.address.family,
    'other',
  );
  if (!node.ok) return node;
  // The provider runs it beside the nodes: their filters do not hold it.
  const host: Host = {
    kind: 'endpoint',
    label,
    address: node.value.address,
    networkId: node.value.networkId,
    zone: node.value.zone,
    ...(node.value.subnet === undefined ? {} : { subnet: node.value.subnet }),
    isPublic: false,
    attachable: [],
  };
  return found([{ address: host.address, ...service, host, isOutside: true, label }]);
}

/** What every node answers on. From memory of the Kubernetes documentation on ports and protocols. */
export const KUBELET_PORT = 10_250;

/** A port that stands for whatever pods answer on. Common practice. */
export const POD_PORT = 8080;

/** The port of a cluster's API. Source: common practice; 6443 is the default of the Kubernetes API server (from memory). */
export function apiPort({ apiPort: decided, controlPlane }: Pick<Cluster, 'apiPort' | 'controlPlane'>): number {
  return decided ?? (controlPlane === 'self-run' ? 6443 : 443);
}

function machine(
  forwarding: ForwardingState,
  address: Address,
  networkId: string,
  label: string,
  isPublic = false,
): Host {
  const subnet = forwarding.space(networkId).subnetOf(address);
  return {
    kind: 'machine',
    label,
    address,
    networkId,
    zone: subnet?.zone ?? '',
    ...(subnet === undefined ? {} : { subnet }),
    isPublic: isPublic || isPublicAddress(address),
    attachable: [],
  };
}

function firstHost(prefix: ReturnType<typeof hostPrefix>): Address {
  const bits = prefix.family === 4 ? 32 : 128;
  return bits - prefix.length < 2 ? prefix : addressFurther(prefix, 1);
}

function parsed(text: string): Address {
  return expectGood(parseAddress(text));
}

function gone(what: 'cluster' | 'bastion' | 'range in use' | 'need') {
  return lacking({ code: 'host.gone', what });
}
