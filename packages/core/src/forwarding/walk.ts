import { containsAddress, formatAddress, formatPrefix } from '../address/index.js';
import type { Address } from '../address/index.js';
import { byId, prefixList, rangeOf, translated } from '../plan/index.js';
import type {
  Cluster,
  Connection,
  Encapsulation,
  Firewall,
  Link,
  Member,
  NatDevice,
  PortRange,
  RouteTable,
  Subnet,
} from '../plan/index.js';
import { layersOf } from '../podnetwork/index.js';
import { largestPacket } from '../wire/index.js';
import { sayNumber } from '../working/index.js';
import { translationsOf } from './crossings.js';
import type { Crossing } from './crossings.js';
import type { CompiledFilter, Forwarding } from './forwarding.js';
import {
  another,
  balancerHost,
  hostAt,
  internetHost,
  isPublicAddress,
  podHost,
  publicBalancerAt,
  SOMEWHERE,
} from './host.js';
import type { Host } from './host.js';
import { destinationPorts, TRANSLATED_PORTS } from './packet.js';
import type { Packet } from './packet.js';
import type { LookUp } from './routeRow.js';
import type { Failed, Failure, Lane, RuleDecision, Step, StepSubject } from './step.js';
import { outerService, tunnelLayers } from './tunnelWire.js';

/** Routers that one packet may pass: far more than any sensible plan has in a row. */
const MOST_HOPS = 32;

/** A service that a packet from another cluster is for: its gateway picks the pod. */
export interface Door {
  readonly address: Address;
  readonly port: number;
  readonly pod: Host;
  readonly podPort: number;
}

/** What the first packet of a flow left behind, by which its answers are known. */
export interface FlowState {
  /** Who asked, and whom: an address alone does not tell which node pool a machine is of. */
  readonly origin: Host;
  readonly target: Host | undefined;
  /** Whether what is asked for stands outside the asking cluster, whatever its own ranges say. */
  readonly isOutside: boolean;
  /** Translations, by the device or node that made them: what the source was, and what it became. */
  readonly translations: Map<string, { readonly before: Address; readonly after: Address; readonly ports: PortRange }>;
  /** The service that is asked in another cluster: its address and port there, and the pod that answers. */
  readonly door?: Door | undefined;
  /** Filters and firewalls that keep state and let the flow pass: "id direction". */
  readonly seen: Set<string>;
  /** Stateful firewalls on the way there, in their order. */
  readonly firewalls: Set<string>;
}

/** Where a walk ended. */
export type Walked =
  | {
      readonly ok: true;
      readonly host: Host;
      readonly packet: Packet;
      readonly steps: readonly Step[];
      readonly room: number;
      readonly firewalls: ReadonlySet<string>;
    }
  | {
      readonly ok: false;
      readonly failed: Failed;
      readonly steps: readonly Step[];
      readonly room: number;
      readonly firewalls: ReadonlySet<string>;
    };

/** The state of a flow that has not begun. */
export function newFlow(origin: Host, target: Host | undefined, isOutside: boolean, door?: Door): FlowState {
  return { origin, target, isOutside, door, translations: new Map(), seen: new Set(), firewalls: new Set() };
}

/** Walks a packet from a host as far as it comes. An answer knows the flow that it belongs to. */
export function walk(forwarding: Forwarding, from: Host, packet: Packet, bytes: number, flow: FlowState): Walked {
  return new Walk(forwarding, packet, bytes, flow).from(from);
}

/** The way between two nodes of a cluster inside what wraps packets there: what filters say of it, and how much fits. */
export function nodeLeg(
  forwarding: Forwarding,
  cluster: Cluster,
  from: Host,
  to: Host,
  layers: readonly Encapsulation[],
): { readonly failed: Failed | undefined; readonly room: number; readonly steps: readonly Step[] } {
  const packet: Packet = {
    source: from.address,
    destination: to.address,
    protocol: 'tcp',
    port: 0,
    clientPorts: TRANSLATED_PORTS,
    isAnswer: false,
  };
  return new Walk(forwarding, packet, 0, newFlow(from, to, false)).leg(from, to, cluster, layers);
}

class Walk {
  private readonly steps: Step[] = [];
  private readonly firewalls = new Set<string>();
  private wraps: readonly Encapsulation[] = [];
  private tunnelOf: string | undefined;
  private room = Number.POSITIVE_INFINITY;

  constructor(
    private readonly forwarding: Forwarding,
    private packet: Packet,
    private readonly bytes: number,
    private readonly flow: FlowState,
  ) {}

  from(host: Host): Walked {
    this.step({ kind: laneOf(host), name: host.label }, 'sent', `${host.label} sends ${this.sayPacket()}.`);
    if (host.kind === 'internet') return this.fromInternet();
    // A public load balancer answers its clients on the internet at its public address, as they asked it.
    if (host.kind === 'balancer' && host.isPublic && this.packet.isAnswer)
      return this.filtered('out', host, host.label) ?? this.fromInternet();
    const guarded =
      host.kind === 'pod' && !this.packet.isAnswer ? this.guarded('egress', host, this.flow.target) : undefined;
    if (guarded !== undefined) return guarded;
    const network = byId(this.forwarding.parts.networks, host.networkId);
    const tooBig = this.squeeze(
      network?.mtu ?? 0,
      { kind: 'networks', id: host.networkId },
      `network ${network?.name ?? ''}`,
    );
    if (tooBig !== undefined) return tooBig;
    const node = host.kind === 'pod' ? host.node : host;
    if (node === undefined || host.cluster === undefined) return this.leave(host);
    return this.inCluster(host, node, host.cluster);
  }

