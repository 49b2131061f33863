import { formatAddress, formatPrefix, overlaps, prefixAround } from '../address/index.js';
import type { Address, Family, Prefix } from '../address/index.js';
import {
  changedIds,
  gatewayLayers,
  nodeLeg,
  pairKey,
  podHost,
  POD_PORT,
  shownRanges,
  traceFlow,
  idsOn,
  tunnelLayers,
} from '../forwarding/index.js';
import type { FlowTrace, Forwarding, Host, Tunnel } from '../forwarding/index.js';
import { answering, byId, changedBetween, grouped, podsFor, rangeOf, selectedBy, USUAL_BYTES } from '../plan/index.js';
import { PolicySet } from '../ingress/index.js';
import type { Cluster, ClusterService, Connection, Member, Plan, Workload } from '../plan/index.js';
import { greatCircle, pointOf, rounded, roundTripMs } from './distance.js';
import { verdictOf, verdictOfLack } from '../road/index.js';
import type { Verdict } from '../road/index.js';
import {
  formatBlocked,
  formatFailed,
  formatFault,
  formatLack,
  formatPair,
  formatPolicy,
  formatTooNarrow,
  formatTunnelFault,
} from '../english/index.js';
import { MIN_IPV6 } from '../wire/index.js';

/** What joins are read from, beside what forwarding reads. */
export type ConnectionParts = Pick<
  Plan,
  'connections' | 'members' | 'clusters' | 'sites' | 'workloads' | 'networkPolicies'
>;

/** How the pods of one member come to those of another one, and back. */
export interface Pair {
  readonly connection: Connection;
  readonly from: Member;
  readonly to: Member;
  readonly verdict: Verdict;
  /** Why it does not pass, in a sentence; empty when it does. */
  readonly description: string;
  /** Largest packet that passes whole; 0 where nothing passes. */
  readonly room: number;
  /** Milliseconds of a round trip that light takes at least; undefined where a site has no coordinates. */
  readonly floorMs: number | undefined;
  readonly km: number | undefined;
  /** Ids of what the way rests on. */
  readonly dependsOn: ReadonlySet<string>;
  /** The packets that failed, for those who look for what mends it. */
  readonly failing: Failing | undefined;
}

/** A flow as far as it came. */
export type Failing = Pick<FlowTrace, 'forth' | 'back' | 'failed'>;

/** Pairs by the id of the member that is asked, and those that ask. */
export type PairSet = ReadonlyMap<string, ReadonlySet<string>>;

/** What one member does by itself: the way between a node and the gateway that carries. */
interface Leg {
  readonly failing?: Failing | undefined;
  readonly node: Host | undefined;
  readonly verdict: Verdict;
  readonly description: string;
  readonly room: number;
  readonly dependsOn: ReadonlySet<string>;
}

/** What is asked for at the other end: its pods, any address of its services, or one of them. */
type PairTarget = 'pods' | 'service' | Address;

function formatAsked(asked: PairTarget): string {
  return typeof asked === 'string' ? asked : formatAddress(asked);
}

interface Hidden {
  readonly verdict: Verdict;
  readonly description: string;
}

type Inside = Pick<Leg, 'verdict' | 'description' | 'room' | 'dependsOn' | 'failing'>;

const nothing: ReadonlySet<string> = new Set();
let made = 0;

/** Connections whose members show other ranges than before, or are others: who is meant by an address may have changed for all of them. */
function reshown(before: ConnectionParts, after: ConnectionParts): string[] {
  const { gone, come } = changedBetween(before.members, after.members);
  const said = ({ connectionId, clusterId, translated, isHub }: Member) =>
    `${connectionId} ${clusterId} ${isHub} ${translated.join()}`;
  const was = new Set(gone.map(said));
  const is = new Set(come.map(said));
  return [...gone, ...come]
    .filter((each) => !was.has(said(each)) || !is.has(said(each)))
    .map(({ connectionId }) => connectionId);
}

/**
 * The ways between members of connections, put together from what each does by itself and the tunnels between gateways, so that n members
 * take n ways and n(n − 1) ÷ 2 tunnels, and not n² walks. Whether a way works, and how large a packet passes, is what a walk of the packet
 * comes to; where several things stand in the way, a walk may meet another one of them first.
 */
