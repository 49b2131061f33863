import { isWithin } from '../zones/index.js';
import type { RecordType } from '../zones/index.js';
import { byId, classesOf, controllersOf, grouped } from '../plan/index.js';
import type { Balancer, RecordController, Plan, Zone } from '../plan/index.js';

/** The collections that record controllers read. */
export const keptReads = [
  'zones',
  'recordControllers',
  'services',
  'backends',
  'balancers',
  'controllers',
  'gateways',
  'ingressRoutes',
] as const satisfies readonly (keyof Plan)[];
export type KeptParts = Pick<Plan, (typeof keptReads)[number]>;

/** A name that a cluster’s objects ask for, and the load balancer that it stands for. */
export interface WantedName {
  readonly host: string;
  /** What asks for it: the service, Ingress or gateway route. */
  readonly subject: { readonly kind: 'services' | 'ingressRoutes'; readonly id: string };
  /** Undefined while no load balancer takes its calls. */
  readonly balancer: Balancer | undefined;
}

/** A record that a record controller makes. */
export interface KeptRecord {
  readonly recordController: RecordController;
  readonly zone: Zone;
  readonly name: string;
  readonly type: RecordType;
  readonly ttl: number;
  readonly value: string;
  readonly subject: WantedName['subject'];
}

const none: readonly never[] = [];

/** The names that services, Ingress hosts and gateway routes of a cluster ask for. */
export function wantedNames(
  parts: Omit<KeptParts, 'zones' | 'recordControllers'>,
  clusterId: string,
  sources: RecordController['sources'],
): WantedName[] {
  const wanted: WantedName[] = [];
  if (sources.includes('services'))
    for (const service of grouped(parts.services, 'clusterId').get(clusterId) ?? none) {
      if (service.hosts.length === 0) continue;
      const backend = parts.backends.find(({ serviceId }) => serviceId === service.id);
      const balancer = byId(parts.balancers, backend?.balancerId ?? '');
      for (const host of service.hosts)
        wanted.push({ host: host.toLowerCase(), subject: { kind: 'services', id: service.id }, balancer });
    }
  for (const route of grouped(parts.ingressRoutes, 'clusterId').get(clusterId) ?? none) {
    if (route.hosts.length === 0 || !sources.includes(route.objectKind === 'Ingress' ? 'Ingress hosts' : 'gateways'))
      continue;
    const own = controllersOf(parts, clusterId, classesOf(parts, route));
    const balancer = own
      .map(({ balancerId }) => byId(parts.balancers, balancerId ?? ''))
      .find((each) => each !== undefined);
    for (const host of route.hosts)
      wanted.push({ host: host.toLowerCase(), subject: { kind: 'ingressRoutes', id: route.id }, balancer });
  }
  return wanted;
}

/** The zones that a record controller may touch. */
export function zonesOfRecordController(
  { zones }: Pick<KeptParts, 'zones'>,
  { zoneIds }: RecordController,
): readonly Zone[] {
  return zoneIds.length === 0 ? zones : zones.filter(({ id }) => zoneIds.includes(id));
}

/** The closest of some zones for a name: of several with one domain name, such as a public one and its private twin, all. */
export function closestZones(zones: readonly Zone[], host: string): Zone[] {
  const around = zones.filter(({ apex }) => isWithin(host, apex));
  const longest = Math.max(0, ...around.map(({ apex }) => apex.length));
  return around.filter(({ apex }) => apex.length === longest);
}

/** What a name of a load balancer is answered with: the name that its provider gave it, or its address; undefined while neither is known. */
export function answerOf(
  { providerName, address }: Balancer,
  types: readonly RecordType[],
): { readonly type: RecordType; readonly value: string } | undefined {
  if (providerName !== '' && types.includes('CNAME')) return { type: 'CNAME', value: providerName };
  if (address === null) return undefined;
  const type = address.includes(':') ? 'AAAA' : 'A';
  return types.includes(type) ? { type, value: address } : undefined;
}

/**
 * The records that all record controllers make, each name once a zone and type. A record controller with an owner mark leaves names alone that others hold,
 * as `isHeld` says of records entered by hand.
 */
export function keptRecords(parts: KeptParts, isHeld: (zoneId: string, name: string) => boolean): KeptRecord[] {
  const made = new Map<string, KeptRecord>();
  for (const recordController of parts.recordControllers) {
    const own = zonesOfRecordController(parts, recordController);
    for (const { host, subject, balancer } of wantedNames(
      parts,
      recordController.clusterId,
      recordController.sources,
    )) {
      const answer = balancer === undefined ? undefined : answerOf(balancer, recordController.types);
      if (answer === undefined) continue;
      for (const zone of closestZones(own, host)) {
        const key = `${zone.id} ${host}`;
        // A name has one holder: by hand, else the first record controller that asks for it. An alias cannot stand at the apex.
        if (made.has(key) || isHeld(zone.id, host) || (answer.type === 'CNAME' && host === zone.apex)) continue;
        made.set(key, { recordController, zone, name: host, ttl: recordController.ttl, subject, ...answer });
      }
    }
  }
  return [...made.values()];
}

// What it was gathered from is held weakly: routes that no edit meets would hold record controllers that many replaced.
const wantedOf = new WeakMap<
  object,
  { readonly of: readonly WeakRef<object>[]; readonly names: ReadonlySet<string> }
>();

/** Every name that some record controller asks for, gathered once for each state of what they read. */
export function wantedByRecordControllers(parts: KeptParts): ReadonlySet<string> {
  const of = [parts.recordControllers, parts.services, parts.gateways];
  const known = wantedOf.get(parts.ingressRoutes);
  if (known?.of.every((part, at) => part.deref() === of[at]) === true) return known.names;
  const made = new Set(
    parts.recordControllers.flatMap((recordController) =>
      wantedNames(parts, recordController.clusterId, recordController.sources).map(({ host }) => host),
    ),
  );
  wantedOf.set(parts.ingressRoutes, { of: of.map((part) => new WeakRef(part)), names: made });
  return made;
}
