import { gatewayZones, goneAt, groundOf, NO_FAULTS, pairKey } from '../forwarding/index.js';
import type { Faults, Forwarding } from '../forwarding/index.js';
import { serviceNamed } from '../naming/index.js';
import type { ExportParts, Imported } from '../naming/index.js';
import { byId, grouped, podsFor, selectedBy, zonesOfCluster } from '../plan/index.js';
import type { Cluster, Connection, Member, Plan } from '../plan/index.js';
import { carriedMbps, secondsToKnow } from './capacity.js';
import type { ConnectionState } from './pairs.js';
import { isReached } from './setMatrix.js';
import type { SetMatrix, UseCell } from './setMatrix.js';
import { formatProposed } from '../english/index.js';

/** What fails in a drill. */
export type Fault =
  | { readonly kind: 'gateway'; readonly memberId: string; readonly index: number }
  | { readonly kind: 'zone'; readonly siteId: string; readonly zone: string }
  | { readonly kind: 'site'; readonly siteId: string }
  | { readonly kind: 'link'; readonly linkId: string }
  | { readonly kind: 'way'; readonly memberId: string; readonly otherId: string }
  | { readonly kind: 'rendezvous'; readonly connectionId: string }
  | { readonly kind: 'member'; readonly memberId: string };

/** What becomes of a cell: answered by others, the same after a wait, fewer of those that are to answer, or nobody any more. */
export type DrillOutcome = 'fails over' | 'interrupted' | 'fewer' | 'lost' | 'gone';

/** One cell that a drill changes. */
export interface DrillChange {
  readonly cluster: Cluster;
  readonly imported: Imported;
  readonly outcome: DrillOutcome;
  readonly before: UseCell;
  readonly after: UseCell;
  /** Seconds until it is as it is afterwards; undefined where it stays lost. */
  readonly seconds: number | undefined;
}

/** A member’s gateways before and after, and what they carry. */
export interface DrilledMember {
  readonly member: Member;
  readonly connection: Connection;
  readonly cluster: string;
  /** The number of the gateway that carries afterwards, from 1; undefined for none. */
  readonly carries: number | undefined;
  readonly left: number;
  /** Mbit/s that what is left carries; undefined where it is not said. */
  readonly leftMbps: number | undefined;
  readonly plannedMbps: number | undefined;
  readonly seconds: number;
}

/** Pods of an exported service that are left. */
export interface DrilledExport {
  readonly cluster: string;
  readonly service: string;
  readonly pods: number;
  readonly left: number;
}

/** What a drill shows. */
export interface Drill {
  readonly reachedBefore: number;
  readonly reachedAfter: number;
  /** The state in which something is gone. */
  readonly connected: ConnectionState;
  readonly changes: readonly DrillChange[];
  readonly members: readonly DrilledMember[];
  readonly exports: readonly DrilledExport[];
  /** What else is to be known, in sentences. */
  readonly notes: readonly string[];
}

/** What a drill is run over. */
export interface DrillBase {
  readonly parts: ExportParts & Pick<Plan, 'sites'>;
  readonly connected: ConnectionState;
  readonly matrix: SetMatrix;
}

/** The state in which something is gone. */
interface Broken {
  readonly forwarding: Forwarding;
  readonly faults: Faults;
  /** Ids whose absence may change a way: members, links, devices, pairs. */
  readonly changed: ReadonlySet<string>;
  /** Whether routes changed, so that what failed before may fail otherwise. */
  readonly isRerouted: boolean;
  readonly lost: ReadonlySet<string>;
}

/** A fault as a word for addresses of pages. */
export function faultKey(fault: Fault): string {
  switch (fault.kind) {
    case 'gateway':
      return `gateway~${fault.memberId}~${fault.index}`;
    case 'zone':
      return `zone~${fault.siteId}~${fault.zone}`;
    case 'site':
      return `site~${fault.siteId}`;
    case 'link':
      return `link~${fault.linkId}`;
    case 'way':
      return `way~${fault.memberId}~${fault.otherId}`;
    case 'rendezvous':
      return `rendezvous~${fault.connectionId}`;
    case 'member':
      return `member~${fault.memberId}`;
  }
}