export class ConnectionState {
  private readonly legs = new Map<string, Leg>();
  private readonly policySets = new Map<string, PolicySet>();
  private readonly shown = new Map<string, readonly Prefix[]>();
  private readonly own = new Map<string, readonly { readonly purpose: string; readonly prefix: Prefix }[]>();
  private readonly rivals = new Map<string, readonly { readonly member: Member; readonly prefix: Prefix }[]>();
  private readonly insides = new Map<string, Inside>();
  private readonly pairs = new Map<string, Pair>();
  private readonly hiding = new Map<string, Hidden | null>();
  private readonly serial = ++made;
  /** The pairs that differ from another state, by its serial. */
  private readonly since: { readonly serial: number; readonly changed: PairSet } | undefined;

  constructor(
    readonly parts: ConnectionParts,
    readonly forwarding: Forwarding,
    before?: ConnectionState,
  ) {
    const ids = before === undefined ? undefined : changedIds(before.forwarding, forwarding);
    if (before === undefined || ids === undefined) return;
    const changed = new Set([...ids, ...reshown(before.parts, parts)]);
    this.since = { serial: before.serial, changed: this.take(before, changed, true) };
  }

  /** The pairs that differ from the state that this one was made from; undefined for any other state, and where all may differ. */
  changedSince(before: ConnectionState): PairSet | undefined {
    return this.since?.serial === before.serial ? this.since.changed : undefined;
  }

  /** The members of a connection. */
  membersOf(connectionId: string): readonly Member[] {
    return grouped(this.parts.members, 'connectionId').get(connectionId) ?? [];
  }

  clusterOf({ clusterId }: Member): Cluster {
    // A member goes with its cluster.
    return byId(this.parts.clusters, clusterId) as Cluster;
  }

  /**
   * The way from one member to the pods of another one, or through tunnels to the address of a service there: to any of
   * its range while it is not pinned.
   */
  pair(connection: Connection, from: Member, to: Member, asked: PairTarget = 'pods'): Pair {
    const meant = connection.method === 'tunnels' ? asked : 'pods';
    const key = `${from.id} ${to.id} ${formatAsked(meant)}`;
    const pair = this.pairs.get(key) ?? this.make(connection, from, to, meant);
    this.pairs.set(key, pair);
    // What was put together before may not be asked for again.
    this.forwarding.lists.note(pair.dependsOn);
    return pair;
  }

  /**
   * Takes over the pairs of another state that rest on nothing that these ids name; of those that do not pass only
   * while nothing but these changed. Gives the others: by the id of who is asked, those who ask.
   */
  take(before: ConnectionState, changed: ReadonlySet<string>, takesFailing: boolean): PairSet {
    const others = new Map<string, Set<string>>();
    const ids = [...changed];
    for (const [key, pair] of before.pairs) {
      const holds = (takesFailing || pair.verdict === 'pass') && !ids.some((id) => pair.dependsOn.has(id));
      if (holds) {
        this.pairs.set(key, pair);
        continue;
      }
      const known = others.get(pair.to.id);
      if (known === undefined) others.set(pair.to.id, new Set([pair.from.id]));
      else known.add(pair.from.id);
    }
    return others;
  }

  private make(connection: Connection, from: Member, to: Member, asked: PairTarget): Pair {
    const [a, b] = [this.clusterOf(from), this.clusterOf(to)];
    const common = { connection, from, to, ...this.distanceBy(connection, from, to) };
    const end: End = (verdict, description, room, dependsOn, failing) => ({
      ...common,
      verdict,
      description,
      room,
      failing,
      dependsOn: new Set([...dependsOn, from.id, to.id, connection.id]),
    });
    const families = this.sharedFamilies(a, b);
    const [family, second] = families;
    if (family === undefined) {
      const only = ({ name, family: own }: Cluster) => ({ cluster: name, family: own === 'ipv6' ? 6 : 4 }) as const;
      return end('broken', formatPair({ code: 'families', one: only(a), other: only(b) }), 0, nothing);
    }
    if (connection.method === 'relays') return this.byRelays(connection, from, to, end);
    const by = (each: Family) =>
      connection.method === 'tunnels'
        ? this.byTunnels(connection, from, to, each, asked, end)
        : this.flat(a, b, each, end);
    const first = by(family);
    // Where both speak both, one family that does not pass is told, too.
    const isBoth = second !== undefined && typeof asked === 'string' && first.verdict === 'pass';
    const other = isBoth ? by(second) : first;
    return other.verdict === 'pass'
      ? {
          ...first,
          room: Math.min(first.room, other.room),
          dependsOn: new Set([...first.dependsOn, ...other.dependsOn]),
        }
      : other;
  }

