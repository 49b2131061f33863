import { MAX_LABEL } from '../zones/index.js';
import { formatPrefix } from '../address/index.js';
import { PoolSpace } from '../allocation/index.js';
import { Forwarding, NO_FAULTS } from '../forwarding/index.js';
import { mendsAt } from '../reach/index.js';
import { addOperation, applyOperations, byId, grouped, newId, setOperation, withFallbacks } from '../plan/index.js';
import type {
  Allocation,
  Cluster,
  Connection,
  FilterRule,
  ConnectionMethod,
  Member,
  Operation,
  Plan,
  TunnelEncapsulation,
} from '../plan/index.js';
import { byRange, clashesOfMembers, formatClash, toMove } from '../verdicts/index.js';
import type { JoinedRange } from '../verdicts/index.js';
import { ConnectionState } from './pairs.js';
import { takenRanges } from './takenRanges.js';
import type { Pair } from './pair.js';
import { beginning } from '../working/index.js';
import { formatProposed } from '../english/index.js';

/** What is said of one cluster of a connection before it is proposed. */
export interface ConnectionSide {
  readonly clusterId: string;
  /** Of the shape hub: whether all others are joined with it; the first cluster where nobody is said to be. */
  readonly isHub: boolean;
  readonly dials: Member['dials'];
  /** Where others dial its gateways, such as public addresses; one for each gateway in turn, none where their nodes’ own serve. */
  readonly gatewayAddresses: readonly string[];
}

/** What a connection is to be like. */
export interface ConnectionRequest {
  readonly name: string;
  readonly method: ConnectionMethod;
  readonly clusterIds: readonly string[];
  readonly tunnel: TunnelEncapsulation;
  readonly shape: Connection['shape'];
  /** What is said of clusters by themselves; of those that are left out nothing is. */
  readonly sides: readonly ConnectionSide[];
  /** Gateways or relays of each cluster: 1 to 16. */
  readonly gateways: number;
  readonly rendezvous: string;
  /** The day that exports are dated with: 2026-11-23. */
  readonly today: string;
  /** Whether every service that its clusters hold is exported. */
  readonly exportsServices: boolean;
}

/** One part of a proposal. */
export interface JoinGroup {
  readonly title: string;
  readonly operations: readonly Operation[];
}

/** A connection as one difference, with what is left to decide. */
export interface ConnectionProposal {
  readonly groups: readonly JoinGroup[];
  /** What stands in the way and no change of the known kinds mends. */
  readonly problems: readonly string[];
  readonly openSteps: readonly string[];
  /** The plan with all of it, and with the public addresses that an open step asks for. */
  readonly plan: Plan;
  readonly connectionId: string;
  readonly translated: number;
  readonly moved: readonly JoinedRange[];
  readonly openings: number;
  /** Clusters whose gateways were tried with public addresses that nobody has decided yet. */
  readonly undecided: readonly string[];
}

/** A way that does not work, and the state that says why. */
interface Open {
  readonly pair: Pair;
  readonly connected: ConnectionState;
}

function keyOf({ from, to }: Pair): string {
  return `${from.id} ${to.id}`;
}

/** Gateways that are lost: none. */
const none: ReadonlySet<string> = new Set();
/** Members up to which each one’s takeover is tried alone, too. */
const MAX_APART = 8;

/** Prefixes that one rule names, at most. */
const MAX_PEERS = 200;

/** Openings and routes that one proposal tries, so that it ends. */
const MAX_MENDS = 120;

/** Works out a connection of some clusters: gateways, translated or moved ranges, filter openings and routes, exported services. */
export function proposeConnection(plan: Plan, wish: ConnectionRequest): ConnectionProposal {
  return new ConnectionMaker(plan, wish).make();
}

/** What a connection that is in the plan still takes: translated or moved ranges, openings and routes. */
export function mendConnection(plan: Plan, connectionId: string): ConnectionProposal | undefined {
  const connection = byId(plan.connections, connectionId);
  if (connection === undefined) return undefined;
  const { name, method, tunnel, shape, rendezvous } = connection;
  const clusterIds = plan.members
    .filter((member) => member.connectionId === connectionId)
    .map(({ clusterId }) => clusterId);
  const wish: ConnectionRequest = {
    name,
    method,
    clusterIds,
    tunnel,
    shape,
    sides: [],
    gateways: 2,
    rendezvous,
    today: '',
    exportsServices: false,
  };
  return new ConnectionMaker(plan, wish, connectionId).make();
}

