import { overlaps } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { byId, grouped, prefixesOf, rangeOf, USUAL_PREFERENCE } from '../plan/index.js';
import type { Link, LinkKind, Route, RouteTable, Subnet } from '../plan/index.js';
import type { LookUp, NextHop, RouteRow } from '../road/index.js';
import { isSameList } from '../section/index.js';
import type { ForwardingParts } from './forwardingParts.js';
import type { Links } from './links.js';
import { compileLink, isSameMembers } from './linkTable.js';
import type { LinkMember, LinkRow, LinkTable } from './linkTable.js';
import type { Holder, NetworkSpace } from './networkSpace.js';
import { decideRow } from './routeRow.js';
import { RowLookup } from './rowLookup.js';
import type { Spaces } from './spaces.js';

interface StaticRows {
  readonly routes: readonly Route[];
  readonly rows: readonly RouteRow[];
  readonly lookup: RowLookup;
}

interface OwnRows {
  readonly rows: readonly RouteRow[];
  readonly lookup: RowLookup;
}

/** What routes in a network: its space, and its tables and links as they are compiled. */
export interface Routing {
  readonly space: NetworkSpace;
  readonly compiled: readonly unknown[];
  readonly astray: () => readonly Prefix[];
}

type Parts = Pick<
  ForwardingParts,
  'routeTables' | 'routes' | 'links' | 'natDevices' | 'firewalls' | 'profiles' | 'sites'
>;

const none: readonly never[] = [];

/** The tables of networks, with what was entered, what they hold themselves and what links bring: each compiled when it is first asked for. */
export class Routes {
  private readonly linkTables = new Map<string, LinkTable>();
  private readonly staticRows = new Map<string, StaticRows>();
  private readonly ownRows = new Map<string, OwnRows>();

  constructor(
    private readonly parts: Parts,
    private readonly spaces: Spaces,
    private readonly links: Links,
    private before?: Routes,
  ) {}

  /** Takes nothing more over from the state before, which can then be let go. */
  release(): void {
    this.before = undefined;
  }

  /** What routes in a network. */
  inNetwork(networkId: string): Routing {
    const space = this.spaces.of(networkId);
    const tables = (grouped(this.parts.routeTables, 'networkId').get(networkId) ?? none).map((each) =>
      this.typed(each),
    );
    const links = this.links.of(networkId).map((link) => this.compiledLink(link));
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
    for (const link of this.links.of(networkId)) rows.push(...this.learned(networkId, link, destination));
    return decideRow(destination, rows);
  }

  /** Every row of a table, derived ones included, as they are shown and counted. */
  rowsOf(networkId: string, table: RouteTable | undefined): readonly RouteRow[] {
    return [
      ...this.own(networkId).rows,
      ...(table === undefined ? none : this.typed(table).rows),
      ...this.links.of(networkId).flatMap((link) => this.allLearned(networkId, link)),
    ];
  }

  /**
   * Who on a link takes packets to an address: of the networks whose routes the sender accepts, the one that advertises
   * the longest prefix around it, a default included.
   */
  nextHopOnLink(link: Link, fromNetworkId: string, destination: Address): string | undefined {
    const row = this.compiledLink(link)
      .rows.around(destination)
      .find(({ networkId }) => networkId !== fromNetworkId && this.links.accepts(link, fromNetworkId, networkId));
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

  /** Local rows, a row for the nodes of each routed pod range, and what it advertises without anybody having entered it. */
  private own(networkId: string) {
    const known = this.ownRows.get(networkId);
    if (known !== undefined) return known;
    const space = this.spaces.of(networkId);
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
    const links = this.links.of(networkId);
    return links.flatMap((link) => {
      const attachment = this.links.attachmentOf(link, networkId);
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
    if (row.networkId === networkId || !this.links.accepts(link, networkId, row.networkId)) return undefined;
    return {
      prefix: row.prefix,
      origin: 'learned',
      preference: this.links.attachmentOf(link, networkId)?.localPreference ?? USUAL_PREFERENCE,
      rank: this.preferenceOf(networkId).indexOf(link.kind),
      hop: { kind: 'link', link, toNetworkId: row.networkId },
      subject: row.attachmentId === '' ? { kind: 'links', id: link.id } : { kind: 'attachments', id: row.attachmentId },
      from: { is: 'learned', networkId: row.networkId, linkId: link.id },
    };
  }

  /** The kinds of links, best first, as the provider of the network prefers them; of several, that of its first cluster or subnet. */
  private preferenceOf(networkId: string): readonly LinkKind[] {
    const { clusters, subnets } = this.spaces.of(networkId).parts;
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
      const attachment = this.links.attachmentOf(link, networkId);
      if (attachment?.isPlanned === true) return [];
      const listed = attachment === undefined ? none : prefixesOf(attachment);
      return [{ networkId, attachment, advertised: listed.length > 0 ? listed : this.spaces.of(networkId).advertised }];
    });
    const last = this.before?.linkTables.get(link.id);
    const isSame = last !== undefined && last.link === link && isSameMembers(last.members, members);
    const made = isSame ? last : compileLink(link, members, last);
    this.linkTables.set(link.id, made);
    return made;
  }
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