  /** What a cluster's own node does before a packet leaves it: services, its own pods, translation of overlay pods. */
  private inCluster(host: Host, node: Host, cluster: Cluster): Walked {
    const { destination } = this.packet;
    const own = this.forwarding
      .rangesOf(cluster.id)
      .find(
        ({ purpose, prefix }) =>
          (purpose === 'service' || (purpose === 'pod' && cluster.podMode === 'overlay')) &&
          containsAddress(rangeOf({ prefix }), destination),
      );
    if (own !== undefined && !this.packet.isAnswer && this.flow.isOutside)
      return this.fail(
        { code: 'shadowed', clusterId: cluster.id, allocationId: own.id },
        `${formatAddress(destination)} lies in the ${own.purpose} range ${own.prefix} of ${cluster.name} itself, so its nodes never send it out.`,
      );
    if (own?.purpose === 'service')
      return this.fail(
        { code: 'service-address', networkId: host.networkId },
        `${formatAddress(destination)} lies in the service range ${own.prefix} of ${cluster.name}: its nodes take it for a service and never send it out.`,
      );
    if (own !== undefined) return this.toOwnPod(node, cluster);
    if (host.kind === 'pod') {
      const crossings = this.forwarding.crossingsTo(cluster.id, destination);
      if (crossings.length > 0) return this.across(node, cluster, crossings);
      const wrapped = this.wrapped(cluster, destination);
      if (wrapped !== undefined) return this.overNodes(node, cluster, wrapped);
      this.translatePod(host, node, cluster);
    }
    const refused = this.filtered('out', node, node.label);
    return refused ?? this.leave(node);
  }

  /**
   * The host of the cluster that a packet of its encrypted pod network goes to, when its nodes wrap the packet though
   * pods are not in an overlay.
   */
  private wrapped(cluster: Cluster, destination: Address): Host | undefined {
    if (layersOf(cluster, cluster.podMode).length === 0 || cluster.podMode === 'overlay') return undefined;
    const target = hostAt(this.forwarding, cluster.networkId, destination);
    return target?.cluster?.id === cluster.id && target.kind === 'pod' ? target : undefined;
  }

  private toOwnPod(node: Host, cluster: Cluster): Walked {
    const { origin } = this.flow;
    // The answer goes back to the pod that asked, and to its node; or to the node itself at its address in the overlay.
    const isBack = this.packet.isAnswer && !this.flow.translations.has(`node ${cluster.id}`);
    if (isBack && origin.kind === 'pod' && origin.cluster?.id === cluster.id)
      return this.overNodes(node, cluster, origin);
    if (isBack && origin.kind === 'node' && origin.cluster?.id === cluster.id)
      return this.betweenNodes(node, origin, cluster, layersOf(cluster, cluster.podMode)) ?? this.arrive(origin);
    const { family } = this.packet.destination;
    const target = podHost(this.forwarding, { clusterId: cluster.id, nodePoolId: null, zone: '' }, family, 'other');
    if (!target.ok) return this.fail({ code: 'nobody', networkId: node.networkId }, target.problem.message);
    return this.overNodes(node, cluster, { ...another(target.value), address: this.packet.destination });
  }

  /** From node to node of one cluster to the pod there. */
  private overNodes(node: Host, cluster: Cluster, pod: Host): Walked {
    return this.betweenNodes(node, pod.node ?? node, cluster, layersOf(cluster, cluster.podMode)) ?? this.arrive(pod);
  }

  /** A way between two nodes by itself. */
  leg(node: Host, other: Host, cluster: Cluster, layers: readonly Encapsulation[]) {
    const network = byId(this.forwarding.parts.networks, cluster.networkId);
    this.room = network?.mtu ?? 0;
    const stopped = this.betweenNodes(node, other, cluster, layers);
    return { failed: stopped?.ok === false ? stopped.failed : undefined, room: this.room, steps: this.steps };
  }

  /** From node to node of one cluster inside what wraps packets between them: filters see the outer packet. */
  private betweenNodes(
    node: Host,
    other: Host,
    cluster: Cluster,
    layers: readonly Encapsulation[],
  ): Walked | undefined {
    const inner = this.packet;
    const network = byId(this.forwarding.parts.networks, cluster.networkId);
    this.wraps = layers;
    this.tunnelOf = cluster.id;
    const room = largestPacket(network?.mtu ?? 0, layers, node.address.family).value;
    const service = outerService(layers[0] ?? 'none');
    this.packet = {
      source: node.address,
      destination: other.address,
      ...service,
      clientPorts: TRANSLATED_PORTS,
      isAnswer: false,
    };
    this.room = Math.min(this.room, room);
    if (layers.length > 0)
      this.step(
        { kind: 'node', name: node.label },
        'wrapped',
        `${node.label} wraps it in ${layers.join(' in ')} to the node ${formatAddress(other.address)}: ${sayNumber(room)} bytes fit inside.`,
        { subject: { kind: 'clusters', id: cluster.id } },
      );
    if (this.bytes > room) {
      const tooBig = this.fail(
        { code: 'too-big', room, subject: { kind: 'networks', id: cluster.networkId } },
        `Inside ${layers.join(' and ')} on network ${network?.name ?? ''} ${sayNumber(room)} bytes fit, and the packet has ${sayNumber(this.bytes)}.`,
      );
      return tooBig;
    }
    // Tunnels keep no state of their own: each direction is a packet to the tunnel's port.
    const refused = this.filtered('out', node, node.label, false) ?? this.filtered('in', other, other.label, false);
    if (refused !== undefined) return refused;
    this.packet = inner;
    this.wraps = [];
    this.tunnelOf = undefined;
    if (layers.length > 0)
      this.step({ kind: 'node', name: other.label }, 'unwrapped', `${other.label} takes the outer headers off.`);
    return undefined;
  }

