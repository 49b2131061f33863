import { formatAddress, formatPrefix } from '../address/index.js';
import { shownRanges } from '../forwarding/index.js';
import type { Forwarding } from '../forwarding/index.js';
import {
  answering,
  byId,
  grouped,
  hostPrefix,
  rangeOf,
  readServicePort,
  podsFor,
  selectedBy,
  translated,
  translationsOf,
} from '../plan/index.js';
import type {
  Cluster,
  ClusterService,
  Connection,
  Member,
  Plan,
  ServiceExport,
  ServicePort,
  Workload,
} from '../plan/index.js';
import { isWithin, ZoneSet, ZoneTree } from '../zones/index.js';
import type { Rr } from '../zones/index.js';
import type { BlockedWay } from '../road/index.js';
import { formatProposed } from '../english/index.js';

/** The collections that exported services are read from. */
export const exportReads = [
  'connections',
  'members',
  'serviceExports',
  'services',
  'workloads',
  'clusters',
] as const satisfies readonly (keyof Plan)[];
export type ExportParts = Pick<Plan, (typeof exportReads)[number]>;

/** What is read to tell which services members know of one another. */
export type ImportParts = Omit<ExportParts, 'workloads'>;

/** One member that exports a service, and the service there. */
export interface Exporter {
  readonly exported: ServiceExport;
  readonly member: Member;
  readonly cluster: Cluster;
  /** Undefined where the export names a service that the cluster does not have. */
  readonly service: ClusterService | undefined;
}

/** A service as the other members of a connection know it: a ServiceImport of the Kubernetes multi-cluster API. */
export interface Imported {
  readonly connection: Connection;
  readonly namespace: string;
  readonly name: string;
  /** Of its exporters those that agree with the oldest, in the order of their age. */
  readonly exporters: readonly Exporter[];
  /** Exporters whose service is of another kind than that of the oldest one: they do not count. */
  readonly contradicting: readonly Exporter[];
  readonly isHeadless: boolean;
  readonly ports: readonly ServicePort[];
}

/** Where names of exported services end, where a connection says nothing else. Source: Kubernetes multi-cluster services, DNS specification (from memory). */
const SET_DOMAIN = 'clusterset.local';

const none: readonly never[] = [];

/** The domain below which a connection names its exported services. */
export function domainOfSet({ domain }: Connection): string {
  return domain === '' ? SET_DOMAIN : domain;
}

/** The suffix below which the others find the services of one member alone. */
export function suffixOf({ dnsSuffix, memberId }: Member, connection: Connection): string {
  return dnsSuffix === '' ? `${memberId}.${domainOfSet(connection)}` : dnsSuffix;
}

/** The services that members of a connection export, each once for a namespace and name, as a cluster may use them; all without a cluster. */
export function importsOf(parts: ImportParts, connection: Connection, forClusterId?: string): Imported[] {
  const groups = new Map<string, Exporter[]>();
  const exportsOf = grouped(parts.serviceExports, 'memberId');
  for (const member of grouped(parts.members, 'connectionId').get(connection.id) ?? none) {
    const cluster = byId(parts.clusters, member.clusterId);
    if (cluster === undefined) continue;
    for (const exported of exportsOf.get(member.id) ?? none) {
      const isOpen =
        exported.usedByIds.length === 0 ||
        forClusterId === undefined ||
        forClusterId === cluster.id ||
        exported.usedByIds.includes(forClusterId);
      if (!isOpen) continue;
      const service = serviceNamed(parts, cluster.id, exported.namespace, exported.name);
      const key = `${exported.namespace}/${exported.name}`;
      const known = groups.get(key);
      const each: Exporter = { exported, member, cluster, service };
      if (known === undefined) groups.set(key, [each]);
      else known.push(each);
    }
  }
  return [...groups.values()].map((all) => imported(connection, all));
}

/** A service of a cluster by its name. */
export function serviceNamed(
  parts: Pick<Plan, 'services'>,
  clusterId: string,
  namespace: string,
  name: string,
): ClusterService | undefined {
  return (grouped(parts.services, 'clusterId').get(clusterId) ?? none).find(
    (each) => each.namespace === namespace && each.name === name,
  );
}