class ConnectionMaker {
  private plan: Plan;
  private readonly groups: JoinGroup[] = [];
  private readonly problems: string[] = [];
  private readonly openSteps: string[] = [];
  private readonly connectionId: string;
  private readonly clusters: readonly Cluster[];
  private translated = 0;
  private moved: readonly JoinedRange[] = [];
  private openings = 0;
  private readonly assumed = new Set<string>();
  private last: Forwarding | undefined;

  constructor(
    plan: Plan,
    private readonly wish: ConnectionRequest,
    private readonly standingId?: string,
  ) {
    this.plan = plan;
    this.connectionId = standingId ?? newId();
    this.clusters = wish.clusterIds.flatMap((id) => byId(plan.clusters, id) ?? []);
  }

  make(): ConnectionProposal {
    if (this.standingId === undefined) this.connection();
    if (!this.isStuck()) {
      if (this.wish.method === 'flat') this.flat();
      else if (this.wish.method === 'tunnels') this.distinct();
      // What cannot be at all is not opened for.
      if (!this.isStuck()) this.openUp();
      if (this.wish.exportsServices) this.exports();
    }
    const { groups, problems, openSteps, plan, connectionId, translated, moved, openings } = this;
    const undecided = [...this.assumed];
    return { groups, problems, openSteps, plan, connectionId, translated, moved, openings, undecided };
  }

  private isStuck(): boolean {
    return this.problems.length > 0;
  }

  /** Takes a part in, or says why it cannot be. */
  private add(title: string, operations: readonly Operation[]): boolean {
    if (operations.length === 0) return true;
    const applied = applyOperations(this.plan, operations);
    if (!applied.ok) {
      this.problems.push(...applied.problems.map(({ message, fix }) => `${message} ${fix}`.trim()));
      return false;
    }
    this.plan = applied.plan;
    const last = this.groups.at(-1);
    if (last?.title === title)
      this.groups[this.groups.length - 1] = { title, operations: [...last.operations, ...operations] };
    else this.groups.push({ title, operations });
    return true;
  }

  private get members(): readonly Member[] {
    return this.plan.members.filter(({ connectionId }) => connectionId === this.connectionId);
  }

  private connection(): void {
    const { name, method, tunnel, shape, sides, gateways, rendezvous } = this.wish;
    if (this.clusters.length < 2) {
      this.problems.push(formatProposed('connection.too-few'));
      return;
    }
    const slug = slugOf(name) || 'join';
    const connection = withFallbacks('connections', {
      id: this.connectionId,
      name,
      method,
      tunnel,
      shape,
      rendezvous,
      keyReference: method === 'flat' ? '' : `keys/connections/${slug.slice(0, 31)}`,
      isPlanned: true,
    });
    const ids = new Set<string>();
    const hub = sides.find(({ isHub }) => isHub)?.clusterId ?? this.clusters[0]?.id;
    const members = this.clusters.map((cluster) => {
      const base = slugOf(cluster.name) || 'cluster';
      let memberId = base;
      for (let n = 2; ids.has(memberId); n++) memberId = `${base.slice(0, 58)}-${n}`;
      ids.add(memberId);
      const side = sides.find(({ clusterId }) => clusterId === cluster.id);
      return withFallbacks('members', {
        id: newId(),
        connectionId: this.connectionId,
        clusterId: cluster.id,
        memberId,
        gateways: method === 'flat' ? 1 : gateways,
        isHub: shape === 'hub' && cluster.id === hub,
        ...(method === 'flat' || side === undefined
          ? {}
          : { dials: side.dials, gatewayAddresses: side.gatewayAddresses }),
      });
    });
    this.add(`${name}: ${method}, ${members.length} members`, [
      addOperation('connections', connection),
      ...members.map((member) => addOperation('members', member)),
    ]);
    if (method !== 'flat')
      this.openSteps.push(formatProposed('connection.key', { connection: name, reference: connection.keyReference }));
    if (rendezvous === '' && method !== 'flat' && this.clusters.length > 2)
      this.openSteps.push(formatProposed('connection.no-rendezvous'));
  }