  /** To another cluster by the tunnels of a connection: over the gateways there, and the translated ranges on the way. */
  private across(node: Host, cluster: Cluster, crossings: readonly Crossing[]): Walked {
    const [way, second] = crossings;
    if (way === undefined) return this.leave(node);
    const { connection, from, to, stops, isHubMissing } = way;
    const nameOf = (member: Member) => this.forwarding.crossings.nameOf(member);
    const { destination } = this.packet;
    const subject: StepSubject = { kind: 'connections', id: connection.id };
    const lane: Lane = { kind: 'node', name: node.label };
    if (second !== undefined)
      return this.fail(
        { code: 'ambiguous', networkId: node.networkId },
        `${nameOf(to)} and ${nameOf(second.to)} both advertise ${formatAddress(destination)} in ${connection.name}: the destination is ambiguous.`,
        lane,
      );
    if (isHubMissing)
      return this.fail(
        { code: 'no-gateway', connectionId: connection.id, memberId: from.id },
        `${connection.name} has the shape hub, and no member of it is the hub.`,
        lane,
      );
    const first = this.forwarding.carrying(from);
    if (!first.ok)
      return this.fail(
        { code: 'no-gateway', connectionId: connection.id, memberId: from.id },
        first.problem.message,
        lane,
      );
    const stopped = this.betweenNodes(node, first.value.host, cluster, gatewayLayers(cluster));
    if (stopped !== undefined) return stopped;
    this.asShown(from, first.value.host);
    for (const [at, member] of stops.slice(0, -1).entries()) {
      const failed = this.throughTunnel(connection, member, stops[at + 1] as Member, subject);
      if (failed !== undefined) return failed;
    }
    const last = this.forwarding.carrying(to);
    if (!last.ok)
      return this.fail({ code: 'no-gateway', connectionId: connection.id, memberId: to.id }, last.problem.message);
    return this.intoMember(to, last.value.host);
  }

  /** What leaves a member shows its translated source; the answer of a service comes from the address that was asked. */
  private asShown(member: Member, gateway: Host): void {
    const lane: Lane = { kind: 'node', name: gateway.label };
    const { door } = this.flow;
    const isServed =
      this.packet.isAnswer &&
      door?.pod.cluster?.id === member.clusterId &&
      isSame(door.pod.address, this.packet.source);
    if (isServed) {
      const before = this.packet;
      this.packet = { ...before, source: door.address, port: door.port };
      this.step(
        lane,
        'translated',
        `${gateway.label} gives the answer the service’s address ${formatAddress(door.address)} back.`,
        { before },
      );
    }
    const before = this.packet;
    const source = translated(before.source, translationsOf(member), 'out');
    if (isSame(source, before.source)) return;
    this.packet = { ...before, source };
    this.step(
      lane,
      'translated',
      [
        `${gateway.label} shows ${formatAddress(before.source)} as ${formatAddress(source)},`,
        `as ${this.forwarding.crossings.nameOf(member)} is seen by the others.`,
      ].join(' '),
      { before, subject: { kind: 'members', id: member.id } },
    );
  }

  /** From gateway to gateway: the outer packets go their own way through networks, filters and devices. */
  private throughTunnel(connection: Connection, from: Member, to: Member, subject: StepSubject): Walked | undefined {
    const tunnel = this.forwarding.tunnelBetween(connection, from, to);
    if (!tunnel.ok)
      return this.fail({ code: 'no-gateway', connectionId: connection.id, memberId: from.id }, tunnel.problem.message);
    const { isUp, say, failed, inner, forth, back } = tunnel.value;
    const isForth = tunnel.value.from.member === from;
    const [here, there] = isForth ? [tunnel.value.from, tunnel.value.to] : [tunnel.value.to, tunnel.value.from];
    const layers = tunnelLayers(connection);
    const outer = (isForth ? forth : back).map((step): Step => ({
      ...step,
      wraps: [...step.wraps, ...layers],
      room: Math.min(this.room, inner),
    }));
    if (!isUp) {
      const told = failed?.isBack === isForth ? [] : outer;
      this.steps.push(...told.filter(({ event }) => event !== 'dropped' && event !== 'refused'));
      return this.fail(
        failed?.failure ?? { code: 'no-gateway', connectionId: connection.id, memberId: from.id },
        `The tunnel of ${connection.name} does not come up: ${say}`,
        { kind: 'node', name: here.host.label },
        undefined,
        undefined,
        failed?.packet,
      );
    }
    this.room = Math.min(this.room, inner);
    this.wraps = layers;
    this.step(
      { kind: 'node', name: here.host.label },
      'wrapped',
      `${here.host.label} wraps it in ${layers.join()} to ${there.host.label}: ${sayNumber(inner)} bytes fit inside.`,
      { subject },
    );
    if (this.bytes > inner)
      return this.fail(
        { code: 'too-big', room: inner, subject },
        `Inside ${layers.join()} of ${connection.name} ${sayNumber(inner)} bytes fit, and the packet has ${sayNumber(this.bytes)}.`,
      );
    this.steps.push(...outer.slice(1, -1));
    this.wraps = [];
    this.step(
      { kind: 'node', name: there.host.label },
      'unwrapped',
      `${there.host.label} takes the outer headers off.`,
    );
    return undefined;
  }

  /** From a member’s gateway to the pod that the packet is for: by its address, or chosen by the service that was asked. */
  private intoMember(member: Member, gateway: Host): Walked {
    const cluster = byId(this.forwarding.parts.clusters, member.clusterId) as Cluster;
    const lane: Lane = { kind: 'node', name: gateway.label };
    const came = this.packet;
    const destination = translated(came.destination, translationsOf(member), 'in');
    if (!isSame(destination, came.destination)) {
      this.packet = { ...came, destination };
      this.step(
        lane,
        'translated',
        `${gateway.label} knows ${formatAddress(came.destination)} as ${formatAddress(destination)} of ${cluster.name}.`,
        { before: came, subject: { kind: 'members', id: member.id } },
      );
    }
    const { door, target, origin } = this.flow;
    const isAsked = !this.packet.isAnswer && door?.pod.cluster?.id === cluster.id && isSame(door.address, destination);
    if (isAsked) {
      const before = this.packet;
      this.packet = { ...before, destination: door.pod.address, port: door.podPort };
      this.step(
        lane,
        'chosen',
        `${gateway.label} picks a pod of the service: ${formatAddress(door.pod.address)}, port ${door.podPort}.`,
        { before },
      );
    }
    const inService = this.forwarding
      .rangesOf(cluster.id)
      .find(
        ({ purpose, prefix }) => purpose === 'service' && containsAddress(rangeOf({ prefix }), this.packet.destination),
      );
    if (inService !== undefined)
      return this.fail(
        { code: 'service-address', networkId: cluster.networkId },
        `${formatAddress(this.packet.destination)} lies in the service range ${inService.prefix} of ${cluster.name}, and the question names no service there.`,
        lane,
      );
    const party = this.packet.isAnswer ? origin : (target ?? door?.pod);
    const isParty =
      party?.kind === 'pod' && party.cluster?.id === cluster.id && isSame(party.address, this.packet.destination);
    const other = isParty
      ? undefined
      : podHost(
          this.forwarding,
          { clusterId: cluster.id, nodePoolId: null, zone: '' },
          this.packet.destination.family,
          'other',
        );
    if (other?.ok === false)
      return this.fail({ code: 'nobody', networkId: cluster.networkId }, other.problem.message, lane);
    const pod = isParty ? party : { ...(other?.value as Host), address: this.packet.destination };
    const stopped = this.betweenNodes(gateway, pod.node ?? gateway, cluster, gatewayLayers(cluster));
    return stopped ?? this.arrive(pod);
  }

