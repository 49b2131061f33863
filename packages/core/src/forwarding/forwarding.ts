import { containsAddress, overlaps } from '../address/index.js';
import type { Address, Family, Prefix } from '../address/index.js';
import {
  addTo,
  byId,
  changedBetween,
  groupBy,
  grouped,
  prefixesOf,
  prefixList,
  rangeOf,
  USUAL_PREFERENCE,
} from '../plan/index.js';
import type {
  Allocation,
  Attachment,
  Cluster,
  Connection,
  Filter,
  FilterRule,
  Firewall,
  FirewallRule,
  InUseRange,
  Link,
  LinkKind,
  Member,
  Plan,
  PrefixSet,
  Route,
  RouteTable,
  Subnet,
} from '../plan/index.js';
import { found, lacking } from '../road/index.js';
import type { Found, LookUp, NextHop, RouteRow } from '../road/index.js';
import { isSameList } from '../section/index.js';
import type { Near } from '../section/index.js';
import { changedIds, isSameBut } from './changedIds.js';
import { attachmentsOf, compiledRule, inPlace } from './compiledLists.js';
import type { CompiledFilter } from './compiledLists.js';
import { Crossings, NO_FAULTS, pairKey } from './crossings.js';
import type { Crossing, Faults } from './crossings.js';
import { rangesIn, withOtherRanges } from './forwardingParts.js';
import type { ForwardingParts, RangesOf } from './forwardingParts.js';
import { groundOf } from './ground.js';
import type { Ground, Routing } from './ground.js';
import { internetAddresses } from './host.js';
import type { Host } from './host.js';
import { compileLink, isSameMembers } from './linkTable.js';
import type { LinkMember, LinkRow, LinkTable } from './linkTable.js';
import { isSameInSpace, NetworkSpace } from './networkSpace.js';
import type { Holder, SpaceParts } from './networkSpace.js';
import { decideRow } from './routeRow.js';
import { RowLookup } from './rowLookup.js';
import { RuleList } from './ruleList.js';
import type { CompiledRule } from './ruleList.js';
import { carrying, gatewayOf, makeTunnel } from './tunnels.js';
import type { Gateway, Tunnel } from './tunnels.js';

interface StaticRows {
  readonly routes: readonly Route[];
  readonly rows: readonly RouteRow[];
  readonly lookup: RowLookup;
}

interface OwnRows {
  readonly space: NetworkSpace;
  readonly rows: readonly RouteRow[];
  readonly lookup: RowLookup;
}

/** A filter as it was compiled last, and from what. */
interface LastFilter {
  readonly rules: readonly FilterRule[];
  readonly members: readonly Prefix[];
  readonly sets: readonly PrefixSet[];
  readonly compiled: CompiledFilter;
}

/** The same of a firewall. */
interface LastFirewall {
  readonly rules: readonly FirewallRule[];
  readonly sets: readonly PrefixSet[];
  readonly list: RuleList;
}

// By the entity: what was not asked for in one state is still known in the next.
const compiledFilters = new WeakMap<Filter, LastFilter>();
const compiledFirewalls = new WeakMap<Firewall, LastFirewall>();

const none: readonly never[] = [];

/**
 * How packets are forwarded in a plan: the space of each network, its tables with typed and derived rows, filters and firewalls.
 * Each is compiled when it is first asked for; of the state before, what an edit did not touch is taken over.
 */