  /** Members must show distinct ranges: of those that clash either some move, while nothing is built, or all are translated. */
  private distinct(): void {
    const clashes = clashesOfMembers(this.plan, 'tunnels', this.members);
    const clashing = new Map(byRange(clashes).map((each) => [each.range.allocation.id, each]));
    // What somebody else has whom a member reaches is as little to be shown as what another member has.
    for (const { cluster, allocation, own, shown, viewer } of this.taken())
      if (!clashing.has(allocation.id))
        clashing.set(allocation.id, { range: { cluster, allocation, own, shown }, others: [viewer] });
    if (clashing.size === 0) return;
    const move = clashes.length < clashing.size && clashes.length === 0 ? [] : toMove(clashes);
    // Moving takes fewer ranges than translating; it is out of the question where a cluster runs or a range is pinned.
    if (
      move.length > 0 &&
      clashes.length > 0 &&
      byRange(clashes).length === clashing.size &&
      move.every(({ cluster, allocation }) => !cluster.isBuilt && !allocation.isPinned) &&
      move.every(({ allocation }) => allocation.purpose !== 'node')
    ) {
      if (this.move(move)) return;
    }
    const space = new PoolSpace(this.plan);
    const wanted = [...clashing.values()].filter(({ range }) => range.shown !== undefined);
    const byMember = new Map<string, string[]>();
    for (const { range, others } of wanted) {
      const member = this.members.find(({ clusterId }) => clusterId === range.cluster.id);
      const placed = space.place(demandOf(range));
      if (member === undefined || placed === undefined) {
        this.problems.push(
          formatProposed('connection.no-room-translated', {
            purpose: range.allocation.purpose,
            prefix: formatPrefix(range.own),
            length: range.own.length,
            cluster: range.cluster.name,
            others: others.map(({ name }) => name),
          }),
        );
        continue;
      }
      byMember.set(member.id, [
        ...(byMember.get(member.id) ?? member.translated),
        `${formatPrefix(range.own)} as ${formatPrefix(placed.prefix)}`,
      ]);
      this.translated++;
    }
    this.add(
      formatProposed('connection.translated'),
      [...byMember].map(([id, translated]) => setOperation('members', id, { translated })),
    );
  }

  private taken() {
    const connection = byId(this.plan.connections, this.connectionId);
    return connection === undefined ? [] : takenRanges(this.plan, Forwarding.of(this.plan), connection, this.members);
  }

  /** New ranges of the same size that nobody else has. */
  private move(ranges: readonly JoinedRange[]): boolean {
    const space = new PoolSpace(this.plan, new Set(ranges.map(({ allocation }) => allocation.id)));
    const placed = ranges.map((range) => ({ range, to: space.place(demandOf(range))?.prefix }));
    if (placed.some(({ to }) => to === undefined)) return false;
    this.moved = ranges;
    return this.add(
      formatProposed('connection.moved'),
      placed.map(({ range, to }) =>
        setOperation('allocations', range.allocation.id, {
          prefix: to === undefined ? range.allocation.prefix : formatPrefix(to),
        }),
      ),
    );
  }

  private flat(): void {
    const overlay = this.clusters.filter(({ podMode }) => podMode === 'overlay');
    if (overlay.length > 0)
      this.problems.push(formatProposed('connection.overlay', { clusters: overlay.map(({ name }) => name) }));
    if (overlay.length > 0) return;
    const clashes = clashesOfMembers(this.plan, 'flat', this.members);
    if (clashes.length === 0) return;
    const move = toMove(clashes);
    const pinned = move.filter(({ cluster, allocation }) => cluster.isBuilt || allocation.isPinned);
    const [first] = clashes;
    if (pinned.length > 0 && first !== undefined)
      this.problems.push(
        formatProposed('connection.pinned', { clash: beginning(formatClash(first)), pinned: pinned.length }),
      );
    else if (!this.move(move)) this.problems.push(formatProposed('connection.no-room'));
  }

  /** Openings and routes one after the other, each only where the way got further by it. */
  private openUp(): void {
    const losses = this.losses();
    this.openFor(none);
    this.assumePublic();
    this.askForPublic();
    for (const lost of losses) this.openFor(lost);
    const open = [...this.failing(new Set(), none)];
    // What a takeover lacks is a problem of its own: while all gateways stand nothing fails.
    const later = open.length > 0 ? [] : losses.flatMap((lost) => [...this.failing(new Set(), lost)]);
    const say = ({ pair, connected }: Open) =>
      `${this.nameOf(pair.from)} to ${this.nameOf(pair.to)}: ${connected.description(pair)}`;
    const hub = this.hubAmong(open);
    if (hub !== undefined) this.problems.push(formatProposed('connection.hub', { hub }));
    const [first] = later;
    if (first !== undefined) this.problems.push(formatProposed('connection.takeover', { way: say(first) }));
    if (open.length > 0)
      this.problems.push(
        ...open.slice(0, 4).map(say),
        ...(open.length > 4 ? [`and ${open.length - 4} other ways`] : []),
      );
    if (this.wish.method === 'tunnels' && this.wish.tunnel === 'vxlan')
      this.openSteps.push(formatProposed('connection.vxlan'));
  }