  /** Overlay pods leave with their node's address, unless the cluster keeps their own for the destination (handbook: forwarding). */
  private translatePod(pod: Host, node: Host, cluster: Cluster): void {
    if (cluster.podMode !== 'overlay') return;
    if (prefixList(cluster.untranslated).some((prefix) => containsAddress(prefix, this.packet.destination))) return;
    // The node that a flow came to knows it; its answers get back what they had.
    if (this.packet.isAnswer) return;
    this.translate(
      { kind: 'node', name: node.label },
      `node ${cluster.id}`,
      pod.address,
      node.address,
      `${node.label} translates the source to its own address (SNAT): overlay pod addresses are not routable.`,
    );
  }

  private translate(
    lane: Lane,
    key: string,
    before: Address,
    after: Address,
    say: string,
    subject?: StepSubject,
  ): void {
    const came = this.packet;
    this.flow.translations.set(key, { before, after, ports: came.clientPorts });
    this.packet = { ...came, source: after, clientPorts: TRANSLATED_PORTS };
    this.step(lane, 'translated', say, { before: came, ...(subject === undefined ? {} : { subject }) });
  }

  /** Leaves a host's subnet by its table. */
  private leave(host: Host): Walked {
    const refused = this.throughSubnet('out', host.subnet, host.networkId);
    if (refused !== undefined) return refused;
    const table = this.forwarding.tableOf({
      routeTableId: host.subnet?.routeTableId ?? null,
      networkId: host.networkId,
      zone: host.subnet?.zone ?? host.zone,
    });
    return this.route(host.networkId, table, host, host.zone);
  }

  /** Follows tables from network to network until somebody takes the packet. */
  private route(startId: string, startTable: RouteTable | undefined, sender: Host | undefined, zone: string): Walked {
    const been = new Set<string>();
    let networkId = startId;
    let table = startTable;
    let from = sender;
    for (let hops = 0; hops < MOST_HOPS; hops++) {
      const { destination, source } = this.packet;
      const key = `${networkId} ${table?.id ?? ''} ${formatAddress(destination)} ${formatAddress(source)}`;
      if (been.has(key))
        return this.fail({ code: 'loop', networkId }, `The routes lead back to ${this.nameOf(networkId)}: a loop.`);
      been.add(key);
      const found = this.forwarding.lookUp(networkId, table, destination);
      const { row, tie } = found;
      const lane: Lane = { kind: 'network', name: this.nameOf(networkId) };
      if (row === undefined) {
        const of = table === undefined ? 'no route table' : `the route table ${table.name}`;
        return this.fail(
          { code: 'no-route', networkId, tableId: table?.id, zone },
          `Network ${lane.name}, ${of}: no route to ${formatAddress(destination)}.`,
          lane,
          { networkId, tableId: table?.id, found },
        );
      }
      const lookUp = { networkId, tableId: table?.id, found };
      if (tie !== undefined)
        return this.fail(
          { code: 'ambiguous', networkId },
          `Network ${lane.name} has two routes to ${formatPrefix(row.prefix)} that are as good: ${row.from}, and ${tie.from}.`,
          lane,
          lookUp,
        );
      this.step(
        lane,
        'routed',
        `Network ${lane.name}${table === undefined ? '' : `, table ${table.name}`}: ${formatPrefix(row.prefix)}, ${row.from}.`,
        { lookUp, subject: row.subject },
      );
      const { hop } = row;
      switch (hop.kind) {
        case 'local':
        case 'pods':
          return this.deliver(networkId, from);
        case 'drop':
          return this.fail(
            { code: 'route-drops', networkId, routeId: row.subject.id, zone },
            `The static route ${formatPrefix(row.prefix)} of ${table?.name ?? ''} drops it.`,
            lane,
          );
        case 'gone':
          return this.fail(
            { code: 'hop-gone', networkId, routeId: row.subject.id, zone },
            `The static route ${formatPrefix(row.prefix)} of ${table?.name ?? ''} leads to ${hop.what}.`,
            lane,
          );
        case 'internet':
          return this.toInternet(networkId, from);
        case 'link': {
          const next = hop.toNetworkId ?? this.forwarding.takerOn(hop.link, networkId, destination);
          if (next === undefined)
            return this.fail(
              { code: 'no-taker', networkId, linkId: hop.link.id },
              `Nobody on ${hop.link.name} advertises a route to ${formatAddress(destination)}.`,
              { kind: 'link', name: hop.link.name },
            );
          const tooBig = this.cross(hop.link, next);
          if (tooBig !== undefined) return tooBig;
          networkId = next;
          table = this.forwarding.mainTable(next);
          from = undefined;
          break;
        }
        case 'nat': {
          const device = byId(this.forwarding.parts.natDevices, hop.id) as NatDevice;
          const subnet = byId(this.forwarding.parts.subnets, device.subnetId) as Subnet;
          const refused =
            this.throughSubnet('in', subnet, networkId) ??
            this.throughNat(device) ??
            this.throughSubnet('out', subnet, networkId);
          if (refused !== undefined) return refused;
          table = this.forwarding.tableOf(subnet);
          from = undefined;
          break;
        }
        case 'firewall': {
          const firewall = byId(this.forwarding.parts.firewalls, hop.id) as Firewall;
          const subnet = byId(this.forwarding.parts.subnets, firewall.subnetId) as Subnet;
          const refused = this.throughFirewall(firewall, networkId, this.forwarding.tableOf(subnet));
          if (refused !== undefined) return refused;
          table = this.forwarding.tableOf(subnet);
          from = undefined;
          break;
        }
      }
    }
    return this.fail({ code: 'loop', networkId }, `The packet passes more than ${MOST_HOPS} routers.`);
  }