export class Forwarding {
  private readonly spaces: Map<string, NetworkSpace>;
  private readonly linkTables: Map<string, LinkTable>;
  private readonly staticRows: Map<string, StaticRows>;
  private readonly ownRows: Map<string, OwnRows>;
  private readonly filters: Map<string, LastFilter>;
  private readonly firewalls: Map<string, LastFirewall>;
  private attachedTo: ReadonlyMap<string, readonly Filter[]> | undefined;
  private byNetwork: ReadonlyMap<string, readonly Cluster[]> | undefined;
  private linksByNetwork: ReadonlyMap<string, readonly Link[]> | undefined;
  private attachments: ReadonlyMap<string, Attachment> | undefined;
  private inUse: ReadonlyMap<string, readonly InUseRange[]> | undefined;
  private standIns: readonly Address[] | undefined;
  /** Of which networks an edit met the space; once it was asked for. */
  private touched: { readonly networks: Near } | undefined;
  private areOthersSame: boolean | undefined;
  /** Of what is being asked, the lists it was held against; undefined while nobody wants to know. */
  private met: Set<string> | undefined;
  private readonly tunnels: Map<string, Tunnel>;
  private readonly grounds = new Map<string, Ground>();
  /** Connections as packets meet them. */
  readonly crossings: Crossings;

  constructor(
    readonly parts: ForwardingParts,
    readonly rangesOf: RangesOf,
    private before?: Forwarding,
    /** What is gone in a drill. */
    readonly faults: Faults = NO_FAULTS,
  ) {
    const changed = before === undefined ? undefined : changedIds(before, this);
    // What no rule has a part in is the same, also where nobody has asked for it since.
    const same = changed === undefined ? undefined : before;
    this.spaces = same?.spaces ?? new Map<string, NetworkSpace>();
    this.linkTables = same?.linkTables ?? new Map<string, LinkTable>();
    this.staticRows = same?.staticRows ?? new Map<string, StaticRows>();
    this.ownRows = same?.ownRows ?? new Map<string, OwnRows>();
    this.linksByNetwork = same?.linksByNetwork;
    this.attachments = same?.attachments;
    this.inUse = same?.inUse;
    this.standIns = same?.standIns;
    const isKept = ([id]: readonly [string, unknown]) => changed?.has(id) === false;
    this.filters = new Map([...(same?.filters ?? [])].filter(isKept));
    this.firewalls = new Map([...(same?.firewalls ?? [])].filter(isKept));
    const isSame = same?.parts.connections === parts.connections && same.parts.members === parts.members;
    this.crossings = same !== undefined && isSame ? same.crossings : new Crossings(parts, rangesOf);
    // Tunnels rest on devices and nodes that a lost zone takes along.
    const isSameGround =
      faults.zones === same?.faults.zones || faults.zones.size + (same?.faults.zones.size ?? 0) === 0;
    this.tunnels =
      same === undefined || changed === undefined || !isSameGround
        ? new Map<string, Tunnel>()
        : changed.size === 0
          ? same.tunnels
          : kept(same.tunnels, changed);
  }

  /** Forwarding of a plan that nobody evaluates, such as one with a change tried out. */
  static of(plan: Plan, before?: Forwarding): Forwarding {
    return new Forwarding(plan, rangesIn(grouped(plan.allocations, 'clusterId')), before);
  }

  /** The same state in a drill. */
  with(faults: Faults, parts: ForwardingParts = this.parts): Forwarding {
    return new Forwarding(parts, this.rangesOf, this, faults);
  }

  /** Tunnels that rest on nothing that these ids name, and that come up, are as they were before: made for the others alone. */
  takeTunnels(before: Forwarding, gone: ReadonlySet<string>): void {
    for (const [key, tunnel] of before.tunnels)
      if (tunnel.isUp && !this.tunnels.has(key) && !dependsOn(tunnel, gone)) this.tunnels.set(key, tunnel);
  }

  /** How a pod’s packets to an address outside its own cluster cross to another one by tunnels; none where its network forwards them. */
  crossingsTo(clusterId: string, destination: Address): readonly Crossing[] {
    if (!this.crossings.hasTunnels(clusterId)) return none;
    if (this.rangeAt(clusterId, destination) !== undefined) return none;
    const groups = this.crossings.to(clusterId, destination);
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
    const all = this.crossings
      .allBetween(from.cluster.id, asked.cluster.id)
      .filter(({ connection }) => connection.method === 'tunnels');
    const carrying = all.length < 2 ? all[0] : (all.find((each) => this.isUp(each)) ?? all[0]);
    return carrying === undefined
      ? asked.address
      : this.crossings.shownIn(carrying.connection.id, asked.cluster.id, asked.address);
  }