/** A fault in words. */
export function formatFault(
  plan: Pick<Plan, 'connections' | 'members' | 'clusters' | 'sites' | 'links'>,
  fault: Fault,
): string {
  const member = (id: string) => byId(plan.members, id);
  const cluster = (id: string) => byId(plan.clusters, member(id)?.clusterId ?? '')?.name ?? '';
  const connection = (id: string) => byId(plan.connections, member(id)?.connectionId ?? '');
  switch (fault.kind) {
    case 'gateway':
      return `${connection(fault.memberId)?.method === 'relays' ? 'relay' : 'gateway'} ${fault.index + 1} of ${cluster(fault.memberId)} in ${connection(fault.memberId)?.name ?? ''} lost`;
    case 'zone':
      return `zone ${fault.zone} of ${byId(plan.sites, fault.siteId)?.name ?? ''} lost`;
    case 'site':
      return `all of ${byId(plan.sites, fault.siteId)?.name ?? ''} lost`;
    case 'link':
      return `link ${byId(plan.links, fault.linkId)?.name ?? ''} cut`;
    case 'way':
      return formatProposed('drill.way', {
        one: cluster(fault.memberId),
        other: cluster(fault.otherId),
        connection: connection(fault.memberId)?.name ?? '',
      });
    case 'rendezvous':
      return `rendezvous of ${byId(plan.connections, fault.connectionId)?.name ?? ''} lost`;
    case 'member':
      return `${cluster(fault.memberId)} cut off in ${connection(fault.memberId)?.name ?? ''}`;
  }
}

/** The networks that packets of some may pass: all that links which stand join to them, over others, too. */
function networksAround(
  { links }: Pick<Plan, 'links'>,
  own: ReadonlySet<string>,
): { readonly networkIds: ReadonlySet<string>; readonly links: Plan['links'] } {
  const networkIds = new Set(own);
  const standing = links.filter(({ isPlanned }) => !isPlanned);
  for (let size = 0; size !== networkIds.size;) {
    size = networkIds.size;
    for (const link of standing)
      if (link.networkIds.some((id) => networkIds.has(id))) for (const id of link.networkIds) networkIds.add(id);
  }
  return { networkIds, links: standing.filter((link) => link.networkIds.some((id) => networkIds.has(id))) };
}

/** The sites whose loss is worth a drill: those of members, and those where a device of a network between them stands. */
function sitesAround(
  { natDevices, firewalls, subnets }: Pick<Plan, 'natDevices' | 'firewalls' | 'subnets'>,
  own: ReadonlySet<string>,
  networkIds: ReadonlySet<string>,
): ReadonlySet<string> {
  const sites = new Set(own);
  for (const { subnetId } of [...natDevices, ...firewalls]) {
    const subnet = byId(subnets, subnetId);
    if (subnet !== undefined && networkIds.has(subnet.networkId)) sites.add(subnet.siteId);
  }
  return sites;
}

