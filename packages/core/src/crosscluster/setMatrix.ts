import { formatBlocked, formatPair } from '../english/index.js';
import { exportReads, importsOf } from '../naming/index.js';
import type { Exporter, ExportParts, Imported } from '../naming/index.js';
import { byId, hostPrefix } from '../plan/index.js';
import type { Cluster, ClusterService, Connection, Member } from '../plan/index.js';
import type { PairTarget } from './aims.js';
import type { Pair, PairSet } from './pair.js';
import type { ConnectionState } from './pairs.js';

/** How a cluster stands to a service: it reaches all that are to answer, a part of them, none, may not use it, or the plan does not say. */
export type UseVerdict = 'pass' | 'part' | 'refused' | 'broken' | 'unknown' | 'closed';

/** One cluster and one exported service. */
export interface UseCell {
  readonly verdict: UseVerdict;
  /** Who answers. */
  readonly from: readonly string[];
  /** The rank that answers. */
  readonly rank: number;
  /** Milliseconds of a round trip that light takes at least to the farthest that answers; undefined where it is not known. */
  readonly floorMs: number | undefined;
  /** Whether that is more than the service allows. */
  readonly isTooFar: boolean;
  /** Largest packet that passes whole to all that answer. */
  readonly room: number;
}

/** A column: one exported service. */
export interface UseColumn {
  readonly key: string;
  readonly imported: Imported;
  /** By the number of the row; undefined where the cluster is not a member of its connection. */
  readonly cells: readonly (UseCell | undefined)[];
}

/** Clusters by exported services; after an edit, cells that it did not touch are taken over. */
export class SetMatrix {
  readonly rows: readonly Cluster[];
  readonly columns: readonly UseColumn[];
  private counted: number | undefined;

  private constructor(
    private readonly parts: ExportParts,
    readonly connected: ConnectionState,
    columns: readonly UseColumn[],
    rows: readonly Cluster[],
  ) {
    this.rows = rows;
    this.columns = columns;
  }

  /** From nothing. */
  static of(parts: ExportParts, connected: ConnectionState): SetMatrix {
    const rows = rowsOf(connected);
    const columns = importedIn(parts, connected).map((imported) => columnOf(connected, imported, rows));
    return new SetMatrix(parts, connected, columns, rows);
  }

  /** After an edit or in a drill: columns whose exports changed are made anew, and of the others the cells whose ways did. */
  after(parts: ExportParts, connected: ConnectionState, changed: PairSet): SetMatrix {
    const rows = rowsOf(connected);
    const isSameRows = rows.length === this.rows.length && rows.every((row, i) => row === this.rows[i]);
    if (!isSameRows) return SetMatrix.of(parts, connected);
    const stale = staleRows(connected, rows, changed);
    const columns = exportReads.every((kind) => parts[kind] === this.parts[kind])
      ? this.columns.map((column) => follow(connected, column, stale))
      : this.columnsAnew(parts, connected, stale);
    return new SetMatrix(parts, connected, columns, rows);
  }

  private columnsAnew(parts: ExportParts, connected: ConnectionState, stale: StaleRows): UseColumn[] {
    const known = new Map(this.columns.map((column) => [column.key, column]));
    return importedIn(parts, connected).map((imported) => {
      const last = known.get(keyOf(imported));
      return last === undefined || !isSameImport(last.imported, imported)
        ? columnOf(connected, imported, this.rows)
        : follow(connected, last, stale);
    });
  }

  /** How many cells reach their service, at least in part. */
  get reached(): number {
    return (this.counted ??= this.columns.reduce((sum, column) => sum + reachedIn(column), 0));
  }

  /** The same of a state that was made from this one: counted anew where a column is another. */
  reachedIn(next: SetMatrix): number {
    return next.columns.reduce((sum, column, at) => {
      const last = this.columns[at];
      return column === last || last === undefined ? sum : sum + reachedIn(column) - reachedIn(last);
    }, this.reached);
  }
}

/** Whether a cell reaches its service, at least in part. */
export function isReached(cell: UseCell | undefined): boolean {
  return cell?.verdict === 'pass' || cell?.verdict === 'part';
}

function reachedIn({ cells }: UseColumn): number {
  return cells.reduce((sum, cell) => sum + (isReached(cell) ? 1 : 0), 0);
}

function keyOf({ connection, namespace, name }: Imported): string {
  return `${connection.id} ${namespace}/${name}`;
}