  /** Whether every tunnel of a crossing is up. */
  private isUp({ connection, stops, isHubMissing }: Crossing): boolean {
    if (isHubMissing) return false;
    return stops.slice(0, -1).every((member, at) => {
      const tunnel = this.tunnelBetween(connection, member, stops[at + 1] as Member);
      return tunnel.ok && tunnel.value.isUp;
    });
  }

  /** The addresses that stand for the internet. */
  get internet(): readonly Address[] {
    this.standIns ??= internetAddresses(this, 4);
    return this.standIns;
  }

  /** The range of a cluster that an address lies in. */
  rangeAt(clusterId: string, address: Address): Allocation | undefined {
    return this.rangesOf(clusterId).find((range) => containsAddress(rangeOf(range), address));
  }

  /** A gateway or relay of a member by its number, from 0. */
  gatewayOf(member: Member, index: number, family?: Family): Found<Gateway> {
    return gatewayOf(this, member, index, family);
  }

  /** The gateway of a member that carries. */
  carrying(member: Member, family?: Family): Found<Gateway> {
    return carrying(this, member, family);
  }

  /** The tunnel or link between the gateways of two members that carry; why there is none. */
  tunnelBetween(connection: Connection, one: Member, other: Member): Found<Tunnel> {
    if (this.faults.pairs.has(pairKey(one, other)))
      return lacking({ code: 'tunnel.cut', clusterIds: [one.clusterId, other.clusterId] });
    const family = this.familyOfTunnel(one, other);
    const [a, b] = [carrying(this, one, family), carrying(this, other, family)];
    if (!a.ok) return a;
    if (!b.ok) return b;
    const key =
      one.id < other.id
        ? `${one.id} ${a.value.index} ${other.id} ${b.value.index}`
        : `${other.id} ${b.value.index} ${one.id} ${a.value.index}`;
    const known = this.tunnels.get(key);
    for (const id of known?.dependsOn ?? []) this.met?.add(id);
    if (known !== undefined) return found(known);
    const made = makeTunnel(this, connection, a.value, b.value);
    this.tunnels.set(key, made);
    return found(made);
  }

  /** The family that the gateways of two members share, IPv4 before IPv6; undefined where they share none. */
  private familyOfTunnel(one: Member, other: Member): Family | undefined {
    const families = [one, other].map(({ clusterId }) => byId(this.parts.clusters, clusterId)?.family ?? 'ipv4');
    if (families.every((family) => family !== 'ipv6')) return 4;
    return families.every((family) => family !== 'ipv4') ? 6 : undefined;
  }

  /** Compiles nothing more from the state before, which can then be let go. */
  release(): void {
    this.before = undefined;
  }

  /** The space of a network. */
  space(networkId: string): NetworkSpace {
    const known = this.spaces.get(networkId);
    if (known !== undefined) return known;
    const last = this.before?.spaces.get(networkId);
    const parts = last !== undefined && this.isUntouched(networkId) ? last.parts : this.spaceParts(networkId);
    const space = last !== undefined && isSameSpace(last.parts, parts) ? last : new NetworkSpace(parts);
    this.spaces.set(networkId, space);
    return space;
  }

  /** What decides about packets within a network: the same object as in the state before while nothing of it is another. */
  groundOf(networkId: string): Ground {
    const known = this.grounds.get(networkId);
    if (known !== undefined) return known;
    const last = this.before?.grounds.get(networkId);
    const made = groundOf(this, networkId, last, last !== undefined && this.isOnGround(networkId));
    this.grounds.set(networkId, made);
    return made;
  }

  /** Whether an edit was only of clusters or ranges, and met nothing of a network: its links alone may bring something else. */
  private isOnGround(networkId: string): boolean {
    this.areOthersSame ??= this.before !== undefined && isSameBut(this.before, this, ofClusters);
    return this.areOthersSame && this.isUntouched(networkId);
  }

