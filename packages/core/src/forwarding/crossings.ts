import { formatPrefix, overlaps } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { byId, groupBy, rangeOf, shownAs, translated, translationsOf } from '../plan/index.js';
import type { Allocation, Connection, Member, Plan } from '../plan/index.js';
import { RowLookup } from './rowLookup.js';

/**
 * What is gone in a drill: gateways ("member id, index"), ways between two members (both ids in order), members as a
 * whole, zones ("site id, zone"), connections whose rendezvous tells nobody of a gateway that takes over, and NAT devices and
 * firewalls by their ids.
 */
export interface Faults {
  readonly gateways: ReadonlySet<string>;
  readonly pairs: ReadonlySet<string>;
  readonly members: ReadonlySet<string>;
  readonly zones: ReadonlySet<string>;
  readonly mute: ReadonlySet<string>;
  readonly devices: ReadonlySet<string>;
}

/** Nothing is gone. */
export const NO_FAULTS: Faults = {
  gateways: new Set(),
  pairs: new Set(),
  members: new Set(),
  zones: new Set(),
  mute: new Set(),
  devices: new Set(),
};

/** How a packet of a cluster crosses to another one: from member to member, by the hub where the shape has one. */
export interface Crossing {
  readonly connection: Connection;
  readonly from: Member;
  readonly to: Member;
  /** The members that it passes, both ends among them; of a hub that is missing, the two ends alone. */
  readonly stops: readonly Member[];
  readonly isHubMissing: boolean;
}

interface Shown {
  readonly prefix: Prefix;
  readonly member: Member;
}

interface Compiled {
  readonly connection: Connection;
  readonly members: readonly Member[];
  readonly byCluster: ReadonlyMap<string, Member>;
  readonly hub: Member | undefined;
  /** What its members show of pods and services; compiled when a packet first may cross. */
  shown?: { readonly rows: readonly Shown[]; readonly lookup: RowLookup };
}

type Parts = Pick<Plan, 'connections' | 'members' | 'clusters'>;
type RangesOf = (clusterId: string) => readonly Allocation[];

const none: readonly never[] = [];

/** The pod and service ranges of a member as the others see them: translated where a translation is for them. */
export function shownRanges(member: Member, ranges: readonly Allocation[]): Prefix[] {
  const translations = translationsOf(member);
  return ranges
    .filter(({ purpose }) => purpose === 'pod' || purpose === 'service')
    .flatMap((range) => {
      const own = rangeOf(range);
      const around = shownAs(own, translations);
      if (around !== undefined) return [around];
      const inside = translations.filter((each) => overlaps(each.own, own));
      return [own, ...inside.map(({ shown }) => shown)];
    });
}

/** Both ids of two members in one order. */
export function pairKey(one: Member, other: Member): string {
  return one.id < other.id ? `${one.id} ${other.id}` : `${other.id} ${one.id}`;
}

/** Connections as packets and names meet them: those that stand, their members, and what these show of their ranges. */
export class Crossings {
  private readonly compiled: readonly Compiled[];
  private readonly ofCluster: ReadonlyMap<string, readonly { readonly of: Compiled; readonly member: Member }[]>;
  private publicGateways: ReadonlyMap<string, { readonly member: Member; readonly index: number }> | undefined;

  constructor(
    readonly parts: Parts,
    private readonly rangesOf: RangesOf,
  ) {
    const members = groupBy(parts.members, ({ connectionId }) => connectionId);
    this.compiled = parts.connections
      .filter(({ isPlanned }) => !isPlanned)
      .map((connection) => {
        const own = members.get(connection.id) ?? none;
        // Of two of one cluster, which the rules of the plan refuse, the first is meant.
        const byCluster = new Map([...own].reverse().map((member) => [member.clusterId, member]));
        return { connection, members: own, byCluster, hub: own.find(({ isHub }) => isHub) };
      });
    const all = this.compiled.flatMap((of) => of.members.map((member) => ({ of, member })));
    this.ofCluster = groupBy(all, ({ member }) => member.clusterId);
  }

  /** The connections that stand and that a cluster is a member of. */
  of(
    clusterId: string,
  ): readonly { readonly connection: Connection; readonly member: Member; readonly members: readonly Member[] }[] {
    return (this.ofCluster.get(clusterId) ?? none).map(({ of, member }) => ({
      connection: of.connection,
      member,
      members: of.members,
    }));
  }