/** The address by which members call an exported service. */
export function urlOfImported({ connection, namespace, name, ports: [first] }: Imported): string {
  const port = first === undefined || first.port === 80 ? '' : `:${first.port}`;
  return `http://${name}.${namespace}.svc.${domainOfSet(connection)}${port}/`;
}

/** Of exports that contradict one another the older one decides. Source: Kubernetes multi-cluster services, conflict resolution (from memory). */
function imported(connection: Connection, all: readonly Exporter[]): Imported {
  const byAge = [...all].sort((a, b) =>
    a.exported.createdOn < b.exported.createdOn
      ? -1
      : a.exported.createdOn > b.exported.createdOn
        ? 1
        : a.member.id < b.member.id
          ? -1
          : 1,
  );
  const oldest = byAge.find(({ service }) => service !== undefined) ?? byAge[0];
  const isHeadless = oldest?.service?.type === 'headless';
  const agrees = ({ service }: Exporter) =>
    service === undefined || (service.type !== 'ExternalName' && (service.type === 'headless') === isHeadless);
  return {
    connection,
    namespace: oldest?.exported.namespace ?? '',
    name: oldest?.exported.name ?? '',
    exporters: byAge.filter(agrees),
    contradicting: byAge.filter((each) => !agrees(each)),
    isHeadless,
    ports: (oldest?.service?.ports ?? none).flatMap((text) => readServicePort(text) ?? []),
  };
}

/** Why calls of a cluster do not come to an exporter; undefined when they do as far as the connection goes. */
export function blockedWay(
  forwarding: Forwarding,
  cluster: Cluster,
  { connection }: Imported,
  exporter: Exporter,
): BlockedWay | undefined {
  const { namespace, name } = exporter.exported;
  if (exporter.service === undefined)
    return { code: 'export.no-service', cluster: exporter.cluster.name, service: `${namespace}/${name}` };
  if (exporter.cluster.id === cluster.id || connection.method === 'flat') return undefined;
  const crossing = forwarding.crossings.between(cluster.id, exporter.cluster.id, connection.id);
  if (crossing === undefined) return { code: 'export.not-there', connection: connection.name };
  if (crossing.isHubMissing) return { code: 'export.no-hub', connection: connection.name };
  for (const [at, member] of crossing.stops.slice(0, -1).entries()) {
    const tunnel = forwarding.tunnels.between(connection, member, crossing.stops[at + 1] as Member);
    if (!tunnel.ok) return { code: 'export.lack', lack: tunnel.lack };
    const { fault, failed } = tunnel.value;
    if (fault !== undefined) return { code: 'export.fault', fault, failed };
  }
  return undefined;
}

/** Whether a service has pods that answer: an exporter without any is no endpoint of the imported service. */
function hasPods({ workloads }: Pick<Plan, 'workloads'>, { service, cluster }: Exporter): boolean {
  if (service === undefined) return false;
  const own = grouped(workloads, 'clusterId').get(cluster.id) ?? none;
  return service.endpoints.length > 0 || selectedBy(service, own).some((workload) => podsFor(service, workload) > 0);
}

/** The exporters that calls go to: of the lowest rank in which one is reached, those that are, with their weights; none where none is. */
export function serving(
  parts: Pick<Plan, 'workloads'>,
  forwarding: Forwarding,
  cluster: Cluster,
  each: Imported,
): readonly Exporter[] {
  const reached = each.exporters.filter(
    (exporter) => exporter.exported.weight > 0 && blockedWay(forwarding, cluster, each, exporter) === undefined,
  );
  const answering = reached.filter((exporter) => hasPods(parts, exporter));
  const open = answering.length > 0 ? answering : reached;
  const rank = Math.min(...open.map(({ exported }) => exported.rank));
  return open.filter(({ exported }) => exported.rank === rank);
}

