import { containsAddress } from '../address/index.js';
import type { Address, Family } from '../address/index.js';
import { byId, rangeOf } from '../plan/index.js';
import type { Connection, Member } from '../plan/index.js';
import { found, lacking } from '../road/index.js';
import type { Found } from '../road/index.js';
import { pairKey } from './crossings.js';
import type { Crossing } from './crossings.js';
import type { ForwardingState, Gateway, Tunnel, Tunnels } from './forwardingState.js';
import type { Host } from './machine.js';
import { carrying, gatewayOf, makeTunnel } from './tunnels.js';

const none: readonly never[] = [];

/** Tunnels between members, each made when it is first asked for, and kept while it rests on nothing that changed. */
export class TunnelBook implements Tunnels {
  private readonly made: Map<string, Tunnel>;
  /** The gateways that carry, by member and family. */
  private readonly carriers = new Map<Member, Map<Family | undefined, Found<Gateway>>>();

  /** `changed` names everything of which an edit met something; undefined where it may have met anything. */
  constructor(
    private readonly forwarding: ForwardingState,
    before?: TunnelBook,
    changed?: ReadonlySet<string>,
  ) {
    this.made =
      before === undefined || changed === undefined
        ? new Map<string, Tunnel>()
        : changed.size === 0
          ? before.made
          : kept(before.made, changed);
  }

  /** Tunnels that rest on nothing that these ids name, and that come up, are as they were before: made for the others alone. */
  take(before: TunnelBook, gone: ReadonlySet<string>): void {
    for (const [key, tunnel] of before.made)
      if (tunnel.isUp && !this.made.has(key) && !dependsOn(tunnel, gone)) this.made.set(key, tunnel);
  }

  /** How a pod’s packets to an address outside its own cluster cross to another one by tunnels; none where its network forwards them. */
  crossingsTo(clusterId: string, destination: Address): readonly Crossing[] {
    const { crossings, rangesOf } = this.forwarding;
    if (!crossings.hasTunnels(clusterId)) return none;
    if (rangesOf(clusterId).some((range) => containsAddress(rangeOf(range), destination))) return none;
    const groups = crossings.to(clusterId, destination);
    // Of several connections the first one carries whose tunnels are up: the others stand by.
    return groups.length < 2
      ? (groups[0] ?? none)
      : (groups.find((group) => group.every((each) => this.isUp(each))) ?? groups[0] ?? none);
  }

  /** The address by which one machine asks another one: pods see pods of clusters that tunnels join as they are shown. */
  addressFor(from: Host, asked: Host): Address {
    const isAcross =
      from.kind === 'pod' && asked.kind === 'pod' && from.cluster !== undefined && asked.cluster !== undefined;
    if (!isAcross) return asked.address;
    const { crossings } = this.forwarding;
    const all = crossings
      .allBetween(from.cluster.id, asked.cluster.id)
      .filter(({ connection }) => connection.method === 'tunnels');
    const carrying = all.length < 2 ? all[0] : (all.find((each) => this.isUp(each)) ?? all[0]);
    return carrying === undefined
      ? asked.address
      : crossings.shownIn(carrying.connection.id, asked.cluster.id, asked.address);
  }

  /** Whether every tunnel of a crossing is up. */
  private isUp({ connection, stops, isHubMissing }: Crossing): boolean {
    if (isHubMissing) return false;
    return stops.slice(0, -1).every((member, at) => {
      const tunnel = this.between(connection, member, stops[at + 1] as Member);
      return tunnel.ok && tunnel.value.isUp;
    });
  }

  /** A gateway or relay of a member by its number, from 0. */
  gatewayOf(member: Member, index: number, family?: Family): Found<Gateway> {
    return gatewayOf(this.forwarding, member, index, family);
  }

  /** The gateway of a member that carries. */
  carrying(member: Member, family?: Family): Found<Gateway> {
    const known = this.carriers.get(member) ?? new Map<Family | undefined, Found<Gateway>>();
    this.carriers.set(member, known);
    const last = known.get(family);
    if (last !== undefined) return last;
    const made = carrying(this.forwarding, member, family);
    known.set(family, made);
    return made;
  }

  /** The gateways that carry between two members; why they do not. */
  ends(one: Member, other: Member): Found<readonly [Gateway, Gateway]> {
    if (this.forwarding.faults.pairs.size > 0 && this.forwarding.faults.pairs.has(pairKey(one, other)))
      return lacking({ code: 'tunnel.cut', clusterIds: [one.clusterId, other.clusterId] });
    const family = this.familyOfTunnel(one, other);
    const [a, b] = [this.carrying(one, family), this.carrying(other, family)];
    if (!a.ok) return a;
    return b.ok ? found([a.value, b.value]) : b;
  }

  /** The tunnel or link between the gateways of two members that carry; why there is none. */
  between(connection: Connection, one: Member, other: Member): Found<Tunnel> {
    const ends = this.ends(one, other);
    if (!ends.ok) return ends;
    const [a, b] = ends.value;
    const key =
      one.id < other.id ? `${one.id} ${a.index} ${other.id} ${b.index}` : `${other.id} ${b.index} ${one.id} ${a.index}`;
    const known = this.made.get(key);
    if (known !== undefined) this.forwarding.lists.note(known.dependsOn);
    if (known !== undefined) return found(known);
    const made = makeTunnel(this.forwarding, connection, a, b);
    this.made.set(key, made);
    return found(made);
  }

  /** The family that the gateways of two members share, IPv4 before IPv6; undefined where they share none. */
  private familyOfTunnel(one: Member, other: Member): Family | undefined {
    const familyOf = ({ clusterId }: Member) => byId(this.forwarding.parts.clusters, clusterId)?.family ?? 'ipv4';
    const [a, b] = [familyOf(one), familyOf(other)];
    if (a !== 'ipv6' && b !== 'ipv6') return 4;
    return a !== 'ipv4' && b !== 'ipv4' ? 6 : undefined;
  }
}

function dependsOn(tunnel: Tunnel, ids: ReadonlySet<string>): boolean {
  for (const id of ids) if (tunnel.dependsOn.has(id)) return true;
  return false;
}

/** Tunnels that rest on nothing that changed. */
function kept(tunnels: ReadonlyMap<string, Tunnel>, changed: ReadonlySet<string>): Map<string, Tunnel> {
  const held = new Map<string, Tunnel>();
  for (const [key, tunnel] of tunnels) if (!dependsOn(tunnel, changed)) held.set(key, tunnel);
  return held;
}