/** Every single fault that the plan’s connections can have. Ways between members are offered for meshes of up to a dozen. */
export function faultsOf(
  plan: Pick<Plan, 'connections' | 'members' | 'clusters' | 'sites' | 'links' | 'natDevices' | 'firewalls' | 'subnets'>,
  connected: ConnectionState,
): Fault[] {
  const standing = plan.connections.filter(({ isPlanned }) => !isPlanned);
  const members = standing.flatMap(({ id }) => connected.membersOf(id));
  const gated = members.filter(({ connectionId }) => byId(plan.connections, connectionId)?.method !== 'flat');
  const { networkIds, links } = networksAround(
    plan,
    new Set(members.map((member) => connected.clusterOf(member).networkId)),
  );
  const sites = sitesAround(plan, new Set(members.map((member) => connected.clusterOf(member).siteId)), networkIds);
  return [
    ...gated.flatMap(({ id, gateways }) =>
      Array.from({ length: gateways }, (_, index): Fault => ({ kind: 'gateway', memberId: id, index })),
    ),
    ...plan.sites
      .filter(({ id }) => sites.has(id))
      .flatMap(({ id, zones }) => zones.map((zone): Fault => ({ kind: 'zone', siteId: id, zone }))),
    ...plan.sites.filter(({ id }) => sites.has(id)).map(({ id }): Fault => ({ kind: 'site', siteId: id })),
    ...links.map(({ id }): Fault => ({ kind: 'link', linkId: id })),
    ...standing
      .filter(({ rendezvous, method }) => rendezvous !== '' && method !== 'flat')
      .map(({ id }): Fault => ({ kind: 'rendezvous', connectionId: id })),
    ...gated.map(({ id }): Fault => ({ kind: 'member', memberId: id })),
    ...standing
      .filter(({ method }) => method !== 'flat')
      .flatMap(({ id }) => {
        const own = connected.membersOf(id);
        if (own.length > 12) return [];
        return own.flatMap((one, i) =>
          own.slice(i + 1).map((other): Fault => ({ kind: 'way', memberId: one.id, otherId: other.id })),
        );
      }),
  ];
}

/** Runs a drill: what several faults at once leave, made from the state before where nothing changed. */
export function runDrill({ parts, connected, matrix }: DrillBase, faults: readonly Fault[]): Drill {
  const broken = brokenBy(parts, connected, faults);
  const next = connected.drilled(broken.forwarding, broken.changed, !broken.isRerouted);
  const drilled = matrix.after(parts, next, next.changedSince(connected) ?? new Map());
  const changes = changesBetween(matrix, drilled, broken);
  // What a cluster that is gone would reach it does not, also where it did not before.
  const gone =
    broken.lost.size === 0
      ? 0
      : drilled.columns.reduce(
          (sum, { cells }) =>
            sum + cells.filter((cell, row) => broken.lost.has(matrix.rows[row]?.id ?? '') && isReached(cell)).length,
          0,
        );
  return {
    reachedBefore: matrix.reached,
    reachedAfter: matrix.reachedIn(drilled) - gone,
    connected: next,
    changes,
    members: drilledMembers(connected, broken),
    exports: drilledExports(parts, connected, broken),
    notes: notesOf(connected, faults, broken),
  };
}