  /** What routes in a network. */
  routingOf(networkId: string): Routing {
    const space = this.space(networkId);
    const tables = (grouped(this.parts.routeTables, 'networkId').get(networkId) ?? none).map((each) =>
      this.typed(each),
    );
    const links = this.linksOf(networkId).map((link) => this.compiledLink(link));
    const astray = () => [
      ...tables.flatMap(({ rows }) => rows.filter(({ prefix, hop }) => hop.kind !== 'local' && space.holds(prefix))),
      ...links.flatMap(({ link, rows }) =>
        space.advertised
          .flatMap((own) => rows.inside(own))
          .flatMap((row) => this.learnedRow(networkId, link, row) ?? []),
      ),
    ];
    return { space, compiled: [...tables, ...links], astray: () => astray().map(({ prefix }) => prefix) };
  }

  /** The main table of a network: that of the zone where it has one, else that of the whole network. */
  mainTable(networkId: string, zone = ''): RouteTable | undefined {
    const tables = (grouped(this.parts.routeTables, 'networkId').get(networkId) ?? none).filter(({ isMain }) => isMain);
    return (
      (zone === '' ? undefined : tables.find((each) => each.zone === zone)) ?? tables.find((each) => each.zone === '')
    );
  }

  /** The table that holds for a subnet: its own, else the main one of its network and zone. */
  tableOf({
    routeTableId,
    networkId,
    zone,
  }: Pick<Subnet, 'routeTableId' | 'networkId' | 'zone'>): RouteTable | undefined {
    return byId(this.parts.routeTables, routeTableId ?? '') ?? this.mainTable(networkId, zone);
  }

  /** Looks an address up in a table of a network, or in its derived routes alone when it has no table. */
  lookUp(networkId: string, table: RouteTable | undefined, destination: Address): LookUp {
    const own = this.own(networkId);
    const rows: RouteRow[] = own.lookup.all(destination).map((at) => own.rows[at] as RouteRow);
    if (table !== undefined) {
      const typed = this.typed(table);
      for (const at of typed.lookup.all(destination)) rows.push(typed.rows[at] as RouteRow);
    }
    for (const link of this.linksOf(networkId)) rows.push(...this.learned(networkId, link, destination));
    return decideRow(destination, rows);
  }

  /** Every row of a table, derived ones included, as they are shown and counted. */
  rowsOf(networkId: string, table: RouteTable | undefined): readonly RouteRow[] {
    return [
      ...this.own(networkId).rows,
      ...(table === undefined ? none : this.typed(table).rows),
      ...this.linksOf(networkId).flatMap((link) => this.allLearned(networkId, link)),
    ];
  }

  /**
   * Who on a link takes packets to an address: of the networks whose routes the sender accepts, the one that advertises
   * the longest prefix around it, a default included.
   */
  nextHopOnLink(link: Link, fromNetworkId: string, destination: Address): string | undefined {
    const row = this.compiledLink(link)
      .rows.around(destination)
      .find(({ networkId }) => networkId !== fromNetworkId && this.accepts(link, fromNetworkId, networkId));
    if (row !== undefined) return row.networkId;
    // A tunnel or circuit has only one other side; a peering hands on what its sides advertise and nothing behind them.
    const others = link.networkIds.filter((id) => id !== fromNetworkId);
    return link.kind === 'hub' || link.kind === 'peering' ? undefined : others[0];
  }

  /** Everything that is advertised on a link, and by whom. */
  advertisedOn(link: Link): readonly { readonly prefix: Prefix; readonly networkId: string }[] {
    return this.compiledLink(link).rows.all;
  }

  /** The networks that advertise a route to an address on a link, the longest prefix first. */
  advertisersOf(link: Link, destination: Address): readonly string[] {
    return this.compiledLink(link)
      .rows.around(destination)
      .map(({ networkId }) => networkId);
  }