  /** The families that two clusters share, IPv4 first; of dual ones IPv6 only where both have pods of it. */
  private sharedFamilies(a: Cluster, b: Cluster): Family[] {
    const speaks = (cluster: Cluster, family: Family) =>
      cluster.family === 'dual' || (cluster.family === 'ipv6') === (family === 6);
    const hasPods = ({ id }: Cluster, family: Family) =>
      this.forwarding.rangesOf(id).some((range) => range.purpose === 'pod' && rangeOf(range).family === family);
    const shared = ([4, 6] as const).filter((family) => speaks(a, family) && speaks(b, family));
    return shared.filter((family) => shared.length === 1 || family === 4 || (hasPods(a, family) && hasPods(b, family)));
  }

  /** Why a service answers nobody, whoever asks: no pods, or none that listens; undefined where some port is answered. */
  faultOf(service: ClusterService): string | undefined {
    const own = this.workloadsIn(service.clusterId);
    const name = `${service.namespace}/${service.name}`;
    if (service.endpoints.length > 0) return undefined;
    const selected = selectedBy(service, own);
    if (selected.every((workload) => podsFor(service, workload) === 0))
      return selected.every(({ replicasNow }) => replicasNow === 0)
        ? formatPair({ code: 'service.no-pod', service: name })
        : formatPair({ code: 'service.none-ready', service: name });
    const servicePorts = answering(service, own);
    const isDeaf =
      servicePorts.length > 0 && servicePorts.every(({ members }) => members.every(({ port }) => port === undefined));
    return isDeaf
      ? formatPair({ code: 'service.deaf', service: name, ports: servicePorts.map(({ port }) => port.target) })
      : undefined;
  }

  private workloadsIn(clusterId: string): readonly Workload[] {
    return grouped(this.parts.workloads, 'clusterId').get(clusterId) ?? [];
  }

  /**
   * Why network policies refuse the calls of a pair at every pod of a service; undefined where some pod takes them.
   * Which workload asks is not said, so what holds it at its own side is not judged.
   */
  refusedBy({ connection, from, to }: Pair, service: ClusterService): string | undefined {
    const cluster = this.clusterOf(to);
    const servicePorts = answering(service, this.workloadsIn(cluster.id));
    const policies = grouped(this.parts.networkPolicies, 'clusterId').get(cluster.id);
    if (policies === undefined) return undefined;
    const set = this.policySets.get(cluster.id) ?? new PolicySet(cluster, policies);
    this.policySets.set(cluster.id, set);
    const family: Family = cluster.family === 'ipv6' ? 6 : 4;
    // Behind a relay the callers are a pod of its own cluster.
    const asking = podOf(this.forwarding, connection.method === 'relays' ? cluster : this.clusterOf(from), family);
    if (!asking.ok) return undefined;
    const address =
      connection.method === 'relays'
        ? asking.value.address
        : this.forwarding.crossings.shownIn(connection.id, from.clusterId, asking.value.address);
    const said = servicePorts.flatMap(({ port: { protocol }, members }) =>
      members.flatMap(({ workload, port }) =>
        port === undefined ? [] : [set.judge('ingress', workload, { workload: undefined, address }, protocol, port)],
      ),
    );
    return said.length > 0 && said.every(({ isAllowed }) => !isAllowed)
      ? formatPair({ code: 'policies', why: said[0] === undefined ? '' : formatPolicy(said[0]) })
      : undefined;
  }

  /** The distance that packets of a connection take: over the hub where they pass it. */
  private distanceBy(connection: Connection, from: Member, to: Member): Pick<Pair, 'km' | 'floorMs'> {
    const crossing = this.forwarding.crossings.between(from.clusterId, to.clusterId, connection.id);
    const stops = crossing?.stops ?? [from, to];
    const legs = stops.slice(1).map((stop, at) => this.distance(stops[at] as Member, stop));
    const sum = (values: readonly (number | undefined)[]) =>
      values.reduce<number | undefined>(
        (all, each) => (all === undefined || each === undefined ? undefined : all + each),
        0,
      );
    const floorMs = sum(legs.map((leg) => leg.floorMs));
    return { km: sum(legs.map(({ km }) => km)), floorMs: floorMs === undefined ? undefined : rounded(floorMs) };
  }