  private cross(link: Link, toId: string): Walked | undefined {
    const layers = link.encapsulation === 'none' ? [] : [link.encapsulation];
    const room = largestPacket(link.mtu, layers, 4).value;
    const subject: StepSubject = { kind: 'links', id: link.id };
    const tooBig = this.squeeze(room, subject, link.name);
    if (tooBig !== undefined) return tooBig;
    const inside = layers.length === 0 ? '' : ` inside ${layers.join()}`;
    this.step(
      { kind: 'link', name: link.name },
      'crossed',
      `Crosses the ${link.kind === 'hub' ? 'transit hub' : link.kind} ${link.name}${inside} to ${this.nameOf(toId)} (MTU ${sayNumber(room)}).`,
      { subject },
    );
    const network = byId(this.forwarding.parts.networks, toId);
    return this.squeeze(network?.mtu ?? 0, { kind: 'networks', id: toId }, `network ${network?.name ?? ''}`);
  }

  private throughNat(device: NatDevice): Walked | undefined {
    const lane: Lane = { kind: 'NAT device', name: device.name };
    const subject: StepSubject = { kind: 'natDevices', id: device.id };
    const [first] = device.publicAddresses;
    const after = first === undefined ? SOMEWHERE : addressOf(first);
    const shown = first ?? 'its public address, which is not decided yet';
    if (this.packet.isAnswer)
      return this.fail(
        { code: 'no-state', deviceId: device.id, networkId: '' },
        `The NAT device ${device.name} has not seen the connection this answer belongs to, and drops it.`,
        lane,
      );
    if (isPublicAddress(this.packet.source)) return undefined;
    this.translate(
      lane,
      `nat ${device.id}`,
      this.packet.source,
      after,
      `${device.name} translates the source to ${shown}.`,
      subject,
    );
    return undefined;
  }

  private throughFirewall(firewall: Firewall, networkId: string, onward: RouteTable | undefined): Walked | undefined {
    const lane: Lane = { kind: 'firewall', name: firewall.name };
    const subject: StepSubject = { kind: 'firewalls', id: firewall.id };
    const isKnown = this.packet.isAnswer && this.flow.firewalls.has(firewall.id);
    if (this.packet.isAnswer && firewall.isStateful && !isKnown && this.packet.protocol === 'tcp')
      return this.fail(
        { code: 'no-state', deviceId: firewall.id, networkId },
        `The firewall ${firewall.name} has not seen the connection this answer belongs to, and drops it.`,
        lane,
      );
    if (isKnown && firewall.isStateful) {
      this.firewalls.add(firewall.id);
      const decisions: RuleDecision[] = [
        { list: subject, ruleId: undefined, why: 'state', port: this.packet.port, direction: undefined },
      ];
      this.step(lane, 'allowed', `${firewall.name} knows the connection and lets the answer pass.`, {
        decisions,
        subject,
      });
    } else {
      const decision = this.forwarding.rulesOf(firewall).decide(this.packet, firewall.defaultAction);
      const decisions: RuleDecision[] = [
        {
          list: subject,
          ruleId: decision.rule?.id,
          why: decision.rule === undefined ? 'default' : 'rule',
          port: decision.port,
          direction: undefined,
        },
      ];
      const by = decision.rule === undefined ? 'its default' : `rule ${decision.rule.position}`;
      if (decision.action === 'deny')
        return this.fail(
          { code: 'firewall', firewallId: firewall.id, ruleId: decision.rule?.id, port: decision.port },
          `The firewall ${firewall.name} refuses ${this.sayPacket(decision.port)}: ${by} denies it.`,
          lane,
          undefined,
          decisions,
        );
      this.step(lane, 'allowed', `${firewall.name} allows it by ${by}.`, { decisions, subject });
      if (firewall.isStateful) {
        this.firewalls.add(firewall.id);
        if (!this.packet.isAnswer) this.flow.firewalls.add(firewall.id);
      }
    }
    if (!firewall.translates || isPublicAddress(this.packet.source)) return undefined;
    const next = this.forwarding.lookUp(networkId, onward, this.packet.destination).row?.hop.kind;
    if (next !== 'internet') return undefined;
    const [first] = firewall.publicAddresses;
    const after = first === undefined ? SOMEWHERE : addressOf(first);
    this.translate(
      lane,
      `firewall ${firewall.id}`,
      this.packet.source,
      after,
      `${firewall.name} translates the source to ${first ?? 'its public address, which is not decided yet'}.`,
      subject,
    );
    return undefined;
  }

  private toInternet(networkId: string, sender: Host | undefined): Walked {
    const { source, destination } = this.packet;
    const lane: Lane = { kind: 'internet', name: 'the internet' };
    if (!isPublicAddress(destination))
      return this.fail(
        { code: 'private-destination', networkId },
        `${formatAddress(destination)} is not routed on the internet.`,
        lane,
      );
    if (!isPublicAddress(source)) {
      if (sender?.isPublic !== true)
        return this.fail(
          { code: 'private-source', networkId },
          `${formatAddress(source)} is a private address: on the internet no answer would find it. It needs translation or a public address of its own.`,
          lane,
        );
      this.translate(
        { kind: laneOf(sender), name: sender.label },
        'own',
        source,
        sender.publicAddress ?? SOMEWHERE,
        `${sender.label} has a public address of its own.`,
      );
    }
    return this.onInternet(destination);
  }