  /** The filters attached to an entity, in the order of the plan. */
  filtersAt(...ids: readonly (string | undefined)[]): readonly CompiledFilter[] {
    this.attachedTo ??= this.before?.parts.filters === this.parts.filters ? this.before.attachedTo : undefined;
    this.attachedTo ??= attachmentsOf(this.parts.filters);
    const attached = new Set<Filter>();
    for (const id of ids) for (const filter of this.attachedTo.get(id ?? '') ?? none) attached.add(filter);
    if (attached.size === 0) return none;
    for (const { id } of attached) this.met?.add(id);
    return [...attached].map((filter) => this.compiled(filter));
  }

  /** What is answered, and the filters and firewalls that anything of it was held against. */
  withLists<T>(ask: () => T): { readonly answer: T; readonly lists: readonly string[] } {
    const [around, met] = [this.met, new Set<string>()];
    this.met = met;
    try {
      return { answer: ask(), lists: [...met].filter((id) => this.listOf(id) !== undefined) };
    } finally {
      this.met = around;
      for (const id of met) around?.add(id);
    }
  }

  /** A filter or firewall as it is compiled: the same object while its rules say the same. */
  listOf(id: string): CompiledFilter | RuleList | undefined {
    const filter = byId(this.parts.filters, id);
    if (filter !== undefined) return this.compiled(filter);
    const firewall = byId(this.parts.firewalls, id);
    return firewall === undefined ? undefined : this.rulesOf(firewall);
  }

  /** The rules of a firewall. */
  rulesOf(firewall: Firewall): RuleList {
    this.met?.add(firewall.id);
    const known = this.firewalls.get(firewall.id);
    if (known !== undefined) return known.list;
    const rules = inPlace(grouped(this.parts.firewallRules, 'firewallId').get(firewall.id) ?? none);
    const last = compiledFirewalls.get(firewall);
    const sets = this.parts.prefixSets;
    const isSame = last?.sets === sets && isSameList(last.rules, rules);
    const made = isSame ? last : { rules, sets, list: new RuleList(rules.map((rule) => this.ofFirewall(rule))) };
    compiledFirewalls.set(firewall, made);
    this.firewalls.set(firewall.id, made);
    return made.list;
  }

  /** Links that stand and that a network stands on. */
  linksOf(networkId: string): readonly Link[] {
    if (this.linksByNetwork === undefined) {
      const map = new Map<string, Link[]>();
      for (const link of this.parts.links) {
        if (link.isPlanned) continue;
        for (const id of link.networkIds) {
          if (this.attachmentOf(link, id)?.isPlanned === true) continue;
          addTo(map, id, link);
        }
      }
      this.linksByNetwork = map;
    }
    return this.linksByNetwork.get(networkId) ?? none;
  }

  /** What a network says and takes over a link; undefined where nothing is decided: everything. */
  attachmentOf(link: Link, networkId: string): Attachment | undefined {
    this.attachments ??= new Map(this.parts.attachments.map((each) => [`${each.linkId} ${each.networkId}`, each]));
    return this.attachments.get(`${link.id} ${networkId}`);
  }

  /** Whether a network takes what another one on a link advertises. */
  accepts(link: Link, networkId: string, fromId: string): boolean {
    const attachment = this.attachmentOf(link, networkId);
    if (attachment === undefined || attachment.accepts === 'all') return true;
    return attachment.accepts === 'listed' && attachment.acceptsFromIds.includes(fromId);
  }

  /** The prefixes of a filter's members: where rules that name the filter find their peers. */
  membersOf(filterId: string): readonly Prefix[] {
    const filter = byId(this.parts.filters, filterId);
    if (filter === undefined) return none;
    const nodes = (clusterId: string) =>
      this.rangesOf(clusterId)
        .filter(({ purpose }) => purpose === 'node' || this.isRoutable(clusterId, purpose))
        .map(rangeOf);
    return [
      ...filter.clusterIds.flatMap(nodes),
      ...filter.nodePoolIds.flatMap((id) => nodes(byId(this.parts.nodePools, id)?.clusterId ?? '')),
      ...filter.subnetIds.flatMap((id) => byId(this.parts.subnets, id) ?? []).map(rangeOf),
      ...filter.endpointIds
        .flatMap((id) => byId(this.parts.endpoints, id) ?? [])
        .flatMap(({ address }) => prefixList([`${address}/${address.includes(':') ? 128 : 32}`])),
    ];
  }

