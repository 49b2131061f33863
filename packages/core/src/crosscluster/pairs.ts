import type { Family } from '../address/index.js';
import {
  formatBlocked,
  formatFault,
  formatLack,
  formatPair,
  formatTooNarrow,
  formatTunnelFault,
} from '../english/index.js';
import { changedIds, idsOn, tunnelLayers } from '../forwarding/index.js';
import type { Crossing, Forwarding } from '../forwarding/index.js';
import { byId, changedBetween, grouped, rangeOf } from '../plan/index.js';
import type { Cluster, ClusterService, Connection, Member, Plan } from '../plan/index.js';
import { meets } from '../reach/index.js';
import { verdictOfLack } from '../road/index.js';
import type { Failure, Lack, Verdict } from '../road/index.js';
import { MIN_IPV6 } from '../wire/index.js';
import { Aims, verdictOfHidden } from './aims.js';
import type { PairTarget } from './aims.js';
import { Backing } from './backing.js';
import { greatCircle, pointOf, rounded, roundTripMs } from './distance.js';
import { Legs, walked } from './legs.js';
import type { Failing } from './legs.js';
import type { Obstacle, Pair, PairSet } from './pair.js';
import { PairBook } from './pairBook.js';
import { PodHosts } from './podHosts.js';
import { TunnelClasses } from './tunnelClasses.js';
import type { TunnelAnswer } from './tunnelClasses.js';

/** What joins are read from, beside what forwarding reads. */
export type ConnectionParts = Pick<
  Plan,
  'connections' | 'members' | 'clusters' | 'sites' | 'workloads' | 'networkPolicies'
>;

/** What two states of connections differ in. */
interface Step {
  /** Everything of which an edit or a drill met something; undefined where it may have met anything. */
  readonly changed: ReadonlySet<string> | undefined;
  /** Whether what failed fails as it did. */
  readonly takesFailing: boolean;
  /** Whether ways of members that something happened to are told also where they come to the same: they may have been interrupted. */
  readonly tellsHit: boolean;
}

/** What one family of a pair comes to. */
type Outcome = Pick<Pair, 'verdict' | 'room' | 'obstacle' | 'dependsOn'>;

/** A tunnel that does not come up: how that is judged, and what its packet met. */
type Down = Pick<TunnelAnswer, 'verdict' | 'code'>;

const NO_TUNNEL: Down = { verdict: 'broken', code: undefined };

interface Distance {
  readonly km: number | undefined;
  readonly floorMs: number | undefined;
}

const FAMILIES: Outcome = { verdict: 'broken', room: 0, obstacle: { at: 'families' }, dependsOn: undefined };
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
 * The ways between members of connections, put together from what each does by itself and the tunnels between classes of
 * gateways, so that n members take n ways and as many walks as there are pairs of classes, and not n². Whether a way works,
 * and how large a packet passes, is what a walk of the packet comes to; where several things stand in the way, a walk may
 * meet another one of them first.
 */
export class ConnectionState {
  private readonly pods: PodHosts;
  private readonly legs: Legs;
  private readonly aims: Aims;
  private readonly classes: TunnelClasses;
  private readonly backing: Backing;
  private readonly pairs: PairBook;
  private readonly families = new Map<string, readonly Family[]>();
  private readonly distances = new Map<string, Map<string, Distance>>();
  private readonly serial = ++made;
  /** The pairs that differ from another state, by its serial. */
  private readonly since: { readonly serial: number; readonly changed: PairSet } | undefined;

  constructor(
    readonly parts: ConnectionParts,
    readonly forwarding: Forwarding,
    before?: ConnectionState,
    step?: Step,
  ) {
    this.pods = new PodHosts(forwarding);
    this.legs = new Legs(forwarding, this.pods);
    this.aims = new Aims(parts.members, forwarding, this.pods);
    this.backing = new Backing(parts, forwarding, this.pods);
    this.classes = new TunnelClasses(forwarding, before?.classes);
    this.pairs = new PairBook(before?.pairs);
    if (before === undefined) return;
    const { changed, takesFailing, tellsHit } = step ?? {
      changed: changedIds(before.forwarding, forwarding),
      takesFailing: true,
      tellsHit: false,
    };
    this.since = { serial: before.serial, changed: this.follow(before, { changed, takesFailing, tellsHit }) };
  }

  /** The state of a drill: what is gone is said by the forwarding, and what may rest on it by ids. */
  drilled(forwarding: Forwarding, changed: ReadonlySet<string>, takesFailing: boolean): ConnectionState {
    return new ConnectionState(this.parts, forwarding, this, { changed, takesFailing, tellsHit: true });
  }