  /** To whoever has an address on the internet: a public load balancer of the plan, or somebody it knows nothing of. */
  private onInternet(destination: Address): Walked {
    // The answers of a gateway that was dialled there come back to who dialled, as everybody’s do.
    const translation = this.flow.origin.kind === 'internet' ? undefined : this.translatedTo(destination);
    if (translation !== undefined) return this.backInside(translation);
    const balancer = publicBalancerAt(this.forwarding, destination);
    const known = balancer === undefined ? undefined : balancerHost(this.forwarding, balancer);
    const { target } = this.flow;
    const host = target?.kind === 'balancer' && isSame(target.address, destination) ? target : known;
    const gateway = host === undefined ? this.publicGateway(destination) : undefined;
    if (gateway !== undefined) return this.filtered('in', gateway, gateway.label) ?? this.arrive(gateway);
    if (host === undefined) return this.arrive(internetHost(destination));
    return this.filtered('in', host, host.label) ?? this.arrive(host);
  }

  /** The gateway with a public address, as one of the two that the flow is between or by its number. */
  private publicGateway(destination: Address): Host | undefined {
    const { target } = this.flow;
    if (target?.publicAddress !== undefined && isSame(target.publicAddress, destination)) return target;
    const known = this.forwarding.crossings.gatewayAt(formatAddress(destination));
    const found = known === undefined ? undefined : this.forwarding.gatewayOf(known.member, known.index);
    return found?.ok === true ? found.value.host : undefined;
  }

  /** The device or machine that gave a flow the address to which its answers come on the internet. */
  private translatedTo(destination: Address): string | undefined {
    if (!this.packet.isAnswer) return undefined;
    return [...this.flow.translations].find(
      ([key, { after }]) => !key.startsWith('node ') && isSame(after, destination),
    )?.[0];
  }

  /** Packets from the internet reach what has a public address: an answer its translation, a first packet a public machine. */
  private fromInternet(): Walked {
    const { destination } = this.packet;
    const lane: Lane = { kind: 'internet', name: 'the internet' };
    const translation = this.translatedTo(destination);
    if (translation !== undefined) return this.backInside(translation);
    const text = formatAddress(destination);
    const owner = [...this.forwarding.parts.natDevices, ...this.forwarding.parts.firewalls].find(
      ({ publicAddresses }) => publicAddresses.includes(text),
    );
    if (owner !== undefined)
      return this.fail(
        { code: 'unsolicited', deviceId: owner.id, networkId: '' },
        `${text} is a public address of ${owner.name}, which only lets in answers to what was sent out.`,
        lane,
      );
    if (!isPublicAddress(destination))
      return this.fail(
        { code: 'private-destination', networkId: '' },
        `${text} is a private address: the internet does not route it.`,
        lane,
      );
    return this.onInternet(destination);
  }

  /** An answer at a public address: the device takes its translation back and sends it on by its own table. */
  private backInside(key: string): Walked {
    const [kind = '', id = ''] = key.split(' ');
    const known = this.flow.translations.get(key);
    const came = this.packet;
    const before = known?.before ?? came.destination;
    this.packet = { ...came, destination: before, clientPorts: known?.ports ?? came.clientPorts };
    if (kind === 'own') return this.ownPublic(before);
    const device = byId<NatDevice | Firewall>(
      kind === 'nat' ? this.forwarding.parts.natDevices : this.forwarding.parts.firewalls,
      id,
    );
    const subnet = byId(this.forwarding.parts.subnets, device?.subnetId ?? '');
    if (device === undefined || subnet === undefined)
      return this.fail({ code: 'nobody', networkId: '' }, 'The device is gone.');
    const lane: Lane = { kind: kind === 'nat' ? 'NAT device' : 'firewall', name: device.name };
    this.step(lane, 'translated', `${device.name} gives it back the address ${formatAddress(before)}.`, {
      before: came,
      subject: { kind: kind === 'nat' ? 'natDevices' : 'firewalls', id },
    });
    if (kind === 'firewall') {
      const refused = this.backThrough(device as Firewall, lane);
      if (refused !== undefined) return refused;
    }
    const refused = this.throughSubnet('out', subnet, subnet.networkId);
    return refused ?? this.route(subnet.networkId, this.forwarding.tableOf(subnet), undefined, subnet.zone);
  }

  /** A firewall that keeps no state holds the answer against its rules, though it has translated the question. */
  private backThrough(firewall: Firewall, lane: Lane): Walked | undefined {
    this.firewalls.add(firewall.id);
    if (firewall.isStateful) return undefined;
    const { action, rule, port } = this.forwarding.rulesOf(firewall).decide(this.packet, firewall.defaultAction);
    const decisions: RuleDecision[] = [
      {
        list: { kind: 'firewalls', id: firewall.id },
        ruleId: rule?.id,
        why: rule === undefined ? 'default' : 'rule',
        port,
        direction: undefined,
      },
    ];
    if (action === 'allow') {
      this.step(lane, 'allowed', `${firewall.name} is stateless; its rules allow the reply.`, { decisions });
      return undefined;
    }
    const by = rule === undefined ? 'its default' : `rule ${rule.position}`;
    return this.fail(
      { code: 'firewall', firewallId: firewall.id, ruleId: rule?.id, port },
      `The firewall ${firewall.name} is stateless and refuses ${this.sayPacket(port)}: ${by} denies it.`,
      lane,
      undefined,
      decisions,
    );
  }