  /** Kilometres between two members along the great circle, and the round trip that light takes at least. */
  distance(from: Member, to: Member): Pick<Pair, 'km' | 'floorMs'> {
    const [here, there] = [from, to].map((member) => pointOf(byId(this.parts.sites, this.clusterOf(member).siteId)));
    const km = here === undefined || there === undefined ? undefined : greatCircle(here, there);
    return { km, floorMs: km === undefined ? undefined : rounded(roundTripMs(km)) };
  }

  /** By a walk: flat members are few, since every range of theirs is distinct. */
  private flat(a: Cluster, b: Cluster, family: Family, end: End): Pair {
    const [from, to] = [podOf(this.forwarding, a, family), podOf(this.forwarding, b, family)];
    if (!from.ok) return end(verdictOfLack(from.lack), formatLack(this.forwarding.parts, from.lack), 0, nothing);
    if (!to.ok) return end(verdictOfLack(to.lack), formatLack(this.forwarding.parts, to.lack), 0, nothing);
    const flow = walked(this.forwarding, from.value, to.value, true);
    return end(
      flow.verdict,
      formatFault(this.forwarding.parts, flow),
      flow.verdict === 'pass' ? flow.room : 0,
      idsOn([flow]),
      flow,
    );
  }

  private byTunnels(
    connection: Connection,
    from: Member,
    to: Member,
    family: Family,
    asked: PairTarget,
    end: End,
  ): Pair {
    const [one, other] = [this.leg(from, family), this.leg(to, family)];
    if (one.node === undefined || other.node === undefined)
      return end('unknown', one.node === undefined ? one.description : other.description, 0, nothing);
    const hidden = this.hidden(from, to, family, asked);
    if (hidden !== undefined) return end(hidden.verdict, hidden.description, 0, nothing);
    const dependsOn = new Set([...one.dependsOn, ...other.dependsOn]);
    if (one.verdict !== 'pass') return end(one.verdict, one.description, 0, dependsOn, one.failing);
    const tunnels = this.tunnels(connection, from, to, dependsOn);
    if (!Array.isArray(tunnels)) return end(tunnels.verdict, tunnels.description, 0, dependsOn, tunnels.failing);
    if (other.verdict !== 'pass') return end(other.verdict, other.description, 0, dependsOn, other.failing);
    const back = this.hidden(to, from, family, 'pods');
    if (back !== undefined)
      return end('broken', formatPair({ code: 'answers-lost', why: back.description }), 0, dependsOn);
    const inner = Math.min(...tunnels.map((tunnel) => tunnel.inner));
    if (family === 6 && inner < MIN_IPV6) {
      const narrow = { is: 'tunnel', connectionId: connection.id, layers: tunnelLayers(connection) } as const;
      return end('broken', formatTooNarrow(this.forwarding.parts, { room: inner, in: narrow }), 0, dependsOn);
    }
    return end('pass', '', Math.min(one.room, other.room, inner), dependsOn);
  }

  /** A relay passes on calls, not packets: each side asks its own relay, and these have a link. */
  private byRelays(connection: Connection, from: Member, to: Member, end: End): Pair {
    const [here, there] = [this.inside(from), this.inside(to)];
    const dependsOn = new Set<string>([...here.dependsOn, ...there.dependsOn]);
    if (here.verdict !== 'pass') return end(here.verdict, here.description, 0, dependsOn, here.failing);
    // Where the plan does not say yet where the other side is, nothing is broken.
    if (there.verdict === 'unknown') return end('unknown', there.description, 0, dependsOn);
    const links = this.tunnels(connection, from, to, dependsOn);
    if (!Array.isArray(links)) return end(links.verdict, links.description, 0, dependsOn, links.failing);
    if (there.verdict !== 'pass') return end(there.verdict, there.description, 0, dependsOn, there.failing);
    return end('pass', '', Math.min(here.room, there.room, ...links.map(({ inner }) => inner)), dependsOn);
  }

  /** The way between a pod and the relay of its cluster: from node to node by the pod network. */
  private inside(member: Member): Inside {
    const cluster = this.clusterOf(member);
    const known = this.insides.get(cluster.id);
    if (known !== undefined) return known;
    const made = this.makeInside(cluster);
    this.insides.set(cluster.id, made);
    return made;
  }

