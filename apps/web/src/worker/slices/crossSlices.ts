import {
  asStanding,
  compareWays,
  faultKey,
  faultsOf,
  ConnectionState,
  connected as connectionsSection,
  describeUse,
  mendConnection,
  proposeConnection,
  runDrill,
  formatFault,
  setMatrix,
  sheetRows,
  valueSheets,
} from '@wide-lattice/core/crosscluster';
import { forwarding } from '@wide-lattice/core/forwarding';
import { byId, groupBy, meshLinks } from '@wide-lattice/core/plan';
import type {
  Drill,
  Fault,
  ConnectionNeeds,
  ConnectionProposal,
  ConnectionRequest,
  UseCell,
  ValueSheet,
} from '@wide-lattice/core/crosscluster';
import { urlOfImported } from '@wide-lattice/core/naming';
import type { Imported } from '@wide-lattice/core/naming';
import type { Cluster, Connection, ConnectionMethod, Member, Plan } from '@wide-lattice/core/plan';
import type { Steps } from '@wide-lattice/core/working';
import type { SliceHost } from '../sliceHost';
import { shown } from './figures';
import type { ShownFigure } from './figures';
import { consequenceRows } from './podNetwork';
import type { ConsequenceRow, ShownSensitivity } from './podNetwork';

/** One kind of connection as it is compared. */
interface ShownWay {
  readonly method: ConnectionMethod;
  readonly excluded: readonly string[];
  readonly score: ShownFigure;
}

/** The three kinds side by side. */
export interface ShownWays {
  readonly ways: readonly ShownWay[];
  readonly rows: readonly ConsequenceRow[];
  readonly winner: ConnectionMethod | undefined;
  readonly sensitivities: readonly ShownSensitivity[];
}

/** A cell of the matrix of exported services. */
export type ShownUse = Pick<UseCell, 'verdict' | 'floorMs' | 'isTooFar' | 'room'>;

/** One cluster by every exported service. */
export interface ShownUseRow {
  readonly id: string;
  readonly name: string;
  readonly site: string;
  readonly cells: readonly (ShownUse | undefined)[];
}

/** Clusters by exported services. */
export interface ShownUses {
  readonly columns: readonly {
    readonly key: string;
    readonly service: string;
    readonly connection: string;
    readonly method: ConnectionMethod;
    readonly url: string;
  }[];
  readonly rows: readonly ShownUseRow[];
  /** How many services are exported, those that are not shown among them. */
  readonly services: number;
}

/** Services shown at once; of more, those that the filter finds. */
const MAX_SERVICES = 40;

/** A fault that can be drilled. */
export interface ShownFault {
  readonly key: string;
  readonly label: string;
}

/** One row of what a drill changes: clusters to which the same happens are told together. */
export interface ShownChange {
  readonly service: string;
  readonly connection: string;
  readonly outcome: string;
  readonly clusters: readonly string[];
  readonly before: string;
  readonly after: string;
  readonly description: string;
  readonly seconds: number | undefined;
}

/** What a drill shows. */
export interface ShownDrill extends Omit<Drill, 'changes' | 'members' | 'connected'> {
  readonly labels: readonly string[];
  readonly changes: readonly ShownChange[];
  readonly members: readonly {
    readonly cluster: string;
    readonly connection: string;
    readonly method: ConnectionMethod;
    readonly carries: number | undefined;
    readonly left: number;
    readonly leftMbps: number | undefined;
    readonly plannedMbps: number | undefined;
    readonly seconds: number;
  }[];
}

/** A site with what is joined there. */
export interface MapSite {
  readonly id: string;
  readonly name: string;
  readonly latitude: number;
  readonly longitude: number;
  readonly isEdge: boolean;
  readonly clusters: readonly string[];
}

/** Ways between two sites: those of a connection together. */
export interface MapWay {
  readonly from: string;
  readonly to: string;
  readonly connection: string;
  readonly method: ConnectionMethod;
  readonly isPlanned: boolean;
  readonly passes: number;
  /** Ways that the plan cannot judge yet. */
  readonly unknown: number;
  readonly of: number;
  readonly km: number;
  readonly floorMs: number;
  readonly room: number;
  readonly description: string;
}

/** Sites by their coordinates with the ways between them. */
export interface SiteMap {
  readonly sites: readonly MapSite[];
  readonly ways: readonly MapWay[];
  /** Sites that are joined and have no coordinates. */
  readonly placeless: readonly string[];
}

/** Pairs of one connection that a map asks at most: of more, each member with the first. */
const MAX_DRAWN = 2000;