  private ownPublic(address: Address): Walked {
    const { origin } = this.flow;
    const host = origin.kind === 'pod' ? (origin.node ?? origin) : origin;
    const came = { ...this.packet, destination: host.publicAddress ?? SOMEWHERE };
    this.step(
      { kind: laneOf(host), name: host.label },
      'translated',
      `Its public address stands for ${formatAddress(address)}.`,
      { before: came },
    );
    return this.deliver(host.networkId, undefined);
  }

  /** Into the subnet and the machine that an address of a network belongs to. */
  private deliver(networkId: string, sender: Host | undefined): Walked {
    const { destination } = this.packet;
    const host =
      this.partyAt(networkId) ?? hostAt(this.forwarding, networkId, destination) ?? this.unenteredHost(networkId);
    if (host === undefined)
      return this.fail(
        { code: 'nobody', networkId },
        `Network ${this.nameOf(networkId)} has nobody at ${formatAddress(destination)}: no subnet, node range or range in use holds it.`,
      );
    if (sender === undefined || sender.subnet?.id !== host.subnet?.id) {
      const refused = this.throughSubnet('in', host.subnet, networkId);
      if (refused !== undefined) return refused;
    }
    const node = host.kind === 'pod' ? (host.node ?? host) : host;
    const refused = this.filtered('in', node, node.label);
    if (refused !== undefined) return refused;
    const translation = host.cluster === undefined ? undefined : this.flow.translations.get(`node ${host.cluster.id}`);
    if (
      this.packet.isAnswer &&
      host.cluster !== undefined &&
      translation !== undefined &&
      isSame(translation.after, destination)
    ) {
      const came = this.packet;
      this.packet = { ...came, destination: translation.before, clientPorts: translation.ports };
      this.step(
        { kind: 'node', name: node.label },
        'translated',
        `${node.label} gives it back the pod’s address ${formatAddress(translation.before)}.`,
        { before: came },
      );
      return this.arrive({
        ...host,
        kind: 'pod',
        label: `pod of ${host.cluster.name}`,
        address: translation.before,
        node: host,
      });
    }
    return this.arrive(host);
  }

  /** The one that the flow is between, if the packet has come to its address. */
  private partyAt(networkId: string): Host | undefined {
    const party = this.packet.isAnswer ? this.flow.origin : this.flow.target;
    const isAt = (host: Host | undefined) =>
      host?.networkId === networkId && isSame(host.address, this.packet.destination);
    if (party === undefined || isAt(party)) return party;
    return isAt(party.node) ? party.node : undefined;
  }

  /** Somewhere in a network that advertises the address though nobody has entered it. */
  private unenteredHost(networkId: string): Host | undefined {
    const { row } = this.forwarding.lookUp(networkId, undefined, this.packet.destination);
    if (row?.subject.kind !== 'attachments' || row.hop.kind !== 'local') return undefined;
    return {
      kind: 'machine',
      label: `somewhere in ${this.nameOf(networkId)}`,
      address: this.packet.destination,
      networkId,
      zone: '',
      isPublic: false,
      attachable: [],
    };
  }

  private arrive(host: Host): Walked {
    const { target, origin } = this.flow;
    if (
      !this.packet.isAnswer &&
      host.kind === 'pod' &&
      target?.kind === 'pod' &&
      isSame(target.address, host.address)
    ) {
      const guarded = this.guarded('ingress', target, origin);
      if (guarded !== undefined) return guarded;
    }
    this.step(
      { kind: laneOf(host), name: host.label },
      'delivered',
      `It arrives at ${host.label}, ${formatAddress(this.packet.destination)}.`,
    );
    return { ok: true, host, packet: this.packet, steps: this.steps, room: this.room, firewalls: this.firewalls };
  }

  /** Holds a call against the network policies of the pod that makes or gets it; answers of what they allow pass. */
  private guarded(direction: 'ingress' | 'egress', pod: Host, other: Host | undefined): Walked | undefined {
    if (pod.guard === undefined) return undefined;
    const { source, destination, protocol, port } = this.packet;
    const address = direction === 'ingress' ? source : destination;
    // Pods of the same cluster are known by their labels while they are seen at their own address.
    const isPeer = other?.kind === 'pod' && other.cluster?.id === pod.cluster?.id && isSame(other.address, address);
    const said = pod.guard.judge(
      direction,
      { workload: isPeer ? other.guard?.workload : undefined, address },
      protocol,
      port,
    );
    const lane: Lane = { kind: 'pod', name: pod.label };
    if (!said.isAllowed) return this.fail({ code: 'policy', policyIds: said.policyIds, direction }, said.say, lane);
    const [id] = said.policyIds;
    if (id !== undefined) this.step(lane, 'allowed', said.say, { subject: { kind: 'networkPolicies', id } });
    return undefined;
  }

  private throughSubnet(direction: 'in' | 'out', subnet: Subnet | undefined, networkId: string): Walked | undefined {
    if (subnet === undefined || subnet.networkId !== networkId) return undefined;
    return this.held(
      direction,
      this.forwarding.filtersAt(subnet.id),
      { kind: 'subnet', name: subnet.name },
      `subnet ${subnet.id}`,
      true,
    );
  }

  private filtered(direction: 'in' | 'out', host: Host, name: string, hasState = true): Walked | undefined {
    const at = this.forwarding.filtersAt(...host.attachable);
    return this.held(
      direction,
      at,
      { kind: laneOf(host), name },
      `${host.label} ${host.attachable.join(' ')}`,
      hasState,
    );
  }