  private makeInside(cluster: Cluster): Inside {
    const family: Family = cluster.family === 'ipv6' ? 6 : 4;
    const [one, other] = [podOf(this.forwarding, cluster, family), podOf(this.forwarding, cluster, family, 'other')];
    const open = { verdict: 'unknown', room: 0, dependsOn: nothing } as const;
    if (!one.ok) return { ...open, description: formatLack(this.forwarding.parts, one.lack) };
    if (!other.ok) return { ...open, description: formatLack(this.forwarding.parts, other.lack) };
    const flow = walked(this.forwarding, one.value, other.value, false);
    return {
      verdict: flow.verdict,
      description:
        flow.failed === undefined
          ? ''
          : formatPair({
              code: 'relay.not-reached',
              cluster: cluster.name,
              why: formatFault(this.forwarding.parts, flow),
            }),
      room: flow.room,
      dependsOn: idsOn([flow]),
      failing: flow,
    };
  }

  private tunnels(
    connection: Connection,
    from: Member,
    to: Member,
    dependsOn: Set<string>,
  ): Tunnel[] | { verdict: Verdict; description: string; failing?: Failing } {
    const crossing = this.forwarding.crossings.between(this.clusterOf(from).id, this.clusterOf(to).id, connection.id);
    const blocked = (code: 'export.not-there' | 'export.no-hub') =>
      ({
        verdict: 'broken',
        description: formatBlocked(this.forwarding.parts, { code, connection: connection.name }),
      }) as const;
    if (crossing === undefined) return blocked('export.not-there');
    if (crossing.isHubMissing) return blocked('export.no-hub');
    const found: Tunnel[] = [];
    for (const [at, member] of crossing.stops.slice(0, -1).entries()) {
      const next = crossing.stops[at + 1] as Member;
      dependsOn.add(member.id).add(next.id).add(pairKey(member, next));
      const tunnel = this.forwarding.tunnels.between(connection, member, next);
      if (!tunnel.ok) return { verdict: 'broken', description: formatLack(this.forwarding.parts, tunnel.lack) };
      for (const id of tunnel.value.dependsOn) dependsOn.add(id);
      const { fault, failed } = tunnel.value;
      if (fault !== undefined) {
        const description = formatTunnelFault(this.forwarding.parts, fault, failed);
        return { verdict: failed === undefined ? 'broken' : verdictOf(failed), description, failing: tunnel.value };
      }
      found.push(tunnel.value);
    }
    return found;
  }

  /** Why a member’s packets to what another one shows never leave it, or not for it: own ranges hide it, or two members show the same. */
  private hidden(from: Member, to: Member, family: Family, asked: PairTarget): Hidden | undefined {
    const key = `${from.id} ${to.id} ${family} ${formatAsked(asked)}`;
    const known = this.hiding.get(key);
    if (known !== undefined) return known ?? undefined;
    const made = this.hides(from, to, family, asked);
    this.hiding.set(key, made ?? null);
    return made;
  }

  private hides(from: Member, to: Member, family: Family, asked: PairTarget): Hidden | undefined {
    const [a, b] = [this.clusterOf(from), this.clusterOf(to)];
    const pod = podOf(this.forwarding, b, family);
    if (!pod.ok) return { verdict: verdictOfLack(pod.lack), description: formatLack(this.forwarding.parts, pod.lack) };
    const shown =
      asked === 'pods'
        ? this.shownBy(to, 'pod', family)
        : asked === 'service'
          ? this.shownBy(to, 'service', family)
          : [prefixAround(this.forwarding.crossings.shownIn(to.connectionId, b.id, asked), family === 4 ? 32 : 128)];
    if (shown.length === 0)
      return { verdict: 'unknown', description: formatPair({ code: 'range.no-service', cluster: b.name }) };
    const own = this.ownOf(a.id).find(({ prefix }) => shown.some((each) => overlaps(each, prefix)));
    if (own !== undefined)
      return {
        verdict: 'broken',
        description: formatPair({
          code: 'range.own',
          shownBy: b.name,
          of: a.name,
          purpose: own.purpose,
          prefix: formatPrefix(own.prefix),
        }),
      };
    const rival = this.rivalsOf(to).find(
      (each) => each.member.id !== from.id && shown.some((prefix) => overlaps(prefix, each.prefix)),
    );
    if (rival === undefined) return undefined;
    return {
      verdict: 'unknown',
      description: formatPair({
        code: 'range.two',
        one: this.clusterOf(rival.member).name,
        other: b.name,
        prefix: formatPrefix(rival.prefix),
      }),
    };
  }