  /**
   * Where gateways meet over the internet alone, one of the two must have a public address: tried with one for the hub, or for the member
   * that most others wait for, and so on; each is kept only where more ways work by it.
   */
  private assumePublic(): void {
    const tried = new Set<string>();
    for (;;) {
      const failing = [...this.failing(new Set(), none)];
      const waiting = failing.filter(({ pair, connected }) => connected.failureOf(pair) === 'private-destination');
      const count = ({ id }: Member) => waiting.filter(({ pair }) => pair.from.id === id || pair.to.id === id).length;
      const [best] = this.members
        .filter(
          ({ id, dials, gatewayAddresses }) => !tried.has(id) && dials !== 'dials' && gatewayAddresses.length === 0,
        )
        .filter((member) => count(member) > 0)
        .sort((one, other) => Number(other.isHub) - Number(one.isHub) || count(other) - count(one));
      if (best === undefined) return;
      tried.add(best.id);
      const { plan, openings } = this;
      const groups = [...this.groups];
      if (!this.standIn(best)) return;
      this.openFor(none);
      if ([...this.failing(new Set(), none)].length < failing.length) this.assumed.add(best.clusterId);
      else {
        this.plan = plan;
        this.openings = openings;
        this.groups.splice(0, this.groups.length, ...groups);
      }
    }
  }

  /** Gives a member’s gateways addresses that stand for public ones; false where these run out, so that the ways say why they fail. */
  private standIn({ id, clusterId, gateways }: Member): boolean {
    const family = byId(this.plan.clusters, clusterId)?.family === 'ipv6' ? 6 : 4;
    const gatewayAddresses = standIns(this.plan, family, gateways);
    if (gatewayAddresses.length < gateways) return false;
    const applied = applyOperations(this.plan, [setOperation('members', id, { gatewayAddresses })]);
    if (applied.ok) this.plan = applied.plan;
    return applied.ok;
  }

  private askForPublic(): void {
    for (const clusterId of this.assumed) {
      const member = this.members.find((each) => each.clusterId === clusterId);
      if (member === undefined) continue;
      this.openSteps.push(
        formatProposed('connection.public', {
          cluster: this.nameOf(member),
          gateways: member.gateways,
          areRelays: this.wish.method === 'relays',
        }),
      );
    }
  }

  /** In a full mesh over the internet: the member that all others reach, where these do not reach one another. */
  private hubAmong(open: readonly Open[]): string | undefined {
    if (open.length === 0 || this.assumed.size === 0 || this.wish.shape === 'hub') return undefined;
    const failing = new Set(open.flatMap(({ pair }) => [pair.from.id, pair.to.id]));
    const hub = this.members.find(({ id }) => !failing.has(id));
    return hub === undefined ? undefined : this.nameOf(hub);
  }

  private openFor(lost: ReadonlySet<string>): void {
    const blocked = new Set<string>();
    for (let tries = 0; tries < MAX_MENDS; tries++) {
      const [open] = this.failing(blocked, lost);
      if (open === undefined) break;
      const failing = open.connected.failing(open.pair);
      const [candidate] = failing === undefined ? [] : mendsAt(this.plan, failing);
      const isTaken =
        candidate !== undefined &&
        this.add(
          formatProposed('connection.openings', { connection: this.wish.name }),
          this.forAllMembers(candidate.operations),
        );
      if (!isTaken) blocked.add(keyOf(open.pair));
      else if (candidate.operations.some(({ kind }) => kind === 'filterRules' || kind === 'firewallRules'))
        this.openings++;
    }
  }

  /** An opening for the range of one member is one for those of all others: each has one rule, however many there are. */
  private forAllMembers(operations: readonly Operation[]): readonly Operation[] {
    return operations.map((operation) => {
      if (operation.op !== 'add' || operation.kind !== 'filterRules') return operation;
      const rule = operation.entity as FilterRule;
      const own = new Set(byId(this.plan.filters, rule.filterId)?.clusterIds);
      const ranges = this.members.flatMap(
        ({ clusterId }) => grouped(this.plan.allocations, 'clusterId').get(clusterId) ?? [],
      );
      const meant = ranges.find(({ prefix, clusterId }) => rule.peers.includes(prefix) && !own.has(clusterId));
      if (meant === undefined) return operation;
      const isLike = ({ purpose, prefix, clusterId }: Allocation) =>
        purpose === meant.purpose && prefix.includes(':') === meant.prefix.includes(':') && !own.has(clusterId);
      const peers = [...new Set([...rule.peers, ...ranges.filter(isLike).map(({ prefix }) => prefix)])];
      return peers.length > MAX_PEERS ? operation : { ...operation, entity: { ...rule, peers } };
    });
  }