/** What faults take away, and what may rest on it. */
export function brokenBy(parts: DrillBase['parts'], connected: ConnectionState, faults: readonly Fault[]): Broken {
  const { forwarding } = connected;
  const gateways = new Set<string>();
  const pairs = new Set<string>();
  const cutOff = new Set<string>();
  const zones = new Set<string>();
  const mute = new Set<string>();
  const links = new Set<string>();
  const sites = new Set<string>();
  for (const fault of faults) {
    if (fault.kind === 'gateway') gateways.add(`${fault.memberId} ${fault.index}`);
    else if (fault.kind === 'zone') zones.add(`${fault.siteId} ${fault.zone}`);
    else if (fault.kind === 'site') sites.add(fault.siteId);
    else if (fault.kind === 'link') links.add(fault.linkId);
    else if (fault.kind === 'rendezvous') mute.add(fault.connectionId);
    else if (fault.kind === 'member') cutOff.add(fault.memberId);
    else {
      const [one, other] = [byId(parts.members, fault.memberId), byId(parts.members, fault.otherId)];
      if (one !== undefined && other !== undefined) pairs.add(pairKey(one, other));
    }
  }
  for (const { id, zones: all } of parts.sites) if (sites.has(id)) for (const zone of all) zones.add(`${id} ${zone}`);
  const lost = new Set<string>();
  const changed = new Set<string>([...pairs, ...cutOff, ...links]);
  for (const member of parts.members) {
    const cluster = byId(parts.clusters, member.clusterId);
    const own = zonesOfCluster(cluster, byId(parts.sites, cluster?.siteId ?? ''));
    const isHit = own.some((zone) => zones.has(`${cluster?.siteId ?? ''} ${zone}`));
    if (isHit) {
      changed.add(member.id);
      gatewayZones(forwarding, member).forEach(
        (zone, index) => zones.has(`${cluster?.siteId ?? ''} ${zone}`) && gateways.add(`${member.id} ${index}`),
      );
      if (own.every((zone) => zones.has(`${cluster?.siteId ?? ''} ${zone}`))) {
        lost.add(member.clusterId);
        cutOff.add(member.id);
      }
    }
    if (gateways.has(`${member.id} 0`)) changed.add(member.id);
  }
  const fewer =
    links.size > 0
      ? { ...forwarding.parts, links: forwarding.parts.links.filter(({ id }) => !links.has(id)) }
      : forwarding.parts;
  const gone: Faults = { ...NO_FAULTS, gateways, pairs, members: cutOff, zones, mute };
  const next = forwarding.with(gone, fewer);
  const devices = [...fewer.natDevices, ...fewer.firewalls].filter(({ subnetId }) => {
    const subnet = byId(fewer.subnets, subnetId);
    return subnet !== undefined && goneAt(next, groundOf(next, subnet), '', '') !== undefined;
  });
  for (const { id } of devices) changed.add(id);
  const isRerouted = links.size + devices.length > 0;
  if (isRerouted || zones.size > 0) next.tunnels.take(forwarding.tunnels, changed);
  return { forwarding: next, faults: gone, changed, isRerouted, lost };
}

/** The cells that a drill changes: a hub that is lost changes every one of a hundred thousand. */
function changesBetween(matrix: SetMatrix, drilled: SetMatrix, broken: Broken): DrillChange[] {
  const { lost } = broken;
  const changes: DrillChange[] = [];
  for (const [at, { imported, cells }] of drilled.columns.entries()) {
    const last = matrix.columns[at];
    if (last === undefined || (last.cells === cells && lost.size === 0)) continue;
    for (let row = 0; row < cells.length; row++) {
      const [before, after, cluster] = [last.cells[row], cells[row], matrix.rows[row]];
      if (before === undefined || after === undefined || cluster === undefined) continue;
      // Nothing happened to a cell that is the same one, unless its cluster is gone.
      if (after === before && !lost.has(cluster.id)) continue;
      const change = changeOf(imported, cluster, before, after, broken);
      if (change !== undefined) changes.push(change);
    }
  }
  return changes;
}

function changeOf(
  imported: Imported,
  cluster: Cluster,
  before: UseCell,
  after: UseCell,
  { lost, changed, forwarding }: Broken,
): DrillChange | undefined {
  const { connection, exporters } = imported;
  if (!isReached(before)) return undefined;
  const to = (outcome: DrillOutcome, seconds: number | undefined): DrillChange => ({
    cluster,
    imported,
    outcome,
    before,
    after,
    seconds,
  });
  if (lost.has(cluster.id)) return to('gone', undefined);
  if (!isReached(after)) return to('lost', undefined);
  const detected = secondsToKnow(connection);
  const isSameFrom = after.from.length === before.from.length && after.from.every((name) => before.from.includes(name));
  // A member of tunnels asks names anew; relays and flat clusters take addresses out of service themselves.
  const renamed = connection.method === 'tunnels' ? connection.dnsTtl : 0;
  if (!isSameFrom) {
    const isFewer = after.from.every((name) => before.from.includes(name));
    return to(isFewer ? 'fewer' : 'fails over', detected + renamed);
  }
  if (connection.method === 'flat') return undefined;
  const hasMoved = (member: Member) => changed.has(member.id) && forwarding.faults.gateways.has(`${member.id} 0`);
  const answering = exporters.filter(
    (each) => after.from.includes(each.cluster.name) && each.cluster.id !== cluster.id,
  );
  const isHit =
    answering.some(({ member }) => hasMoved(member)) ||
    (answering.length > 0 && movedIn(connection, cluster, forwarding, hasMoved));
  return isHit ? to('interrupted', detected + connection.takeoverSeconds) : undefined;
}