  /** Whether packets of a cluster may cross at all. */
  hasTunnels(clusterId: string): boolean {
    return (this.ofCluster.get(clusterId) ?? none).some(({ of }) => of.connection.method === 'tunnels');
  }

  /** How packets of a cluster to an address cross by tunnels, connection by connection; several of one where its members show one address twice. */
  to(clusterId: string, address: Address): readonly (readonly Crossing[])[] {
    return (this.ofCluster.get(clusterId) ?? none).flatMap(({ of, member }) => {
      if (of.connection.method !== 'tunnels') return [];
      const { rows, lookup } = (of.shown ??= this.shownBy(of));
      const found = lookup
        .all(address)
        .map((at) => rows[at] as Shown)
        .filter((row) => row.member.id !== member.id);
      const longest = found[0]?.prefix.length;
      const best = found.filter(({ prefix }) => prefix.length === longest);
      return best.length === 0 ? [] : [best.map((row) => crossing(of, member, row.member))];
    });
  }

  /** Everything that members of a connection that stands show and that shares addresses with some prefixes. */
  shownAround(
    connectionId: string,
    prefixes: readonly Prefix[],
  ): readonly { readonly member: Member; readonly prefix: Prefix }[] {
    const of = this.compiled.find(({ connection }) => connection.id === connectionId);
    if (of === undefined) return none;
    const { rows, lookup } = (of.shown ??= this.shownBy(of));
    const around = prefixes.flatMap((prefix) => [...lookup.all(prefix), ...lookup.inside(prefix)]);
    return [...new Set(around)].map((at) => rows[at] as Shown);
  }

  /** How two clusters cross to one another by a connection; undefined where they are not both in it. */
  between(fromId: string, toId: string, connectionId: string): Crossing | undefined {
    const own = (this.ofCluster.get(fromId) ?? none).find(({ of }) => of.connection.id === connectionId);
    const other = own?.of.byCluster.get(toId);
    return own === undefined || other === undefined || other === own.member
      ? undefined
      : crossing(own.of, own.member, other);
  }

  /** How two clusters cross to one another, by each connection that both are in. */
  allBetween(fromId: string, toId: string): Crossing[] {
    return (this.ofCluster.get(fromId) ?? none).flatMap(({ of, member }) => {
      const other = of.byCluster.get(toId);
      return other === undefined || other === member ? [] : [crossing(of, member, other)];
    });
  }

  /** An address of a cluster as the other members of a connection see it: translated where its owner translates it. */
  shownIn(connectionId: string, ownerId: string, address: Address): Address {
    const member = this.compiled.find(({ connection }) => connection.id === connectionId)?.byCluster.get(ownerId);
    return member === undefined ? address : translated(address, translationsOf(member), 'out');
  }

  /** The gateway with a public address. */
  gatewayAt(address: string): { readonly member: Member; readonly index: number } | undefined {
    this.publicGateways ??= new Map(
      this.compiled.flatMap(({ members }) =>
        members.flatMap((member) => member.gatewayAddresses.map((each, index) => [each, { member, index }] as const)),
      ),
    );
    return this.publicGateways.get(address);
  }

  /** The name of the cluster of a member. */
  nameOf({ clusterId }: Member): string {
    return byId(this.parts.clusters, clusterId)?.name ?? '';
  }

  private shownBy({ members }: Compiled) {
    const seen = new Set<string>();
    const rows = members.flatMap((member) =>
      shownRanges(member, this.rangesOf(member.clusterId)).flatMap((prefix) => {
        const key = `${member.id} ${formatPrefix(prefix)}`;
        if (seen.has(key)) return [];
        seen.add(key);
        return [{ prefix, member }];
      }),
    );
    return { rows, lookup: new RowLookup(rows.map(({ prefix }) => prefix)) };
  }
}

function crossing({ connection, hub }: Compiled, from: Member, to: Member): Crossing {
  const isByHub = connection.shape === 'hub' && !from.isHub && !to.isHub;
  const stops = isByHub && hub !== undefined ? [from, hub, to] : [from, to];
  return { connection, from, to, stops, isHubMissing: isByHub && hub === undefined };
}