  private isRoutable(clusterId: string, purpose: Allocation['purpose']): boolean {
    return purpose === 'pod' && byId(this.parts.clusters, clusterId)?.podMode !== 'overlay';
  }

  /** Whether nothing that makes the space of a network is another object than before: asked once for all of them. */
  private isUntouched(networkId: string): boolean {
    this.touched ??= { networks: touchedBetween(this.before, this) };
    return this.touched.networks?.has(networkId) === false;
  }

  private spaceParts(networkId: string): SpaceParts {
    this.byNetwork ??= this.before?.parts.clusters === this.parts.clusters ? this.before.byNetwork : undefined;
    this.byNetwork ??= grouped(this.parts.clusters, 'networkId');
    return {
      blocks: grouped(this.parts.blocks, 'networkId').get(networkId) ?? none,
      subnets: grouped(this.parts.subnets, 'networkId').get(networkId) ?? none,
      inUse: this.inUseOf(networkId),
      clusters: (this.byNetwork.get(networkId) ?? none).map((cluster) => ({
        cluster,
        ranges: this.rangesOf(cluster.id),
      })),
    };
  }

  private inUseOf(networkId: string): readonly InUseRange[] {
    this.inUse ??= groupBy(this.parts.inUse, (range) => range.networkId ?? '');
    return this.inUse.get(networkId) ?? none;
  }

  /** Local rows, a row for the nodes of each routed pod range, and what it advertises without anybody having entered it. */
  private own(networkId: string) {
    const known = this.ownRows.get(networkId);
    if (known !== undefined) return known;
    const space = this.space(networkId);
    const rows = [
      ...space.local.map((holder) => localRow(holder)),
      ...space.routed.map((holder): RouteRow => ({
        ...localRow(holder),
        origin: 'pods',
        hop: { kind: 'pods', clusterId: holder.cluster?.id ?? '' },
        from: { is: 'per node', clusterId: holder.cluster?.id ?? '' },
      })),
      ...this.unentered(networkId, space),
    ];
    const made = { space, rows, lookup: new RowLookup(rows.map(({ prefix }) => prefix)) };
    this.ownRows.set(networkId, made);
    return made;
  }

  /** Prefixes that a network advertises, that lie in nothing of its own, and that nobody advertises to it: they are somewhere in it. */
  private unentered(networkId: string, space: NetworkSpace): RouteRow[] {
    const links = this.linksOf(networkId);
    return links.flatMap((link) => {
      const attachment = this.attachmentOf(link, networkId);
      if (attachment === undefined) return [];
      return prefixesOf(attachment).flatMap((prefix): RouteRow[] => {
        const isElsewhere =
          prefix.length === 0 ||
          space.holders.some((holder) => overlaps(holder.prefix, prefix)) ||
          links.some(
            (other) =>
              other.id !== link.id && this.allLearned(networkId, other).some((row) => overlaps(row.prefix, prefix)),
          );
        if (isElsewhere) return [];
        return [
          {
            prefix,
            origin: 'local',
            preference: 0,
            rank: 0,
            hop: { kind: 'local' },
            subject: { kind: 'attachments', id: attachment.id },
            from: { is: 'own advertisement' },
          },
        ];
      });
    });
  }

  private typed(table: RouteTable) {
    const known = this.staticRows.get(table.id);
    if (known !== undefined) return known;
    const routes = grouped(this.parts.routes, 'routeTableId').get(table.id) ?? none;
    const last = this.before?.staticRows.get(table.id);
    const isSame =
      last !== undefined &&
      isSameList(last.routes, routes) &&
      (['links', 'natDevices', 'firewalls'] as const).every((part) => this.before?.parts[part] === this.parts[part]);
    const rows = isSame ? last.rows : routes.map((route) => this.staticRow(route));
    const made = isSame ? last : { routes, rows, lookup: new RowLookup(rows.map(({ prefix }) => prefix)) };
    this.staticRows.set(table.id, made);
    return made;
  }