/** The exported services that a cluster knows by name, as zones: one for the domain of each connection, one for the suffix of each member. */
export function setZones(parts: ExportParts, forwarding: Forwarding, cluster: Cluster): ZoneSet {
  const zones = new Map<string, Rr[]>();
  const into = (apex: string, records: readonly Rr[]) => {
    const known = zones.get(apex);
    if (known === undefined) zones.set(apex, [...records]);
    else known.push(...records);
  };
  for (const { connection, members } of forwarding.crossings.of(cluster.id)) {
    const domain = domainOfSet(connection);
    into(domain, []);
    for (const member of members) into(suffixOf(member, connection), []);
    for (const each of importsOf(parts, connection, cluster.id)) {
      into(domain, recordsOf(parts, forwarding, cluster, each, serving(parts, forwarding, cluster, each), domain));
      for (const exporter of each.exporters) {
        if (blockedWay(forwarding, cluster, each, exporter) !== undefined) continue;
        const suffix = suffixOf(exporter.member, connection);
        into(suffix, recordsOf(parts, forwarding, cluster, each, [exporter], suffix));
      }
    }
  }
  return new ZoneSet([...zones].map(([apex, records]) => ZoneTree.of(apex, [soaOf(apex), ...unique(records)])));
}

/** The connection of a cluster that is planned and would answer a name once it stands. */
export function plannedFor(parts: ExportParts, cluster: Cluster, name: string): Connection | undefined {
  return (grouped(parts.members, 'clusterId').get(cluster.id) ?? none)
    .map(({ connectionId }) => byId(parts.connections, connectionId))
    .find((connection) => connection?.isPlanned === true && isWithin(name, domainOfSet(connection)));
}

/** The exported service that a name of a cluster’s connections means: the service itself, one of its ports or pods. */
export function exportedAs(parts: ExportParts, cluster: Cluster, name: string): Imported | undefined {
  for (const { connectionId } of grouped(parts.members, 'clusterId').get(cluster.id) ?? none) {
    const connection = byId(parts.connections, connectionId);
    if (connection === undefined || connection.isPlanned) continue;
    const members = grouped(parts.members, 'connectionId').get(connectionId) ?? none;
    const suffixes = [...members.map((member) => suffixOf(member, connection)), domainOfSet(connection)];
    const suffix = suffixes.filter((each) => isWithin(name, each)).sort((a, b) => b.length - a.length)[0];
    if (suffix === undefined) continue;
    const [kind, namespace, service] = name
      .slice(0, -suffix.length - 1)
      .split('.')
      .reverse();
    const found =
      kind === 'svc'
        ? importsOf(parts, connection, cluster.id).find((each) => each.namespace === namespace && each.name === service)
        : undefined;
    if (found !== undefined) return found;
  }
  return undefined;
}

/** Cluster DNS answers for these zones itself; the values are customary and never leave it. */
function soaOf(apex: string): Rr {
  return {
    name: apex,
    type: 'SOA',
    ttl: 5,
    value: `ns.dns.${apex} hostmaster.${apex} 1 7200 1800 86400 5`,
    target: `ns.dns.${apex}`,
  };
}

function recordsOf(
  parts: ExportParts,
  forwarding: Forwarding,
  cluster: Cluster,
  each: Imported,
  from: readonly Exporter[],
  suffix: string,
): Rr[] {
  const { connection, namespace, name, ports, isHeadless } = each;
  const ttl = connection.dnsTtl;
  const own = `${name}.${namespace}.svc.${suffix}`;
  const type = cluster.family === 'ipv6' ? 'AAAA' : 'A';
  const records: Rr[] = [];
  for (const exporter of from) {
    if (isHeadless) records.push(...podRecords(parts, connection, exporter, cluster, own, type, ttl));
    else
      records.push({
        name: own,
        type,
        ttl,
        value: addressSeen(forwarding, cluster, connection, exporter),
        target: undefined,
      });
  }
  // Of a headless service the ports lead to its pods by their host names, where these are known, at the pods’ own ports.
  const pods = records.filter((record) => record.name !== own);
  const targets = pods.length > 0 ? pods.map((record) => record.name) : records.length > 0 ? [own] : none;
  const srv = ports
    .filter((each) => each.name !== '')
    .flatMap(({ name: port, protocol, port: number, target: named }) =>
      targets.map((target): Rr => ({
        name: `_${port}._${protocol}.${own}`,
        type: 'SRV',
        ttl,
        value: `0 100 ${isHeadless ? (podPortOf(parts, from, named) ?? number) : number} ${target}`,
        target,
      })),
    );
  return [...records, ...srv];
}