/** Clusters that some connection that stands has as a member. */
function rowsOf({ parts, forwarding }: ConnectionState): Cluster[] {
  return parts.clusters.filter(({ id }) => forwarding.crossings.of(id).length > 0);
}

function importedIn(parts: ExportParts, { parts: { connections } }: ConnectionState): Imported[] {
  return connections.filter(({ isPlanned }) => !isPlanned).flatMap((connection) => importsOf(parts, connection));
}

function columnOf(connected: ConnectionState, imported: Imported, rows: readonly Cluster[]): UseColumn {
  const members = new Map(connected.membersOf(imported.connection.id).map((member) => [member.clusterId, member]));
  return { key: keyOf(imported), imported, cells: rows.map((row) => cellOf(connected, imported, members.get(row.id))) };
}

/** By the id of the member that is asked, the members whose cells are asked again, with the numbers of their rows. */
type StaleRows = ReadonlyMap<string, readonly { readonly at: number; readonly member: Member }[]>;

function staleRows(connected: ConnectionState, rows: readonly Cluster[], changed: PairSet): StaleRows {
  if (changed.size === 0) return new Map();
  const places = new Map(rows.map(({ id }, at) => [id, at]));
  const { members } = connected.parts;
  return new Map(
    [...changed].map(([asked, ids]) => {
      const all = [];
      for (const id of ids) {
        const member = byId(members, id);
        const at = places.get(member?.clusterId ?? '');
        if (member !== undefined && at !== undefined) all.push({ at, member });
      }
      return [asked, all] as const;
    }),
  );
}

function follow(connected: ConnectionState, last: UseColumn, stale: StaleRows): UseColumn {
  let cells: (UseCell | undefined)[] | undefined;
  // Of several exporters the same row may be stale for each.
  const done = new Set<number>();
  for (const { member: asked } of last.imported.exporters)
    for (const { at, member } of stale.get(asked.id) ?? []) {
      if (done.has(at)) continue;
      done.add(at);
      cells ??= [...last.cells];
      cells[at] = cellOf(connected, last.imported, member);
    }
  return cells === undefined ? last : { ...last, cells };
}

function isSameImport(a: Imported, b: Imported): boolean {
  const isSame = (one: readonly Exporter[], other: readonly Exporter[]) =>
    one.length === other.length &&
    one.every(
      (each, i) =>
        each.exported === other[i]?.exported &&
        each.member === other[i].member &&
        each.cluster === other[i].cluster &&
        each.service === other[i].service,
    );
  return a.connection === b.connection && isSame(a.exporters, b.exporters) && isSame(a.contradicting, b.contradicting);
}

interface Way {
  readonly exporter: Exporter;
  readonly pair: Pair | undefined;
  readonly verdict: Pair['verdict'];
}

/** What a cell is made from. */
interface Judged {
  readonly cell: UseCell;
  readonly is: 'closed' | 'weightless' | 'unreached' | 'by name' | 'answered';
  /** The way that does not pass: of those that are to answer, or of all. */
  readonly missing: Way | undefined;
}

const unreached = (verdict: UseVerdict): UseCell => ({
  verdict,
  from: [],
  rank: 0,
  floorMs: undefined,
  isTooFar: false,
  room: 0,
});
/** Cells without an answer, one for each verdict. */
const UNREACHED: Readonly<Record<Exclude<UseVerdict, 'pass' | 'part'>, UseCell>> = {
  refused: unreached('refused'),
  broken: unreached('broken'),
  unknown: unreached('unknown'),
  closed: unreached('closed'),
};
const CLOSED: Judged = { cell: UNREACHED.closed, is: 'closed', missing: undefined };
const WEIGHTLESS: Judged = { cell: UNREACHED.broken, is: 'weightless', missing: undefined };

/** One cell; undefined where the cluster is no member. */
export function cellOf(
  connected: ConnectionState,
  imported: Imported,
  member: Member | undefined,
): UseCell | undefined {
  return member === undefined ? undefined : judged(connected, imported, member).cell;
}

/** Why a cell is not reached, or by whom it is answered, in a sentence. */
export function describeUse(connected: ConnectionState, imported: Imported, member: Member): string {
  const { cell, is, missing } = judged(connected, imported, member);
  const why = missing === undefined ? '' : describeWay(connected, missing);
  const { from } = cell;
  switch (is) {
    case 'closed':
      return formatPair({ code: 'use.closed' });
    case 'weightless':
      return formatPair({ code: 'use.no-weight' });
    case 'unreached':
      return why;
    case 'by name':
      return formatPair({ code: 'use.by-name', from });
    case 'answered':
      return missing === undefined
        ? formatPair({ code: 'use.answered', from })
        : formatPair({ code: 'use.in-part', from, cluster: missing.exporter.cluster.name, why });
  }
}