  private staticRow(route: Route): RouteRow {
    return {
      prefix: rangeOf(route),
      origin: 'static',
      preference: 0,
      rank: 0,
      hop: this.hopOf(route),
      subject: { kind: 'routes', id: route.id },
      from: { is: 'entered', intent: route.intent },
      route,
    };
  }

  private hopOf(route: Route): NextHop {
    const gone: NextHop = { kind: 'gone', route };
    switch (route.nextHop) {
      case 'link': {
        const link = byId(this.parts.links, route.linkId ?? '');
        return link === undefined ? gone : { kind: 'link', link, toNetworkId: undefined };
      }
      case 'nat':
        return byId(this.parts.natDevices, route.natDeviceId ?? '') === undefined
          ? gone
          : { kind: 'nat', id: route.natDeviceId ?? '' };
      case 'firewall':
        return byId(this.parts.firewalls, route.firewallId ?? '') === undefined
          ? gone
          : { kind: 'firewall', id: route.firewallId ?? '' };
      case 'internet':
      case 'drop':
        return { kind: route.nextHop };
    }
  }

  private learned(networkId: string, link: Link, destination: Address): RouteRow[] {
    return this.compiledLink(link)
      .rows.around(destination)
      .flatMap((row) => this.learnedRow(networkId, link, row) ?? []);
  }

  private allLearned(networkId: string, link: Link): RouteRow[] {
    return this.compiledLink(link).rows.all.flatMap((row) => this.learnedRow(networkId, link, row) ?? []);
  }

  private learnedRow(networkId: string, link: Link, row: LinkRow): RouteRow | undefined {
    if (row.networkId === networkId || !this.accepts(link, networkId, row.networkId)) return undefined;
    return {
      prefix: row.prefix,
      origin: 'learned',
      preference: this.attachmentOf(link, networkId)?.localPreference ?? USUAL_PREFERENCE,
      rank: this.preferenceOf(networkId).indexOf(link.kind),
      hop: { kind: 'link', link, toNetworkId: row.networkId },
      subject: row.attachmentId === '' ? { kind: 'links', id: link.id } : { kind: 'attachments', id: row.attachmentId },
      from: { is: 'learned', networkId: row.networkId, linkId: link.id },
    };
  }

  /** The kinds of links, best first, as the provider of the network prefers them; of several, that of its first cluster or subnet. */
  private preferenceOf(networkId: string): readonly LinkKind[] {
    const { clusters, subnets } = this.space(networkId).parts;
    const siteId = clusters[0]?.cluster.siteId ?? subnets[0]?.siteId ?? '';
    const profile = byId(this.parts.profiles, byId(this.parts.sites, siteId)?.profileId ?? '');
    const listed = profile?.routePreference ?? [];
    const all = ['peering', 'hub', 'circuit', 'tunnel'] as const;
    return [...listed, ...all.filter((kind) => !listed.includes(kind))];
  }

  private compiledLink(link: Link): LinkTable {
    const known = this.linkTables.get(link.id);
    if (known !== undefined) return known;
    const members = link.networkIds.flatMap((networkId): LinkMember[] => {
      const attachment = this.attachmentOf(link, networkId);
      if (attachment?.isPlanned === true) return [];
      const listed = attachment === undefined ? none : prefixesOf(attachment);
      return [{ networkId, attachment, advertised: listed.length > 0 ? listed : this.space(networkId).advertised }];
    });
    const last = this.before?.linkTables.get(link.id);
    const isSame = last !== undefined && last.link === link && isSameMembers(last.members, members);
    const made = isSame ? last : compileLink(link, members, last);
    this.linkTables.set(link.id, made);
    return made;
  }

