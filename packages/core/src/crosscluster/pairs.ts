import { lastAddress } from '../address/index.js';
import type { Address, Family } from '../address/index.js';
import { changedIds, gatewayLayers, nodeLeg, pairKey, podHost, POD_PORT, traceFlow } from '../forwarding/index.js';
import type { FlowTrace, Forwarding, Gateway, Host, Tunnel, TraceVerdict } from '../forwarding/index.js';
import { byId, changedBetween, grouped, rangeOf, USUAL_BYTES } from '../plan/index.js';
import type { Cluster, Connection, Member, Plan } from '../plan/index.js';
import { greatCircle, pointOf, rounded, roundTripMs } from './distance.js';

/** What joins are read from, beside what forwarding reads. */
export type JoinParts = Pick<Plan, 'connections' | 'members' | 'clusters' | 'sites'>;

/** How the pods of one member come to those of another one, and back. */
export interface Pair {
  readonly connection: Connection;
  readonly from: Member;
  readonly to: Member;
  readonly verdict: TraceVerdict;
  /** Why it does not pass, in a sentence; empty when it does. */
  readonly say: string;
  /** Largest packet that passes whole; 0 where nothing passes. */
  readonly room: number;
  /** Milliseconds of a round trip that light takes at least; undefined where a site has no coordinates. */
  readonly floorMs: number | undefined;
  readonly km: number | undefined;
  /** Ids of what the way rests on. */
  readonly rests: ReadonlySet<string>;
}

/** Pairs by the id of the member that is asked, and those that ask. */
export type PairSet = ReadonlyMap<string, ReadonlySet<string>>;

/** What one member does by itself: the way between a node and the gateway that carries. */
interface Leg {
  readonly gateway: Gateway | undefined;
  readonly node: Host | undefined;
  readonly verdict: TraceVerdict;
  readonly say: string;
  readonly room: number;
  readonly rests: ReadonlySet<string>;
}

/** What is asked for at the other end. */
type Asked = 'pods' | 'service';

interface Hidden {
  readonly verdict: TraceVerdict;
  readonly say: string;
}

const nothing: ReadonlySet<string> = new Set();
let made = 0;

/** Connections whose members show other ranges than before, or are others: who is meant by an address may have changed for all of them. */
function reshown(before: JoinParts, after: JoinParts): string[] {
  const { gone, come } = changedBetween(before.members, after.members);
  const said = ({ connectionId, clusterId, translated, isHub }: Member) => `${connectionId} ${clusterId} ${isHub} ${translated.join()}`; // prettier-ignore
  const was = new Set(gone.map(said));
  const is = new Set(come.map(said));
  return [...gone, ...come].filter((each) => !was.has(said(each)) || !is.has(said(each))).map(({ connectionId }) => connectionId); // prettier-ignore
}


/**
 * The ways between members of connections, put together from what each does by itself and the tunnels between gateways, so that n members
 * take n ways and n(n − 1) ÷ 2 tunnels, and not n² walks. What it says is what a walk of the packet says.
 */
export class Joins {
  private readonly legs = new Map<string, Leg>();
  private readonly insides = new Map<string, Pick<Leg, 'verdict' | 'say' | 'rests'>>();
  private readonly pairs = new Map<string, Pair>();
  private readonly hiding = new Map<string, Hidden | null>();
  private readonly serial = ++made;
  /** The pairs that differ from another state, by its serial. */
  private readonly since: { readonly serial: number; readonly changed: PairSet } | undefined;

  constructor(
    readonly parts: JoinParts,
    readonly forwarding: Forwarding,
    before?: Joins,
  ) {
    const ids = before === undefined ? undefined : changedIds(before.forwarding, forwarding);
    if (before === undefined || ids === undefined) return;
    const changed = new Set([...ids, ...reshown(before.parts, parts)]);
    this.since = { serial: before.serial, changed: this.take(before, changed, true) };
  }