/** Clusters that work as one. */
export const crossSlices = {
  *connectionComparison(
    { plan }: SliceHost,
    wish: Omit<ConnectionRequest, 'method'>,
    needs: ConnectionNeeds,
  ): Steps<ShownWays | undefined> {
    if (wish.clusterIds.length < 2) return undefined;
    const { ways, winner, sensitivities } = yield* compareWays(plan, wish, needs);
    return {
      ways: ways.map(({ method, excluded, score }) => ({ method, excluded, score: shown(score) })),
      rows: consequenceRows(ways),
      winner,
      sensitivities: sensitivities.map((each) => ({ ...each, winner: each.winner?.method })),
    };
  },
  connectionProposal: ({ plan }: SliceHost, wish: ConnectionRequest): Omit<ConnectionProposal, 'plan'> | undefined =>
    wish.clusterIds.length < 2 ? undefined : withoutPlan(proposeConnection(plan, wish)),
  connectionMend: ({ plan }: SliceHost, connectionId: string): Omit<ConnectionProposal, 'plan'> | undefined => {
    const fix = connectionId === '' ? undefined : mendConnection(plan, connectionId);
    return fix === undefined ? undefined : withoutPlan(fix);
  },
  *uses(host: SliceHost, wanted: string): Steps<ShownUses> {
    yield* host.evaluation.inSteps(setMatrix);
    return usesOf(host, wanted);
  },
  /** Why a cell is not reached, or by whom it is answered. */
  useDescription: ({ plan, evaluation }: SliceHost, clusterId: string, key: string): string => {
    const imported = evaluation.ask(setMatrix).columns.find((column) => column.key === key)?.imported;
    const connected = evaluation.ask(connectionsSection);
    return imported === undefined ? '' : described(connected, imported, byId(plan.clusters, clusterId));
  },
  faults: ({ plan, evaluation }: SliceHost): readonly ShownFault[] =>
    faultsOf(plan, evaluation.ask(connectionsSection)).map((fault) => ({
      key: faultKey(fault),
      label: formatFault(plan, fault),
    })),
  drill: ({ plan, evaluation }: SliceHost, keys: readonly string[]): ShownDrill | undefined => {
    const connected = evaluation.ask(connectionsSection);
    const all = new Map(faultsOf(plan, connected).map((fault) => [faultKey(fault), fault]));
    const faults = keys.flatMap((key) => all.get(key) ?? []);
    if (faults.length === 0) return undefined;
    return shownDrill(plan, runDrill({ parts: plan, connected, matrix: evaluation.ask(setMatrix) }, faults), faults);
  },
  valueSheets: ({ plan, evaluation }: SliceHost, connectionId: string): readonly ValueSheet[] =>
    valueSheets(plan, evaluation.ask(forwarding), connectionId === '' ? undefined : connectionId),
  valueRows: ({ plan, evaluation }: SliceHost, connectionId: string): readonly Readonly<Record<string, string>>[] =>
    sheetRows(valueSheets(plan, evaluation.ask(forwarding), connectionId === '' ? undefined : connectionId)),
  siteMap: (host: SliceHost): SiteMap => siteMap(host),
};

function withoutPlan({ plan: _, ...proposal }: ConnectionProposal): Omit<ConnectionProposal, 'plan'> {
  return proposal;
}

function described(connected: ConnectionState, imported: Imported, cluster: Cluster | undefined): string {
  const member = connected.membersOf(imported.connection.id).find(({ clusterId }) => clusterId === cluster?.id);
  return member === undefined ? '' : describeUse(connected, imported, member);
}

function usesOf({ plan, evaluation }: SliceHost, wanted: string): ShownUses {
  const matrix = evaluation.ask(setMatrix);
  const labelled = matrix.columns.map((column) => {
    const { connection, namespace, name } = column.imported;
    return { column, service: `${namespace}/${name}`, connection: connection.name };
  });
  const told = labelled
    .filter(({ service, connection }) => `${service} ${connection}`.toLowerCase().includes(wanted.toLowerCase()))
    .slice(0, MAX_SERVICES);
  return {
    services: labelled.length,
    columns: told.map(({ column: { key, imported }, service, connection }) => ({
      key,
      service,
      connection,
      method: imported.connection.method,
      url: urlOfImported(imported),
    })),
    rows: matrix.rows.map(({ id, name, siteId }, at) => ({
      id,
      name,
      site: byId(plan.sites, siteId)?.name ?? '',
      cells: told.map(({ column: { cells } }) => shownUse(cells[at])),
    })),
  };
}

function shownUse(cell: UseCell | undefined): ShownUse | undefined {
  if (cell === undefined) return undefined;
  const { verdict, floorMs, isTooFar, room } = cell;
  return { verdict, floorMs, isTooFar, room };
}