function judged(connected: ConnectionState, imported: Imported, member: Member): Judged {
  const ways: Way[] = [];
  let isOpen = false;
  for (const exporter of imported.exporters) {
    const { exported, cluster } = exporter;
    const { usedByIds, weight } = exported;
    const mayUse = usedByIds.length === 0 || cluster.id === member.clusterId || usedByIds.includes(member.clusterId);
    if (!mayUse) continue;
    isOpen = true;
    if (weight > 0) ways.push(wayTo(connected, imported.connection, member, exporter));
  }
  if (!isOpen) return CLOSED;
  // The name leads to the lowest rank that tunnels reach, also where it is not known who is meant there.
  let rank = Infinity;
  for (const { verdict, pair, exporter } of ways)
    if (verdict === 'pass' || (verdict === 'unknown' && pair !== undefined))
      rank = Math.min(rank, exporter.exported.rank);
  const answering = ways.filter(({ verdict, exporter }) => verdict === 'pass' && exporter.exported.rank === rank);
  if (answering.length === 0) {
    const first = ways.reduce<Way | undefined>(
      (best, each) => (best === undefined || each.exporter.exported.rank < best.exporter.exported.rank ? each : best),
      undefined,
    );
    if (first === undefined) return WEIGHTLESS;
    const verdict = first.verdict === 'pass' ? 'broken' : first.verdict;
    return { cell: UNREACHED[verdict], is: 'unreached', missing: first };
  }
  const isNamed = imported.isHeadless && imported.connection.method === 'relays';
  const isNameless =
    isNamed && answering.some(({ exporter }) => exporter.member.id !== member.id && !exporter.exported.mirrorsPods);
  const missing = ways.find(({ exporter, verdict }) => verdict !== 'pass' && exporter.exported.rank <= rank);
  return {
    cell: {
      verdict: missing === undefined && !isNameless ? 'pass' : 'part',
      from: answering.map(({ exporter }) => exporter.cluster.name),
      rank,
      ...farthestOf(answering),
    },
    is: isNameless ? 'by name' : 'answered',
    missing,
  };
}

/** How far the farthest of those that answer is, and the largest packet that passes to all of them. */
function farthestOf(answering: readonly Way[]): Pick<UseCell, 'floorMs' | 'isTooFar' | 'room'> {
  let floorMs: number | undefined = 0;
  let most = Infinity;
  let room = Infinity;
  for (const { pair, exporter } of answering) {
    const far = pair === undefined ? 0 : pair.floorMs;
    floorMs = floorMs === undefined || far === undefined ? undefined : Math.max(floorMs, far);
    most = Math.min(most, exporter.exported.maxRoundTripMs ?? Infinity);
    room = Math.min(room, pair?.room ?? Infinity);
  }
  return { floorMs, isTooFar: floorMs !== undefined && floorMs > most, room: room === Infinity ? 0 : room };
}

function wayTo(connected: ConnectionState, connection: Connection, member: Member, exporter: Exporter): Way {
  const { service, member: other } = exporter;
  if (service === undefined || connected.faultOf(service) !== undefined)
    return { exporter, pair: undefined, verdict: 'broken' };
  if (other.id === member.id) return { exporter, pair: undefined, verdict: 'pass' };
  const pair = connected.pair(connection, member, other, targetOf(service));
  if (pair.verdict !== 'pass') return { exporter, pair, verdict: pair.verdict };
  return { exporter, pair, verdict: connected.refusedBy(pair, service) === undefined ? 'pass' : 'refused' };
}

function targetOf(service: ClusterService): PairTarget {
  if (service.type === 'headless') return 'pods';
  return service.address === null ? 'service' : hostPrefix(service.address);
}

/** Why a way does not pass, in a sentence; empty when it does. */
function describeWay(connected: ConnectionState, { exporter, pair }: Way): string {
  const { service, exported, cluster } = exporter;
  if (service === undefined)
    return formatBlocked(connected.forwarding.parts, {
      code: 'export.no-service',
      cluster: cluster.name,
      service: `${exported.namespace}/${exported.name}`,
    });
  const fault = connected.faultOf(service);
  if (fault !== undefined || pair === undefined) return fault ?? '';
  return pair.verdict === 'pass' ? (connected.refusedBy(pair, service) ?? '') : connected.description(pair);
}