  /** The pairs that differ from the state that this one was made from; undefined for any other state, and where all may differ. */
  changedSince(before: Joins): PairSet | undefined {
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

  /** The way from one member to the pods of another one, or through tunnels to the address of a service there. */
  pair(connection: Connection, from: Member, to: Member, asked: Asked = 'pods'): Pair {
    const isByService = asked === 'service' && connection.way === 'tunnels';
    const key = `${from.id} ${to.id}${isByService ? ' service' : ''}`;
    const known = this.pairs.get(key);
    if (known !== undefined) return known;
    const made = this.make(connection, from, to, isByService ? 'service' : 'pods');
    this.pairs.set(key, made);
    return made;
  }

  /** Takes over the pairs of another state that rest on nothing that these ids name; of those that do not pass only while nothing but these changed. Gives the others: by the id of who is asked, those who ask. */
  take(before: Joins, changed: ReadonlySet<string>, takesFailing: boolean): PairSet {
    const others = new Map<string, Set<string>>();
    const ids = [...changed];
    for (const [key, pair] of before.pairs) {
      const holds = (takesFailing || pair.verdict === 'pass') && !ids.some((id) => pair.rests.has(id));
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

  private make(connection: Connection, from: Member, to: Member, asked: Asked): Pair {
    const [a, b] = [this.clusterOf(from), this.clusterOf(to)];
    const sites = [a, b].map(({ siteId }) => pointOf(byId(this.parts.sites, siteId)));
    const [here, there] = sites;
    const km = here === undefined || there === undefined ? undefined : greatCircle(here, there);
    const common = { connection, from, to, km, floorMs: km === undefined ? undefined : rounded(roundTripMs(km)) };
    const end = (verdict: TraceVerdict, say: string, room: number, rests: ReadonlySet<string>): Pair => ({ ...common, verdict, say, room, rests: new Set([...rests, from.id, to.id, connection.id]) }); // prettier-ignore
    const family: Family = b.family === 'ipv6' || a.family === 'ipv6' ? 6 : 4;
    if (connection.way === 'tunnels') return this.byTunnels(connection, from, to, family, asked, end);
    if (connection.way === 'relays') return this.byRelays(connection, from, to, end);
    return this.flat(a, b, family, end);
  }

  /** By a walk: flat members are few, since every range of theirs is distinct. */
  private flat(a: Cluster, b: Cluster, family: Family, end: End): Pair {
    const [from, to] = [podOf(this.forwarding, a, family), podOf(this.forwarding, b, family)];
    if (!from.ok) return end('unknown', from.problem.message, 0, nothing);
    if (!to.ok) return end('unknown', to.problem.message, 0, nothing);
    const flow = walked(this.forwarding, from.value, to.value, true);
    return end(flow.verdict, flow.failed?.say ?? '', flow.verdict === 'pass' ? flow.room : 0, idsOn(flow));
  }

  private byTunnels(connection: Connection, from: Member, to: Member, family: Family, asked: Asked, end: End): Pair {
    const [a, b] = [this.clusterOf(from), this.clusterOf(to)];
    const [one, other] = [this.leg(from, family), this.leg(to, family)];
    if (one.node === undefined || other.node === undefined) return end('unknown', one.node === undefined ? one.say : other.say, 0, nothing); // prettier-ignore
    const hidden = this.hidden(from, to, family, asked);
    if (hidden !== undefined) return end(hidden.verdict, hidden.say, 0, nothing);
    const rests = new Set([...one.rests, ...other.rests]);
    if (one.verdict !== 'pass') return end(one.verdict, one.say, 0, rests);
    const tunnels = this.tunnels(connection, from, to, rests);
    if (!Array.isArray(tunnels)) return end(tunnels.verdict, tunnels.say, 0, rests);
    if (other.verdict !== 'pass') return end(other.verdict, other.say, 0, rests);
    const back = this.hidden(to, from, family, 'pods');
    if (back !== undefined) return end('broken', `The answers do not come back: ${back.say}`, 0, rests);
    const room = Math.min(one.room, other.room, ...tunnels.map(({ inner }) => inner));
    return a.id === b.id ? end('broken', 'A cluster is not joined with itself.', 0, rests) : end('pass', '', room, rests); // prettier-ignore
  }

  /** A relay passes on calls, not packets: each side asks its own relay, and these have a link. */
  private byRelays(connection: Connection, from: Member, to: Member, end: End): Pair {
    const [here, there] = [this.inside(from), this.inside(to)];
    const rests = new Set<string>([...here.rests, ...there.rests]);
    if (here.verdict !== 'pass') return end(here.verdict, here.say, 0, rests);
    const links = this.tunnels(connection, from, to, rests);
    if (!Array.isArray(links)) return end(links.verdict, links.say, 0, rests);
    if (there.verdict !== 'pass') return end(there.verdict, there.say, 0, rests);
    return end('pass', '', Math.min(...links.map(({ inner }) => inner)), rests);
  }

  /** The way between a pod and the relay of its cluster: from node to node by the pod network. */
  private inside(member: Member): Pick<Leg, 'verdict' | 'say' | 'rests'> {
    const cluster = this.clusterOf(member);
    const known = this.insides.get(cluster.id);
    if (known !== undefined) return known;
    const made = this.makeInside(cluster);
    this.insides.set(cluster.id, made);
    return made;
  }

  private makeInside(cluster: Cluster): Pick<Leg, 'verdict' | 'say' | 'rests'> {
    const family: Family = cluster.family === 'ipv6' ? 6 : 4;
    const [one, other] = [podOf(this.forwarding, cluster, family), podOf(this.forwarding, cluster, family, 'other')];
    if (!one.ok) return { verdict: 'unknown', say: one.problem.message, rests: nothing };
    if (!other.ok) return { verdict: 'unknown', say: other.problem.message, rests: nothing };
    const flow = walked(this.forwarding, one.value, other.value, false);
    return { verdict: flow.verdict, say: flow.failed === undefined ? '' : `Pods of ${cluster.name} do not reach their relay. ${flow.failed.say}`, rests: idsOn(flow) }; // prettier-ignore
  }

  private tunnels(connection: Connection, from: Member, to: Member, rests: Set<string>): Tunnel[] | { verdict: TraceVerdict; say: string } {
    const crossing = this.forwarding.crossings.between(this.clusterOf(from).id, this.clusterOf(to).id, connection.way);
    if (crossing === undefined) return { verdict: 'broken', say: `${connection.name} is not there yet.` };
    if (crossing.isHubMissing) return { verdict: 'broken', say: `${connection.name} has the shape hub, and no member of it is the hub.` };
    const found: Tunnel[] = [];
    for (const [at, member] of crossing.stops.slice(0, -1).entries()) {
      const next = crossing.stops[at + 1] as Member;
      rests.add(member.id).add(next.id).add(pairKey(member, next));
      const tunnel = this.forwarding.tunnelBetween(connection, member, next);
      if (!tunnel.ok) return { verdict: 'broken', say: tunnel.problem.message };
      for (const id of tunnel.value.rests) rests.add(id);
      const { isUp, say, failed } = tunnel.value;
      if (!isUp) return { verdict: isRefusal(failed?.failure.code) ? 'refused' : 'broken', say };
      found.push(tunnel.value);
    }
    return found;
  } // prettier-ignore

  /** Why a member’s packets to what another one shows never leave it, or not for it: own ranges hide it, or two members show the same. */
  private hidden(from: Member, to: Member, family: Family, asked: Asked): Hidden | undefined {
    const key = `${from.id} ${to.id} ${family} ${asked}`;
    const known = this.hiding.get(key);
    if (known !== undefined) return known ?? undefined;
    const made = this.hides(this.clusterOf(from), this.clusterOf(to), family, asked);
    this.hiding.set(key, made ?? null);
    return made;
  }

  private hides(a: Cluster, b: Cluster, family: Family, asked: Asked): Hidden | undefined {
    const pod = podOf(this.forwarding, b, family);
    if (!pod.ok) return { verdict: 'unknown', say: pod.problem.message };
    const address = asked === 'pods' ? pod.value.address : this.serviceOf(b, family);
    if (address === undefined) return { verdict: 'unknown', say: `${b.name} has no service range yet.` };
    const { crossings } = this.forwarding;
    const shown = crossings.shownTo(a.id, b.id, address);
    const own = this.forwarding.rangeAt(a.id, shown);
    if (own !== undefined) return { verdict: 'broken', say: `What ${b.name} shows lies in the ${own.purpose} range ${own.prefix} of ${a.name} itself, whose nodes keep it inside.` }; // prettier-ignore
    const [first, second] = this.forwarding.crossingsTo(a.id, shown);
    if (second !== undefined) return { verdict: 'unknown', say: `Several members show the same addresses as ${b.name}: nobody knows which is meant.` }; // prettier-ignore
    if (first === undefined || first.to.clusterId === b.id) return undefined;
    return { verdict: 'broken', say: `Addresses that ${b.name} shows lead to ${crossings.nameOf(first.to)}.` };
  }

  /** An address that stands for those of a cluster’s services. */
  private serviceOf({ id }: Cluster, family: Family): Address | undefined {
    const range = this.forwarding.rangesOf(id).map((each) => ({ purpose: each.purpose, own: rangeOf(each) })).find(({ purpose, own }) => purpose === 'service' && own.family === family); // prettier-ignore
    return range === undefined ? undefined : lastAddress(range.own);
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
    const none = { gateway: undefined, node: undefined, verdict: 'unknown', room: 0, rests: nothing } as const;
    const pod = podOf(this.forwarding, cluster, family);
    if (!pod.ok) return { ...none, say: pod.problem.message };
    const node = pod.value.node ?? pod.value;
    const gateway = this.forwarding.carrying(member);
    if (!gateway.ok) return { ...none, node, verdict: 'broken', say: gateway.problem.message };
    const ways = [nodeLeg(this.forwarding, cluster, node, gateway.value.host, gatewayLayers(cluster)), nodeLeg(this.forwarding, cluster, gateway.value.host, node, gatewayLayers(cluster))]; // prettier-ignore
    const rests = new Set([member.id, ...ways.flatMap(({ steps }) => steps.flatMap(({ decisions }) => (decisions ?? []).map(({ list }) => list.id))), ...ways.flatMap(({ failed }) => (failed !== undefined && 'filterIds' in failed.failure ? failed.failure.filterIds : []))]); // prettier-ignore
    const failed = ways.find((each) => each.failed !== undefined)?.failed;
    const room = Math.min(...ways.map((each) => each.room));
    if (failed === undefined) return { gateway: gateway.value, node, verdict: 'pass', say: '', room, rests };
    return { gateway: gateway.value, node, verdict: isRefusal(failed.failure.code) ? 'refused' : 'broken', say: failed.say, room, rests }; // prettier-ignore
  }
}

type End = (verdict: TraceVerdict, say: string, room: number, rests: ReadonlySet<string>) => Pair;

/** The pod that stands for all of a cluster, or another one on another node. */
export function podOf(forwarding: Forwarding, { id }: Cluster, family: Family, which: 'first' | 'other' = 'first') {
  return podHost(forwarding, { clusterId: id, nodePoolId: null, zone: '' }, family, which);
}

function walked(forwarding: Forwarding, from: Host, to: Host, isOutside: boolean): FlowTrace {
  return traceFlow(forwarding, from, { address: to.address, protocol: 'tcp', port: POD_PORT, host: to, isOutside, label: to.label }, USUAL_BYTES); // prettier-ignore
}

/** Everything that the steps of a flow name. */
function idsOn({ forth, back }: FlowTrace): ReadonlySet<string> {
  return new Set([...forth, ...back].flatMap(({ subject, lookUp, decisions }) => [subject?.id ?? '', lookUp?.tableId ?? '', ...hopIds(lookUp?.found.row?.hop), ...(decisions ?? []).map(({ list }) => list.id)])); // prettier-ignore
}

function isRefusal(code: string | undefined): boolean {
  return code === 'filter' || code === 'firewall' || code === 'route-drops' || code === 'unsolicited' || code === 'private-destination' || code === 'policy'; // prettier-ignore
}

function hopIds(hop: { readonly kind: string; readonly link?: { readonly id: string }; readonly id?: string } | undefined): string[] {
  return hop === undefined ? [] : [hop.link?.id ?? '', hop.id ?? ''];
} // prettier-ignore