function shownDrill(
  plan: Plan,
  { changes, members, connected, ...drill }: Drill,
  faults: readonly Fault[],
): ShownDrill {
  const told = changes.map(({ cluster, imported, outcome, before, after, seconds }) => ({
    cluster,
    imported,
    service: `${imported.namespace}/${imported.name}`,
    connection: imported.connection.name,
    outcome,
    before: before.from.join(', '),
    after: after.from.join(', '),
    seconds,
  }));
  const groups = groupBy(told, ({ service, connection, outcome, before, after, seconds }) =>
    [service, connection, outcome, before, after, seconds ?? ''].join('\n'),
  );
  return {
    ...drill,
    labels: faults.map((fault) => formatFault(plan, fault)),
    changes: [...groups.values()].flatMap((all) => {
      const [first] = all;
      if (first === undefined) return [];
      const { cluster, imported, ...shownChange } = first;
      const description = described(connected, imported, cluster);
      return [{ ...shownChange, description, clusters: all.map((each) => each.cluster.name) }];
    }),
    members: members.map(({ cluster, connection, carries, left, leftMbps, plannedMbps, seconds }) => ({
      cluster,
      connection: connection.name,
      method: connection.method,
      carries,
      left,
      leftMbps,
      plannedMbps,
      seconds,
    })),
  };
}

function siteMap({ plan, evaluation }: SliceHost): SiteMap {
  const present = evaluation.ask(forwarding);
  const standing = asStanding(plan);
  const isOther = plan.connections.some(({ isPlanned }) => isPlanned);
  const connected = isOther
    ? new ConnectionState(
        standing,
        present.with(present.faults, { ...present.parts, connections: standing.connections }),
      )
    : evaluation.ask(connectionsSection);
  const joined = new Map<string, Set<string>>();
  const ways = new Map<string, MapWay>();
  for (const connection of standing.connections) {
    const members = connected.membersOf(connection.id);
    for (const member of members) {
      const { siteId, name } = connected.clusterOf(member);
      joined.set(siteId, (joined.get(siteId) ?? new Set<string>()).add(name));
    }
    const ordered = drawnPairs(connection, members);
    for (const [one, other] of ordered) {
      const [from, to] = [connected.clusterOf(one).siteId, connected.clusterOf(other).siteId].sort() as [
        string,
        string,
      ];
      const pair = connected.pair(connection, one, other);
      if (from === to || pair.km === undefined) continue;
      const key = `${connection.id} ${from} ${to}`;
      const known = ways.get(key);
      const isPassing = pair.verdict === 'pass';
      ways.set(key, {
        from,
        to,
        connection: connection.name,
        method: connection.method,
        isPlanned: byId(plan.connections, connection.id)?.isPlanned === true,
        passes: (known?.passes ?? 0) + (isPassing ? 1 : 0),
        unknown: (known?.unknown ?? 0) + (pair.verdict === 'unknown' ? 1 : 0),
        of: (known?.of ?? 0) + 1,
        km: Math.round(pair.km),
        floorMs: pair.floorMs ?? 0,
        room: isPassing
          ? Math.min(known === undefined || known.room === 0 ? Infinity : known.room, pair.room)
          : (known?.room ?? 0),
        description:
          known === undefined || known.description === '' || (known.passes === known.of && !isPassing)
            ? connected.description(pair)
            : known.description,
      });
    }
  }
  const sites = placedSites(plan, joined);
  const placed = new Set(sites.map(({ id }) => id));
  return {
    sites,
    ways: [...ways.values()],
    placeless: [...joined.keys()].filter((id) => !placed.has(id)).map((id) => byId(plan.sites, id)?.name ?? ''),
  };
}

/** The ways that are drawn of a connection: of a large mesh those to one member. Each direction is a way of its own: what passes there may be refused back. */
function drawnPairs(connection: Connection, members: readonly Member[]): (readonly [Member, Member])[] {
  const hub = members.find(({ isHub }) => isHub) ?? members[0];
  const isMesh = connection.shape === 'full mesh' && meshLinks(members.length) <= MAX_DRAWN;
  const pairs =
    isMesh || connection.method === 'flat'
      ? members.flatMap((one, at) => members.slice(at + 1).map((other) => [one, other] as const))
      : members.flatMap((one) => (hub === undefined || one === hub ? [] : [[one, hub] as const]));
  return pairs.flatMap(([one, other]) => [[one, other] as const, [other, one] as const]);
}

/** Sites with coordinates, by their ids with the clusters that are joined there. */
function placedSites(plan: Plan, joined: ReadonlyMap<string, ReadonlySet<string>>): MapSite[] {
  return [...joined].flatMap(([id, clusters]): MapSite[] => {
    const site = byId(plan.sites, id);
    if (site?.latitude == null || site.longitude === null) return [];
    const { name, latitude, longitude, kind } = site;
    return [{ id, name, latitude, longitude, isEdge: kind === 'edge', clusters: [...clusters] }];
  });
}