  /** A filter with its rules. */
  compiled(filter: Filter): CompiledFilter {
    const known = this.filters.get(filter.id);
    if (known !== undefined) return known.compiled;
    const rules = inPlace(grouped(this.parts.filterRules, 'filterId').get(filter.id) ?? none);
    const last = compiledFilters.get(filter);
    const sets = this.parts.prefixSets;
    // Rules that name other filters follow their members; equal prefixes are one object.
    const members = rules.flatMap(({ peerFilterIds }) => peerFilterIds.flatMap((id) => this.membersOf(id)));
    const isSame = last?.sets === sets && isSameList(last.rules, rules) && isSameList(last.members, members);
    const list = (direction: 'in' | 'out') =>
      new RuleList(rules.filter((rule) => rule.direction === direction).map((rule) => this.ofFilter(rule)));
    const made = isSame ? last : { rules, members, sets, compiled: { filter, in: list('in'), out: list('out') } };
    compiledFilters.set(filter, made);
    this.filters.set(filter.id, made);
    return made.compiled;
  }

  private ofFilter(rule: FilterRule): CompiledRule {
    const named = rule.peerSetIds.length + rule.peerFilterIds.length;
    const listed = prefixList(rule.peers);
    const peers =
      named === 0
        ? listed
        : [...listed, ...this.setPrefixes(rule.peerSetIds), ...rule.peerFilterIds.flatMap((id) => this.membersOf(id))];
    const isNamed = rule.peers.length + named > 0;
    return {
      ...compiledRule(rule),
      sources: rule.direction === 'in' ? peers : [],
      destinations: rule.direction === 'in' ? [] : peers,
      isEmpty: isNamed && peers.length === 0,
    };
  }

  private ofFirewall(rule: FirewallRule): CompiledRule {
    return {
      ...compiledRule(rule),
      sources: [...prefixList(rule.sources), ...this.setPrefixes(rule.sourceSetIds)],
      destinations: [...prefixList(rule.destinations), ...this.setPrefixes(rule.destinationSetIds)],
      isEmpty: false,
    };
  }

  private setPrefixes(ids: readonly string[]): readonly Prefix[] {
    return ids.flatMap((id) => prefixList(byId(this.parts.prefixSets, id)?.prefixes ?? []));
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

function localRow(holder: Holder): RouteRow {
  return {
    prefix: holder.prefix,
    origin: 'local',
    preference: 0,
    rank: 0,
    hop: { kind: 'local' },
    subject: holder.subject,
    from: { is: 'held', name: holder.label },
  };
}

const ofClusters: ReadonlySet<string> = new Set(['clusters', 'nodePools']);

/** The networks of which something changed that their space is made of; any where it is not told by cluster. */
function touchedBetween(was: Forwarding | undefined, is: Forwarding): Near {
  const ranges = was === undefined ? undefined : withOtherRanges(was.rangesOf, is.rangesOf);
  const isSame = (['blocks', 'subnets', 'inUse'] as const).every((part) => was?.parts[part] === is.parts[part]);
  if (was === undefined || ranges === undefined || !isSame) return undefined;
  const { gone, come } = changedBetween(was.parts.clusters, is.parts.clusters);
  const resized = [was, is].flatMap(({ parts }) => [...ranges].flatMap((id) => byId(parts.clusters, id) ?? []));
  return new Set([...gone, ...come, ...resized].map(({ networkId }) => networkId));
}

function isSameSpace(a: SpaceParts, b: SpaceParts): boolean {
  return (
    isSameList(a.blocks, b.blocks) &&
    isSameList(a.subnets, b.subnets) &&
    isSameList(a.inUse, b.inUse) &&
    a.clusters.length === b.clusters.length &&
    a.clusters.every(
      ({ cluster, ranges }, at) =>
        isSameInSpace(cluster, b.clusters[at]?.cluster) && isSameList(ranges, b.clusters[at]?.ranges ?? none),
    )
  );
}