  private shownBy(member: Member, purpose: 'pod' | 'service', family: Family): readonly Prefix[] {
    const key = `${member.id} ${purpose} ${family}`;
    const known = this.shown.get(key);
    if (known !== undefined) return known;
    const made = shownRanges(
      member,
      this.forwarding.rangesOf(member.clusterId).filter((range) => range.purpose === purpose),
    ).filter((prefix) => prefix.family === family);
    this.shown.set(key, made);
    return made;
  }

  private ownOf(clusterId: string): readonly { readonly purpose: string; readonly prefix: Prefix }[] {
    const known = this.own.get(clusterId);
    if (known !== undefined) return known;
    const made = this.forwarding
      .rangesOf(clusterId)
      .map((range) => ({ purpose: range.purpose, prefix: rangeOf(range) }));
    this.own.set(clusterId, made);
    return made;
  }

  /** What other members show of what one member shows. */
  private rivalsOf(member: Member): readonly { readonly member: Member; readonly prefix: Prefix }[] {
    const known = this.rivals.get(member.id);
    if (known !== undefined) return known;
    const ranges = [4, 6].flatMap((family) => [
      ...this.shownBy(member, 'pod', family as Family),
      ...this.shownBy(member, 'service', family as Family),
    ]);
    const made = this.forwarding.crossings
      .shownAround(member.connectionId, ranges)
      .filter((each) => each.member.id !== member.id);
    this.rivals.set(member.id, made);
    return made;
  }

  private leg(member: Member, family: Family): Leg {
    const key = `${member.id} ${family}`;
    const known = this.legs.get(key);
    if (known !== undefined) return known;
    const made = this.makeLeg(member, family);
    this.legs.set(key, made);
    return made;
  }

  private makeLeg(member: Member, family: Family): Leg {
    const cluster = this.clusterOf(member);
    const none = { node: undefined, verdict: 'unknown', room: 0, dependsOn: nothing } as const;
    const pod = podOf(this.forwarding, cluster, family);
    if (!pod.ok) return { ...none, description: formatLack(this.forwarding.parts, pod.lack) };
    const node = pod.value.node ?? pod.value;
    const gateway = this.forwarding.tunnels.carrying(member, node.address.family);
    if (!gateway.ok)
      return { ...none, node, verdict: 'broken', description: formatLack(this.forwarding.parts, gateway.lack) };
    const ways = [
      nodeLeg(this.forwarding, cluster, node, gateway.value.host, gatewayLayers(cluster)),
      nodeLeg(this.forwarding, cluster, gateway.value.host, node, gatewayLayers(cluster)),
    ];
    const dependsOn = idsOn(
      ways.map(({ events, failed }) => ({ forth: events, back: [], failed: failed && { ...failed, isBack: false } })),
    ).add(member.id);
    const failed = ways.find((each) => each.failed !== undefined)?.failed;
    const room = Math.min(...ways.map((each) => each.room));
    if (failed === undefined) return { node, verdict: 'pass', description: '', room, dependsOn };
    const failing: Failing = { forth: [], back: [], failed: { ...failed, isBack: false } };
    return {
      node,
      verdict: verdictOf(failed),
      description: formatFailed(this.forwarding.parts, failed),
      room,
      dependsOn,
      failing,
    };
  }
}

type End = (
  verdict: Verdict,
  description: string,
  room: number,
  dependsOn: ReadonlySet<string>,
  failing?: Failing,
) => Pair;

/** The pod that stands for all of a cluster, or another one on another node. */
export function podOf(forwarding: Forwarding, { id }: Cluster, family: Family, which: 'first' | 'other' = 'first') {
  return podHost(forwarding, { clusterId: id, nodePoolId: null, zone: '' }, family, which);
}

function walked(forwarding: Forwarding, from: Host, to: Host, isOutside: boolean): FlowTrace {
  return traceFlow(
    forwarding,
    from,
    { address: to.address, protocol: 'tcp', port: POD_PORT, host: to, isOutside, label: to.label },
    USUAL_BYTES,
  );
}