  /** Holds the packet against filters: any allow-only one must allow it, and every list in order. */
  private held(
    direction: 'in' | 'out',
    filters: readonly CompiledFilter[],
    lane: Lane,
    place: string,
    hasState: boolean,
  ): Walked | undefined {
    if (filters.length === 0) return undefined;
    const allowOnly = filters.filter(({ filter }) => filter.mode === 'allow-only');
    const decisions: RuleDecision[] = [];
    const said: string[] = [];
    if (allowOnly.length > 0) {
      const judged = allowOnly.map((each) => this.judge(direction, each, place, hasState));
      const allowed = judged.find(({ isAllowed }) => isAllowed);
      if (allowed === undefined) {
        const names = allowOnly.map(({ filter }) => filter.name).join(', ');
        return this.fail(
          {
            code: 'filter',
            filterIds: allowOnly.map(({ filter }) => filter.id),
            direction,
            ruleId: undefined,
            port: judged[0]?.decision.port ?? 0,
          },
          [
            `${allowOnly.length === 1 ? 'The filter' : 'The filters'} ${names} of ${lane.name}:`,
            `no rule allows ${this.sayPacket(judged[0]?.decision.port)} ${direction === 'in' ? 'in' : 'out'}.`,
          ].join(' '),
          lane,
          undefined,
          judged.map(({ decision }) => decision),
        );
      }
      // Every stateful one that allows the flow knows its answers.
      for (const { isAllowed, remember } of judged) if (isAllowed) remember();
      decisions.push(allowed.decision);
      said.push(allowed.say);
    }
    for (const each of filters) {
      if (each.filter.mode !== 'ordered') continue;
      const judged = this.judge(direction, each, place, hasState);
      decisions.push(judged.decision);
      if (!judged.isAllowed)
        return this.fail(
          {
            code: 'filter',
            filterIds: [each.filter.id],
            direction,
            ruleId: judged.decision.ruleId,
            port: judged.decision.port,
          },
          [
            `The filter ${each.filter.name} of ${lane.name} refuses ${this.sayPacket(judged.decision.port)} ${direction === 'in' ? 'in' : 'out'}:`,
            `${judged.by} denies it.`,
          ].join(' '),
          lane,
          undefined,
          decisions,
        );
      judged.remember();
      said.push(judged.say);
    }
    this.step(lane, 'allowed', `${said.join('; ')}.`, { decisions });
    return undefined;
  }

  private judge(direction: 'in' | 'out', { filter, ...lists }: CompiledFilter, place: string, hasState: boolean) {
    const list: StepSubject = { kind: 'filters', id: filter.id };
    const key = `${filter.id} ${place}`;
    if (
      this.packet.isAnswer &&
      hasState &&
      filter.isStateful &&
      this.flow.seen.has(`${key} ${direction === 'in' ? 'out' : 'in'}`)
    ) {
      const decision: RuleDecision = { list, ruleId: undefined, why: 'state', port: this.packet.port, direction };
      return {
        isAllowed: true,
        decision,
        by: 'state',
        say: `${filter.name} knows the connection`,
        remember: () => undefined,
      };
    }
    const fallback = direction === 'in' ? filter.defaultIn : filter.defaultOut;
    const { action, rule, port } = lists[direction].decide(this.packet, fallback);
    const decision: RuleDecision = {
      list,
      ruleId: rule?.id,
      why: rule === undefined ? 'default' : 'rule',
      port,
      direction,
    };
    const by = rule === undefined ? 'its default' : `rule ${rule.position}`;
    const remember = () => {
      if (filter.isStateful && hasState && !this.packet.isAnswer) this.flow.seen.add(`${key} ${direction}`);
    };
    return {
      isAllowed: action === 'allow',
      decision,
      by,
      say: `${filter.name} allows it ${direction} by ${by}`,
      remember,
    };
  }

  /** What passes a part of the way whole; a packet that does not fit ends there, since it must not be cut up. */
  private squeeze(room: number, subject: StepSubject, name: string): Walked | undefined {
    this.room = Math.min(this.room, room);
    if (this.bytes <= room) return undefined;
    return this.fail(
      { code: 'too-big', room, subject },
      `On ${name} ${sayNumber(room)} bytes fit, and the packet has ${sayNumber(this.bytes)}.`,
    );
  }

  private step(lane: Lane, event: Step['event'], say: string, more: Partial<Step> = {}): void {
    this.steps.push({ lane, event, say, packet: this.packet, wraps: this.wraps, room: this.room, ...more });
  }

  private fail(
    failure: Failure,
    say: string,
    lane: Lane = this.steps.at(-1)?.lane ?? { kind: 'network', name: '' },
    lookUp?: { readonly networkId: string; readonly tableId: string | undefined; readonly found: LookUp },
    decisions?: readonly RuleDecision[],
    packet: Packet = this.packet,
  ): Walked {
    const isRefusal = failure.code === 'filter' || failure.code === 'firewall' || failure.code === 'policy';
    this.step(lane, isRefusal ? 'refused' : 'dropped', say, {
      ...(lookUp === undefined ? {} : { lookUp }),
      ...(decisions === undefined ? {} : { decisions }),
    });
    return {
      ok: false,
      failed: { failure, say, packet, tunnelOf: this.tunnelOf },
      steps: this.steps,
      room: this.room,
      firewalls: this.firewalls,
    };
  }

  private nameOf(networkId: string): string {
    return byId(this.forwarding.parts.networks, networkId)?.name ?? '';
  }

  private sayPacket(port?: number): string {
    const { protocol, source, destination } = this.packet;
    const ports = destinationPorts(this.packet);
    const shown = port ?? ports.first;
    const service = protocol === 'tcp' || protocol === 'udp' ? `${protocol} ${shown}` : protocol;
    return `${service} from ${formatAddress(source)} to ${formatAddress(destination)}`;
  }
}

/**
 * What wraps packets between a node and a gateway of its cluster: what its pod network does, and VXLAN where that wraps
 * nothing, since networks know no ranges of other clusters.
 */
export function gatewayLayers(cluster: Cluster): readonly Encapsulation[] {
  const layers = layersOf(cluster, cluster.podMode);
  return layers.length > 0 ? layers : ['vxlan'];
}

function laneOf({ kind }: Host): Lane['kind'] {
  return kind;
}

function isSame(a: Address, b: Address): boolean {
  return a.family === b.family && a.w0 === b.w0 && a.w1 === b.w1 && a.w2 === b.w2 && a.w3 === b.w3;
}

function addressOf(text: string): Address {
  return prefixList([`${text}/${text.includes(':') ? 128 : 32}`])[0] as Address;
}