  /**
   * The gateways that are gone while others carry: each one’s that come before another; and, of a few members, those of
   * one member alone.
   */
  private losses(): ReadonlySet<string>[] {
    if (this.wish.method === 'flat') return [];
    const { members } = this;
    const most = Math.max(1, ...members.map(({ gateways }) => gateways));
    const before = (of: readonly Member[], count: number) =>
      new Set(
        of.flatMap(({ id, gateways }) =>
          Array.from({ length: Math.min(count, gateways - 1) }, (_, at) => `${id} ${at}`),
        ),
      );
    const found: ReadonlySet<string>[] = [];
    for (let count = 1; count < most; count++) {
      found.push(before(members, count));
      if (members.length <= MAX_APART) found.push(...members.map((member) => before([member], count)));
    }
    return found.filter((lost) => lost.size > 0);
  }

  /** Ways that do not work yet, with some gateways lost; those of clusters without ranges are said once they have some. */
  private *failing(blocked: ReadonlySet<string>, lost: ReadonlySet<string>): Generator<Open> {
    this.last = Forwarding.of(asStanding(this.plan, this.connectionId), this.last);
    const forwarding = lost.size === 0 ? this.last : this.last.with({ ...NO_FAULTS, gateways: lost });
    const connected = new ConnectionState({ ...this.plan, connections: this.last.parts.connections }, forwarding);
    const connection = byId(this.last.parts.connections, this.connectionId);
    if (connection === undefined) return;
    for (const from of this.members)
      for (const to of this.members) {
        if (from === to) continue;
        const pair = connected.pair(connection, from, to);
        if (pair.verdict !== 'pass' && !blocked.has(keyOf(pair))) yield { pair, connected };
      }
  }

  private nameOf({ clusterId }: Member): string {
    return byId(this.plan.clusters, clusterId)?.name ?? '';
  }

  private exports(): void {
    const operations = this.members.flatMap((member) =>
      this.plan.services
        .filter(({ clusterId, type }) => clusterId === member.clusterId && type !== 'ExternalName')
        .map(({ namespace, name }) =>
          addOperation(
            'serviceExports',
            withFallbacks('serviceExports', {
              id: newId(),
              memberId: member.id,
              namespace,
              name,
              createdOn: this.wish.today,
            }),
          ),
        ),
    );
    this.add('Exported services', operations);
  }
}

/** The plan as if a connection stood; without one, as if all planned ones did. */
export function asStanding<P extends Pick<Plan, 'connections'>>(plan: P, connectionId?: string): P {
  const connections = plan.connections.map((each) =>
    each.isPlanned && (connectionId === undefined || each.id === connectionId) ? { ...each, isPlanned: false } : each,
  );
  return { ...plan, connections };
}

/** Addresses that stand for public ones which are not decided: of documentation space (RFC 5737, RFC 3849), where nobody has them. */
function standIns(plan: Plan, family: 4 | 6, count: number): string[] {
  const taken = new Set([
    ...[...plan.natDevices, ...plan.firewalls].flatMap(({ publicAddresses }) => publicAddresses),
    ...plan.balancers.map(({ address }) => address),
    ...plan.members.flatMap(({ gatewayAddresses }) => gatewayAddresses),
  ]);
  const numbers = Array.from({ length: 254 }, (_, i) => 254 - i);
  const all =
    family === 6
      ? numbers.map((n) => `2001:db8:ffff:ffff::${n.toString(16)}`)
      : ['198.51.100', '203.0.113', '192.0.2'].flatMap((start) => numbers.map((n) => `${start}.${n}`));
  return all.filter((address) => !taken.has(address)).slice(0, count);
}

/** Space that no other range has, since what members show is known to all of them. */
function demandOf({ cluster, allocation, own }: JoinedRange) {
  return {
    clusterId: cluster.id,
    siteId: cluster.siteId,
    networkId: cluster.networkId,
    purpose: allocation.purpose,
    family: own.family,
    length: own.length,
    roomLength: own.length,
    isInternal: false,
    isSubnet: false,
  };
}

/** Small letters, digits and hyphens, as long as a label may be. */
function slugOf(name: string): string {
  return name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, MAX_LABEL)
    .replace(/-+$/, '');
}