  /** The pairs that differ from the state that this one was made from; undefined for any other state. */
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
    const known = this.pairs.get(from, to, meant);
    if (known !== undefined) {
      // Whoever wants to know what an answer was held against is told of one that was kept, too.
      if (this.forwarding.lists.isWatched) this.noteAgain(known);
      return known;
    }
    const pair = this.make(connection, from, to, meant);
    this.pairs.set(pair);
    return pair;
  }

  /** Why a pair does not pass, in a sentence; empty when it does. */
  description(pair: Pair): string {
    const { connection, from, to, obstacle } = pair;
    const [a, b] = [this.clusterOf(from), this.clusterOf(to)];
    switch (obstacle?.at) {
      case undefined:
        return '';
      case 'families': {
        const only = ({ name, family: own }: Cluster) => ({ cluster: name, family: own === 'ipv6' ? 6 : 4 }) as const;
        return formatPair({ code: 'families', one: only(a), other: only(b) });
      }
      case 'near leg':
        return this.legOf(pair, from).description;
      case 'far leg':
        return this.legOf(pair, to).description;
      case 'hidden':
        return this.aims.formatHidden(obstacle.hidden, a.name, b.name);
      case 'answers hidden':
        return formatPair({ code: 'answers-lost', why: this.aims.formatHidden(obstacle.hidden, b.name, a.name) });
      case 'too narrow': {
        const within = { is: 'tunnel', connectionId: connection.id, layers: tunnelLayers(connection) } as const;
        return formatTooNarrow(this.forwarding.parts, { room: obstacle.inner, in: within });
      }
      case 'packet':
        return obstacle.description;
      case 'tunnels':
        return this.downBetween(pair).description;
    }
  }

  /** The packets that failed, for those who look for what mends it. */
  failing(pair: Pair): Failing | undefined {
    switch (pair.obstacle?.at) {
      case 'near leg':
        return this.legOf(pair, pair.from).failing;
      case 'far leg':
        return this.legOf(pair, pair.to).failing;
      case 'packet':
        return pair.obstacle.failing;
      case 'tunnels':
        return this.downBetween(pair).failing;
      default:
        return undefined;
    }
  }

  /** What the packet met that failed, by its code; undefined where none did. */
  failureOf(pair: Pair): Failure['code'] | undefined {
    if (pair.obstacle?.at !== 'tunnels') return this.failing(pair)?.failed?.failure.code;
    const { connection, from, to } = pair;
    const crossing = this.forwarding.crossings.between(from.clusterId, to.clusterId, connection.id);
    const through = this.through(connection, crossing);
    return typeof through === 'number' ? undefined : through.code;
  }

  /** Who dials between two members, while their tunnel or link comes up. */
  diallerOf(connection: Connection, one: Member, other: Member): Member | undefined {
    const answer = this.classes.between(connection, one, other);
    if (!answer.ok || !answer.value.isUp) return undefined;
    return answer.value.isDialledByFirst === one.id < other.id ? one : other;
  }

  /** Why a service answers nobody, whoever asks: no pods, or none that listens; undefined where some port is answered. */
  faultOf(service: ClusterService): string | undefined {
    return this.backing.faultOf(service);
  }

  /** Why network policies refuse the calls of a pair at every pod of a service; undefined where some pod takes them. */
  refusedBy({ connection, from, to }: Pair, service: ClusterService): string | undefined {
    if (!this.backing.hasPolicies(to.clusterId)) return undefined;
    return this.backing.refusedBy(connection, from, this.clusterOf(from), this.clusterOf(to), service);
  }

  /** Kilometres between two members along the great circle, and the round trip that light takes at least. */
  distance(from: Member, to: Member): Distance {
    const [here, there] = [this.clusterOf(from).siteId, this.clusterOf(to).siteId];
    const known = this.distances.get(here) ?? new Map<string, Distance>();
    this.distances.set(here, known);
    const last = known.get(there);
    if (last !== undefined) return last;
    const [one, other] = [here, there].map((id) => pointOf(byId(this.parts.sites, id)));
    const km = one === undefined || other === undefined ? undefined : greatCircle(one, other);
    const found = { km, floorMs: km === undefined ? undefined : rounded(roundTripMs(km)) };
    known.set(there, found);
    return found;
  }

  /**
   * Takes over the pairs of another state. Those that may differ are computed again and compared; gives those that do,
   * by the id of who is asked: those who ask.
   */
  private follow(before: ConnectionState, { changed, takesFailing, tellsHit }: Step): PairSet {
    const others = new Map<string, Set<string>>();
    for (const pair of this.mayDiffer(before, changed, takesFailing)) {
      const [from, to] = [byId(this.parts.members, pair.from.id), byId(this.parts.members, pair.to.id)];
      const connection = byId(this.parts.connections, pair.connection.id);
      if (from === undefined || to === undefined || connection === undefined) continue;
      const isAlike = from === pair.from && to === pair.to && connection === pair.connection;
      if (isAlike && standsByItself(pair, changed, takesFailing)) continue;
      const now = this.make(connection, from, to, pair.asked);
      const isHit = tellsHit && changed !== undefined && (changed.has(from.id) || changed.has(to.id));
      const isSame = isAlike && !isHit && isSamePair(now, pair) && !this.mayBeRefused(to, changed);
      // What stands in the way may be said otherwise also where the verdict is the same.
      if (!isSame || now.obstacle !== undefined) this.pairs.set(now);
      if (isSame) continue;
      const known = others.get(to.id);
      if (known === undefined) others.set(to.id, new Set([from.id]));
      else known.add(from.id);
    }
    const gone = changedBetween(before.parts.members, this.parts.members).gone;
    this.pairs.drop(new Set(gone.filter(({ id }) => byId(this.parts.members, id) === undefined).map(({ id }) => id)));
    return others;
  }

  /** Network policies judge callers by their address, which an edit may have moved. */
  private mayBeRefused(to: Member, changed: ReadonlySet<string> | undefined): boolean {
    return changed === undefined && this.backing.hasPolicies(to.clusterId);
  }

  /** The pairs of another state that may come to something else. */
  private mayDiffer(
    before: ConnectionState,
    changed: ReadonlySet<string> | undefined,
    takesFailing: boolean,
  ): Iterable<Pair> {
    if (changed === undefined) return [...before.pairs];
    const { members } = this.parts;
    const areClassesSame = this.classes.follow(before.classes, changed, members, takesFailing);
    const legs = this.legs.follow(before.legs, changed, takesFailing, (id, kind, own) => {
      const member = byId(members, id);
      if (kind !== 'inside') return member && own.toGateway(member, this.clusterOf(member), kind);
      const cluster = byId(this.parts.clusters, id);
      return cluster && own.inside(cluster);
    });
    const moved = this.movedSince(before, changed, legs);
    const isHubMoved = members.some(({ id, isHub }) => isHub && moved.has(id));
    const isWhole =
      !areClassesSame ||
      isHubMoved ||
      before.parts.connections !== this.parts.connections ||
      reshown(before.parts, this.parts).length > 0;
    if (isWhole) return [...before.pairs];
    const hasFlat = this.parts.connections.some(({ method }) => method === 'flat');
    const walked = hasFlat ? [...before.pairs].filter(({ dependsOn }) => dependsOn !== undefined) : [];
    return [...walked, ...before.pairs.of(moved)];
  }

  /** Members whose own way, gateway or fields are others than in the state before. */
  private movedSince(
    before: ConnectionState,
    changed: ReadonlySet<string>,
    legs: ReadonlySet<string>,
  ): ReadonlySet<string> {
    // A way between two that is gone is named by both.
    const cut = [...this.forwarding.faults.pairs, ...before.forwarding.faults.pairs].flatMap((key) => key.split(' '));
    const moved = new Set(cut);
    for (const member of this.parts.members) {
      const isMoved =
        changed.has(member.id) ||
        legs.has(member.id) ||
        legs.has(member.clusterId) ||
        !isSameNumbers(this.classes.classesOf(member), before.classes.classesOf(member));
      if (isMoved) moved.add(member.id);
    }
    return moved;
  }

  private noteAgain({ connection, from, to, asked, dependsOn }: Pair): void {
    if (dependsOn === undefined) this.make(connection, from, to, asked);
    else this.forwarding.lists.note(dependsOn);
  }

  private make(connection: Connection, from: Member, to: Member, asked: PairTarget): Pair {
    const [a, b] = [this.clusterOf(from), this.clusterOf(to)];
    const [family, second] = this.sharedFamilies(a, b);
    const crossing = this.forwarding.crossings.between(a.id, b.id, connection.id);
    const { km, floorMs } = this.distanceBy(crossing, from, to);
    const by = (each: Family): Outcome =>
      connection.method === 'relays'
        ? this.byRelays(connection, crossing, from, to)
        : connection.method === 'tunnels'
          ? this.byTunnels(connection, crossing, from, to, each, asked)
          : this.flat(a, b, each);
    const end = ({ verdict, room, obstacle, dependsOn }: Outcome, of: Family): Pair => ({
      connection,
      from,
      to,
      asked,
      verdict,
      room,
      floorMs,
      km,
      family: of,
      obstacle,
      dependsOn,
    });
    if (family === undefined) return end(FAMILIES, 4);
    const first = by(family);
    // Where both speak both, one family that does not pass is told, too.
    const isBoth =
      second !== undefined && connection.method !== 'relays' && typeof asked === 'string' && first.verdict === 'pass';
    if (!isBoth) return end(first, family);
    const other = by(second);
    if (other.verdict !== 'pass') return end(other, second);
    const dependsOn = first.dependsOn && new Set([...first.dependsOn, ...(other.dependsOn ?? [])]);
    return end({ ...first, room: Math.min(first.room, other.room), dependsOn }, family);
  }

  /** The families that two clusters share, IPv4 first; of dual ones IPv6 only where both have pods of it. */
  private sharedFamilies(a: Cluster, b: Cluster): readonly Family[] {
    const key = a.family === b.family && a.family !== 'dual' ? a.family : `${a.id} ${b.id}`;
    const known = this.families.get(key);
    if (known !== undefined) return known;
    const speaks = (cluster: Cluster, family: Family) =>
      cluster.family === 'dual' || (cluster.family === 'ipv6') === (family === 6);
    const hasPods = ({ id }: Cluster, family: Family) =>
      this.forwarding.rangesOf(id).some((range) => range.purpose === 'pod' && rangeOf(range).family === family);
    const shared = ([4, 6] as const).filter((family) => speaks(a, family) && speaks(b, family));
    const found = shared.filter(
      (family) => shared.length === 1 || family === 4 || (hasPods(a, family) && hasPods(b, family)),
    );
    this.families.set(key, found);
    return found;
  }

  /** The distance that packets of a connection take: over the hub where they pass it. */
  private distanceBy(crossing: Crossing | undefined, from: Member, to: Member): Distance {
    if (crossing === undefined || crossing.stops.length === 2) return this.distance(from, to);
    const legs = crossing.stops.slice(1).map((stop, at) => this.distance(crossing.stops[at] as Member, stop));
    const sum = (values: readonly (number | undefined)[]) =>
      values.reduce<number | undefined>(
        (all, each) => (all === undefined || each === undefined ? undefined : all + each),
        0,
      );
    const floorMs = sum(legs.map((leg) => leg.floorMs));
    return { km: sum(legs.map(({ km }) => km)), floorMs: floorMs === undefined ? undefined : rounded(floorMs) };
  }

  /** By a walk: flat members are few, since every range of theirs is distinct. */
  private flat(a: Cluster, b: Cluster, family: Family): Outcome {
    const [from, to] = [this.pods.of(a.id, family), this.pods.of(b.id, family)];
    const lacking = (lack: Lack): Outcome => ({
      verdict: verdictOfLack(lack),
      room: 0,
      obstacle: { at: 'packet', description: formatLack(this.forwarding.parts, lack), failing: undefined },
      dependsOn: undefined,
    });
    if (!from.ok) return lacking(from.lack);
    if (!to.ok) return lacking(to.lack);
    const flow = walked(this.forwarding, from.value, to.value, true);
    const isPassing = flow.verdict === 'pass';
    return {
      verdict: flow.verdict,
      room: isPassing ? flow.room : 0,
      obstacle: isPassing
        ? undefined
        : { at: 'packet', description: formatFault(this.forwarding.parts, flow), failing: flow },
      dependsOn: idsOn([flow]),
    };
  }

  private byTunnels(
    connection: Connection,
    crossing: Crossing | undefined,
    from: Member,
    to: Member,
    family: Family,
    asked: PairTarget,
  ): Outcome {
    const [one, other] = [
      this.legs.toGateway(from, this.clusterOf(from), family),
      this.legs.toGateway(to, this.clusterOf(to), family),
    ];
    if (one.node === undefined) return blocked('unknown', { at: 'near leg' });
    if (other.node === undefined) return blocked('unknown', { at: 'far leg' });
    const hidden = this.aims.hidden(from, to, family, asked);
    if (hidden !== undefined) return blocked(verdictOfHidden(hidden), { at: 'hidden', hidden });
    if (one.verdict !== 'pass') return blocked(one.verdict, { at: 'near leg' });
    const inner = this.through(connection, crossing);
    if (typeof inner !== 'number') return blocked(inner.verdict, { at: 'tunnels' });
    if (other.verdict !== 'pass') return blocked(other.verdict, { at: 'far leg' });
    const back = this.aims.hidden(to, from, family, 'pods');
    if (back !== undefined) return blocked('broken', { at: 'answers hidden', hidden: back });
    if (family === 6 && inner < MIN_IPV6) return blocked('broken', { at: 'too narrow', inner });
    return passing(Math.min(one.room, other.room, inner));
  }

  /** A relay passes on calls, not packets: each side asks its own relay, and these have a link. */
  private byRelays(connection: Connection, crossing: Crossing | undefined, from: Member, to: Member): Outcome {
    const [here, there] = [this.legs.inside(this.clusterOf(from)), this.legs.inside(this.clusterOf(to))];
    if (here.verdict !== 'pass') return blocked(here.verdict, { at: 'near leg' });
    // Where the plan does not say yet where the other side is, nothing is broken.
    if (there.verdict === 'unknown') return blocked('unknown', { at: 'far leg' });
    const inner = this.through(connection, crossing);
    if (typeof inner !== 'number') return blocked(inner.verdict, { at: 'tunnels' });
    if (there.verdict !== 'pass') return blocked(there.verdict, { at: 'far leg' });
    return passing(Math.min(here.room, there.room, inner));
  }

  /** The largest packet inside every tunnel of a crossing; how it is judged where one does not come up. */
  private through(connection: Connection, crossing: Crossing | undefined): number | Down {
    if (crossing === undefined || crossing.isHubMissing) return NO_TUNNEL;
    let inner = Infinity;
    for (let at = 1; at < crossing.stops.length; at++) {
      const answer = this.classes.between(connection, crossing.stops[at - 1] as Member, crossing.stops[at] as Member);
      if (!answer.ok) return NO_TUNNEL;
      if (!answer.value.isUp) return answer.value;
      inner = Math.min(inner, answer.value.inner);
    }
    return inner;
  }

  /** What a leg of a pair does by itself. */
  private legOf({ connection, family }: Pair, member: Member) {
    const cluster = this.clusterOf(member);
    return connection.method === 'relays' ? this.legs.inside(cluster) : this.legs.toGateway(member, cluster, family);
  }

  /** The first tunnel of a pair that does not come up, asked for itself: why, and what its packets met. */
  private downBetween({ connection, from, to }: Pair): { description: string; failing: Failing | undefined } {
    const { parts, crossings, tunnels } = this.forwarding;
    const crossing = crossings.between(from.clusterId, to.clusterId, connection.id);
    const missing = crossing === undefined ? 'export.not-there' : crossing.isHubMissing ? 'export.no-hub' : undefined;
    if (crossing === undefined || missing !== undefined) {
      const code = missing ?? 'export.not-there';
      return { description: formatBlocked(parts, { code, connection: connection.name }), failing: undefined };
    }
    for (const [at, member] of crossing.stops.slice(0, -1).entries()) {
      const tunnel = tunnels.between(connection, member, crossing.stops[at + 1] as Member);
      if (!tunnel.ok) return { description: formatLack(parts, tunnel.lack), failing: undefined };
      const { fault, failed } = tunnel.value;
      if (fault !== undefined) return { description: formatTunnelFault(parts, fault, failed), failing: tunnel.value };
    }
    return { description: '', failing: undefined };
  }
}

/** Whether a pair with a walk of its own rests on nothing that changed. */
function standsByItself(
  { from, to, connection, dependsOn, verdict }: Pair,
  changed: ReadonlySet<string> | undefined,
  takesFailing: boolean,
): boolean {
  if (dependsOn === undefined || changed === undefined || (!takesFailing && verdict !== 'pass')) return false;
  if ([from, to, connection].some(({ id }) => changed.has(id))) return false;
  return !meets(dependsOn, changed);
}

function passing(room: number): Outcome {
  return { verdict: 'pass', room, obstacle: undefined, dependsOn: undefined };
}

function blocked(verdict: Verdict, obstacle: Obstacle): Outcome {
  return { verdict, room: 0, obstacle, dependsOn: undefined };
}

/** Whether two states of a pair come to the same for everybody who asks, words apart. */
function isSamePair(a: Pair, b: Pair): boolean {
  return (
    a.verdict === b.verdict &&
    a.room === b.room &&
    a.floorMs === b.floorMs &&
    a.km === b.km &&
    a.family === b.family &&
    a.obstacle?.at === b.obstacle?.at
  );
}

function isSameNumbers(a: readonly number[], b: readonly number[]): boolean {
  return a.length === b.length && a.every((each, at) => each === b[at]);
}