/** Whether a cluster’s own gateway of a connection is another one now. */
function movedIn(
  connection: Connection,
  { id }: Cluster,
  { parts }: Forwarding,
  hasMoved: (member: Member) => boolean,
): boolean {
  const own = grouped(parts.members, 'clusterId').get(id) ?? [];
  return own.some((member) => member.connectionId === connection.id && hasMoved(member));
}

function drilledMembers(connected: ConnectionState, { faults, forwarding }: Broken): DrilledMember[] {
  return connected.parts.members.flatMap((member): DrilledMember[] => {
    const connection = byId(connected.parts.connections, member.connectionId);
    const gone = Array.from({ length: member.gateways }, (_, i) => i).filter((i) =>
      faults.gateways.has(`${member.id} ${i}`),
    ).length;
    const isOff = faults.members.has(member.id);
    if (connection === undefined || connection.isPlanned || connection.method === 'flat' || (gone === 0 && !isOff))
      return [];
    const left = isOff ? 0 : member.gateways - gone;
    const carries = forwarding.tunnels.carrying(member);
    return [
      {
        member,
        connection,
        cluster: connected.clusterOf(member).name,
        carries: carries.ok ? carries.value.index + 1 : undefined,
        left,
        leftMbps:
          member.gatewayMbps === null
            ? undefined
            : carriedMbps(connection.method, member.gatewayMbps, carries.ok ? left : 0),
        plannedMbps: member.plannedMbps ?? undefined,
        seconds: secondsToKnow(connection) + connection.takeoverSeconds,
      },
    ];
  });
}

/** Pods are taken to be spread evenly over the zones of their cluster, as schedulers do. */
function drilledExports(
  parts: DrillBase['parts'],
  connected: ConnectionState,
  { faults, lost }: Broken,
): DrilledExport[] {
  if (faults.zones.size === 0) return [];
  return parts.serviceExports.flatMap(({ memberId, namespace, name }): DrilledExport[] => {
    const member = byId(parts.members, memberId);
    if (member === undefined || byId(parts.connections, member.connectionId)?.isPlanned !== false) return [];
    const cluster = connected.clusterOf(member);
    const zones = zonesOfCluster(cluster, byId(parts.sites, cluster.siteId));
    const gone = zones.filter((zone) => faults.zones.has(`${cluster.siteId} ${zone}`)).length;
    const service = serviceNamed(parts, cluster.id, namespace, name);
    if (gone === 0 || service === undefined) return [];
    const selected = selectedBy(service, grouped(parts.workloads, 'clusterId').get(cluster.id) ?? []);
    const pods = selected.reduce((sum, workload) => sum + podsFor(service, workload), 0);
    const left = lost.has(cluster.id)
      ? 0
      : selected.reduce(
          (sum, workload) => sum + Math.floor((podsFor(service, workload) * (zones.length - gone)) / zones.length),
          0,
        );
    return [{ cluster: cluster.name, service: `${namespace}/${name}`, pods, left }];
  });
}

function notesOf(connected: ConnectionState, faults: readonly Fault[], { lost }: Broken): string[] {
  const muted = faults.flatMap((fault) => {
    const connection = fault.kind === 'rendezvous' ? byId(connected.parts.connections, fault.connectionId) : undefined;
    if (connection === undefined) return [];
    const { name, sessionHoldSeconds } = connection;
    return [formatProposed('drill.no-rendezvous', { connection: name, keeps: sessionHoldSeconds })];
  });
  const clusters = connected.parts.clusters.filter(({ id }) => lost.has(id)).map(({ name }) => name);
  return [...muted, ...(clusters.length === 0 ? [] : [formatProposed('drill.no-other-zone', { clusters })])];
}