/** The port on which the pods of a headless service listen: by its number, or by the name that they give it. */
function podPortOf(parts: ExportParts, from: readonly Exporter[], target: string): number | undefined {
  if (/^\d+$/.test(target)) return Number(target);
  return from
    .flatMap(({ service, cluster }) =>
      service === undefined ? [] : answering(service, grouped(parts.workloads, 'clusterId').get(cluster.id) ?? none),
    )
    .filter(({ port }) => port.target === target)
    .flatMap(({ members }) => members.flatMap(({ port }) => port ?? []))[0];
}

/** The pods of a headless service under their host names; through relays only where each of them is mirrored. */
function podRecords(
  parts: ExportParts,
  connection: Connection,
  { member, service, cluster, exported }: Exporter,
  viewer: Cluster,
  own: string,
  type: 'A' | 'AAAA',
  ttl: number,
): Rr[] {
  const isMirrored = connection.method !== 'relays' || exported.mirrorsPods || cluster.id === viewer.id;
  const all: Rr = {
    name: own,
    type,
    ttl,
    value: !isMirrored
      ? `the relay of ${viewer.name}`
      : connection.method === 'relays'
        ? formatProposed('set.mirrored-pods', { cluster: cluster.name })
        : `the pods of ${cluster.name}`,
    target: undefined,
  };
  if (!isMirrored) return [all];
  const owners =
    service === undefined
      ? none
      : selectedBy(service, grouped(parts.workloads, 'clusterId').get(cluster.id) ?? none).filter(
          ({ objectKind }) => objectKind === 'StatefulSet',
        );
  const ready = (workload: Workload) => (service === undefined ? 0 : podsFor(service, workload));
  const pods = owners.flatMap((each) => Array.from({ length: ready(each) }, (_, i) => `${each.name}-${i}`));
  return [
    all,
    ...pods.map((pod): Rr => ({
      name: `${pod}.${member.memberId}.${own}`,
      type,
      ttl,
      value:
        connection.method === 'relays' && cluster.id !== viewer.id
          ? formatProposed('set.mirror', { pod, relay: viewer.name })
          : `the pod ${pod} of ${cluster.name}`,
      target: undefined,
    })),
  ];
}

/** The address by which a cluster asks for an exported service: through tunnels that of the exporter as it is shown, else one of its own service range. */
export function addressSeen(
  forwarding: Forwarding,
  cluster: Cluster,
  { method }: Connection,
  { member, service, cluster: owner }: Exporter,
): string {
  if (owner.id === cluster.id && service?.address != null) return service.address;
  if (method !== 'tunnels') return `an address of ${rangesSaid(forwarding, cluster)}`;
  if (service?.address != null)
    return formatAddress(translated(hostPrefix(service.address), translationsOf(member), 'out'));
  const ranges = shownRanges(
    member,
    forwarding.rangesOf(owner.id).filter(({ purpose }) => purpose === 'service'),
  );
  return ranges.length === 0
    ? formatProposed('set.some-address', { cluster: owner.name })
    : `an address of ${ranges.map(formatPrefix).join(' or ')}`;
}

function rangesSaid(forwarding: Forwarding, { id, name }: Cluster): string {
  const ranges = forwarding.rangesOf(id).filter(({ purpose }) => purpose === 'service');
  return ranges.length === 0
    ? formatProposed('set.service-range', { cluster: name })
    : ranges.map((range) => formatPrefix(rangeOf(range))).join(' or ');
}

function unique(records: readonly Rr[]): Rr[] {
  return [...new Map(records.map((each) => [`${each.name} ${each.type} ${each.value}`, each])).values()];
}
