import { formatAddress, parseAddress } from '../../address/index.js';
import { readFullName, recordTypes } from '../../zones/index.js';
import type { AnyType } from '../../zones/index.js';
import { bad, good } from '../../result.js';
import type { Result } from '../../result.js';
import { byId } from '../collection.js';
import type { Plan } from '../entities.js';
import { grouped } from '../grouped.js';
import { protocols } from '../kinds/vocabulary.js';
import type { Protocol } from '../kinds/vocabulary.js';
import { readServicePort } from '../textForms.js';
import { isUrlText, readUrl, writeUrl } from './urlTarget.js';
import type { UrlTarget } from './urlTarget.js';

/** Which of a cluster's machines: those of a node pool or the main ones (null), in a zone or in the first of its zones (empty). */
export interface ClusterPart {
  readonly clusterId: string;
  readonly nodePoolId: string | null;
  readonly zone: string;
  /** Of which workload a pod is; undefined where it may be any. */
  readonly workloadId?: string;
}

/** Where a packet starts. */
export type Place =
  | ({ readonly kind: 'pod' | 'node' } & ClusterPart)
  | { readonly kind: 'address'; readonly address: string; readonly networkId: string }
  | { readonly kind: 'range'; readonly inUseId: string }
  | { readonly kind: 'bastion'; readonly bastionId: string }
  | { readonly kind: 'internet' };

/** What is asked for at a target: the port is 0 for a protocol without ports. */
export interface Service {
  readonly protocol: Protocol;
  readonly port: number;
}

/** Where a packet is to arrive. */
export type Target =
  | ({ readonly kind: 'pod' | 'node' } & ClusterPart & {
        readonly service: Service;
        /** For a pod: it runs on the node of who asks. */
        readonly isSameNode?: true;
      })
  | { readonly kind: 'address'; readonly address: string; readonly service: Service }
  | { readonly kind: 'range'; readonly inUseId: string; readonly service: Service }
  | { readonly kind: 'bastion'; readonly bastionId: string; readonly service: Service }
  | { readonly kind: 'internet'; readonly service: Service }
  | { readonly kind: 'api'; readonly clusterId: string }
  | { readonly kind: 'need'; readonly needId: string };

/** A port of a service in a cluster, asked by its cluster address. */
export interface ServiceTarget {
  readonly kind: 'service';
  readonly serviceId: string;
  readonly port: number;
}

/** A name and a type of record, asked of whoever answers names there. */
export interface NameTarget {
  readonly kind: 'name';
  /** As a program asks for it: with a final dot where it is not to be tried with a search list. */
  readonly name: string;
  readonly type: AnyType;
}

/** What a question can ask for: where packets go, a service, a name, or the answer to a request. */
export type Destination = Target | ServiceTarget | NameTarget | UrlTarget;

/** One question to the plan: does this reach that? */
export interface Question<To = Target> {
  readonly from: Place;
  readonly to: To;
  /** Size of the packets, headers included: 68 to 9,216 bytes. */
  readonly bytes: number;
}

/** What questions name. */
export type QuestionNames = Pick<
  Plan,
  'clusters' | 'nodePools' | 'networks' | 'bastions' | 'needs' | 'inUse' | 'sites' | 'workloads' | 'services'
>;

const usual: Service = { protocol: 'tcp', port: 443 };

/** How places are written, for messages. */
const placeExamples =
  'pod of a cluster, node of a cluster (with a comma and zone, pool or workload and its name after it), 10.20.0.5 in a network, range of an owner, bastion with its name, or the internet';

/**
 * Reads a place: "pod of booking-north, zone n1", "node of tide-models", "10.20.0.5 in head-office", "range Head office
 * desks", "bastion gate", "the internet".
 */
export function readPlace(plan: QuestionNames, text: string): Result<Place> {
  const words = text.trim();
  if (/^(the )?internet$/i.test(words)) return good({ kind: 'internet' });
  const part = /^(pod|node) of (.+)$/i.exec(words);
  if (part !== null) return clusterPart(plan, (part[1] ?? '').toLowerCase() as 'pod' | 'node', part[2] ?? '');
  const one = /^(bastion|range) (.+)$/i.exec(words);
  if (one !== null) return namedPlace(plan, (one[1] ?? '').toLowerCase() === 'bastion', one[2] ?? '');
  const [address = '', network] = words.split(/ in (.*)/i);
  const parsed = parseAddress(address);
  if (!parsed.ok) {
    if (/^[\d.:a-f]+$/i.test(address)) return parsed;
    return bad('place.unknown', `"${words}" names no place.`, `Write ${placeExamples}.`);
  }
  if (network === undefined || network.trim() === '')
    return bad('place.network', `"${words}" names no network.`, `Write ${address} in, and the name of its network.`);
  const found = named(plan.networks, 'network', network);
  return found.ok ? good({ kind: 'address', address: formatAddress(parsed.value), networkId: found.value }) : found;
}

/** Reads a target: a place followed by protocol and port ("10.40.0.9 tcp 443"), "api of booking-north", "need registry". */
export function readTarget(plan: QuestionNames, text: string): Result<Target> {
  const words = text.trim();
  const one = /^(api of|need) (.+)$/i.exec(words);
  if (one !== null) {
    const isApi = (one[1] ?? '').toLowerCase() !== 'need';
    const found = isApi ? named(plan.clusters, 'cluster', one[2] ?? '') : named(plan.needs, 'need', one[2] ?? '');
    if (!found.ok) return found;
    return good(isApi ? { kind: 'api', clusterId: found.value } : { kind: 'need', needId: found.value });
  }
  const { rest, service } = splitService(words);
  if (!service.ok) return service;
  const parsed = parseAddress(rest);
  if (parsed.ok) return good({ kind: 'address', address: formatAddress(parsed.value), service: service.value });
  const near = /^(pod of .+), *same node$/i.exec(rest);
  const place = readPlace(plan, near?.[1] ?? rest);
  if (!place.ok) {
    if (place.problem.code !== 'place.unknown') return place;
    return bad(
      'target.unknown',
      `"${rest}" names no target.`,
      [
        'Write an address, api of a cluster, node of a cluster, pod of a cluster (with a comma and zone, pool or workload',
        'and its name after it, or same node at the end),',
        'need with its name, or the internet; then tcp or udp with a port. Or a URL, service with namespace, name and cluster, or name with a host.',
      ].join(' '),
    );
  }
  // An address is looked for wherever the packet comes to.
  if (place.value.kind === 'address')
    return good({ kind: 'address', address: place.value.address, service: service.value });
  const { value } = place;
  return good({ ...value, service: service.value, ...(near === null ? {} : { isSameNode: true as const }) });
}

/**
 * Reads what a question asks for: a target, "service shop/basket of booking-north tcp 80", "name api.skerryline.example
 * type A", or a request for a URL.
 */
export function readWish(plan: QuestionNames, text: string): Result<Destination> {
  if (isUrlText(text)) return readUrl(text);
  const named = /^(?:ask for|name) (\S+)(?: (?:type )?(\S+))?$/i.exec(text.trim());
  if (named !== null) return nameAsked(named[1] ?? '', (named[2] ?? 'A').toUpperCase());
  const service = /^service (\S+) of (.+?)(?: (?:tcp|udp) (\d+))?$/i.exec(text.trim());
  return service === null
    ? readTarget(plan, text)
    : serviceNamed(plan, service[1] ?? '', service[2] ?? '', service[3] === undefined ? undefined : Number(service[3]));
}

/** Reads both ends of a question about packets. Size: 68 to 9,216 bytes. */
export function readPacketQuestion(plan: QuestionNames, from: string, to: string, bytes: number): Result<Question> {
  return bothEnds(readPlace(plan, from), readTarget(plan, to), bytes);
}

/** Reads both ends of any question, those for services and URLs included. Size: 68 to 9,216 bytes. */
export function readQuestion(
  plan: QuestionNames,
  from: string,
  to: string,
  bytes: number,
): Result<Question<Destination>> {
  return bothEnds(readPlace(plan, from), readWish(plan, to), bytes);
}

function bothEnds<To>(from: Result<Place>, to: Result<To>, bytes: number): Result<Question<To>> {
  if (!from.ok) return from;
  return to.ok ? good({ from: from.value, to: to.value, bytes }) : to;
}

/** A place in the words that read back as it. */
export function writePlace(plan: QuestionNames, place: Place): string {
  switch (place.kind) {
    case 'pod':
    case 'node':
      return `${place.kind} of ${writePart(plan, place)}`;
    case 'address':
      return `${place.address} in ${byId(plan.networks, place.networkId)?.name ?? ''}`;
    case 'range': {
      const range = byId(plan.inUse, place.inUseId);
      return `range ${range === undefined ? '' : rangeName(range)}`;
    }
    case 'bastion':
      return `bastion ${byId(plan.bastions, place.bastionId)?.name ?? ''}`;
    case 'internet':
      return 'the internet';
  }
}

/** A target in the words that read back as it. */
export function writeTarget(plan: QuestionNames, target: Target): string {
  switch (target.kind) {
    case 'api':
      return `api of ${byId(plan.clusters, target.clusterId)?.name ?? ''}`;
    case 'need':
      return `need ${byId(plan.needs, target.needId)?.name ?? ''}`;
    case 'address':
      return `${target.address} ${formatService(target.service)}`;
    default: {
      const near = target.kind === 'pod' && target.isSameNode === true ? ', same node' : '';
      return `${writePlace(plan, target)}${near} ${formatService(target.service)}`;
    }
  }
}

/** What a question asks for in the words that read back as it. */
export function writeWish(plan: QuestionNames, wish: Destination): string {
  if (wish.kind === 'url') return writeUrl(wish);
  if (wish.kind === 'name') return `name ${wish.name} type ${wish.type}`;
  if (wish.kind !== 'service') return writeTarget(plan, wish);
  const service = byId(plan.services, wish.serviceId);
  const protocol = service === undefined ? 'tcp' : (portOf(service, wish.port)?.protocol ?? 'tcp');
  const cluster = byId(plan.clusters, service?.clusterId ?? '')?.name ?? '';
  return `service ${service?.namespace ?? ''}/${service?.name ?? ''} of ${cluster} ${protocol} ${wish.port}`;
}

/** "tcp 443", or the protocol alone where there are no ports. */
export function formatService({ protocol, port }: Service): string {
  return port === 0 ? protocol : `${protocol} ${port}`;
}

function writePart(plan: QuestionNames, { clusterId, nodePoolId, zone, workloadId }: ClusterPart): string {
  const workload = byId(plan.workloads, workloadId ?? '');
  const of = workload === undefined ? '' : `, workload ${workload.namespace}/${workload.name}`;
  const pool = nodePoolId === null ? '' : `, pool ${byId(plan.nodePools, nodePoolId)?.name ?? ''}`;
  return `${byId(plan.clusters, clusterId)?.name ?? ''}${zone === '' ? '' : `, zone ${zone}`}${pool}${of}`;
}

function clusterPart(plan: QuestionNames, kind: 'pod' | 'node', words: string): Result<Place> {
  const [name = '', ...more] = words.split(',').map((word) => word.trim());
  const cluster = named(plan.clusters, 'cluster', name);
  if (!cluster.ok) return cluster;
  const part: { zone: string; nodePoolId: string | null; workloadId?: string } = { zone: '', nodePoolId: null };
  for (const each of more) {
    const found = /^(zone|pool|workload) (.+)$/i.exec(each);
    if (/^same node$/i.test(each))
      return bad(
        'place.same-node',
        `"${each}" says nothing of whose node is meant.`,
        'Write it last, of a pod that another pod or a node asks.',
      );
    if (found === null)
      return bad('place.part', `"${each}" names no part of ${name}.`, 'Write zone, pool or workload with its name.');
    const value = found[2] ?? '';
    const what = found[1]?.toLowerCase();
    if (what === 'zone') part.zone = value;
    else if (what === 'workload') {
      const workload = kind === 'pod' ? inNamespace(plan.workloads, cluster.value, value) : undefined;
      if (workload === undefined)
        return bad(
          'place.workload',
          `${name} has no workload "${value}"${kind === 'node' ? ' that is a node' : ''}.`,
          'Write a pod of a cluster and its namespace and name, such as workload shop/basket.',
        );
      part.workloadId = workload.id;
    } else {
      const pool = plan.nodePools.find(
        (other) => other.clusterId === cluster.value && other.name.toLowerCase() === value.toLowerCase(),
      );
      if (pool === undefined)
        return bad('place.pool', `${name} has no node pool "${value}".`, 'Name one of its pools, or leave it out.');
      part.nodePoolId = pool.id;
    }
  }
  const zones = byId(plan.sites, byId(plan.clusters, cluster.value)?.siteId ?? '')?.zones ?? [];
  const zone = zones.find((each) => each.toLowerCase() === part.zone.toLowerCase());
  if (part.zone !== '' && zone === undefined)
    return bad('place.zone', `${name} has no zone "${part.zone}".`, `Its zones are ${zones.join(', ')}.`);
  return good({ kind, clusterId: cluster.value, ...part, zone: zone ?? '' });
}

function serviceNamed(
  plan: QuestionNames,
  name: string,
  clusterName: string,
  port: number | undefined,
): Result<ServiceTarget> {
  const cluster = named(plan.clusters, 'cluster', clusterName);
  if (!cluster.ok) return cluster;
  const service = inNamespace(plan.services, cluster.value, name);
  if (service === undefined)
    return bad(
      'target.service',
      `${clusterName} has no service "${name}".`,
      'Write its namespace and name, such as service shop/basket.',
    );
  const offered = service.ports.flatMap((text) => readServicePort(text) ?? []);
  const wanted = port ?? offered[0]?.port;
  // A headless service translates no ports: any may be asked of its pods.
  const isOpen = service.type === 'headless' || offered.some((each) => each.port === wanted);
  if (wanted === undefined || !isOpen)
    return bad(
      'target.service-port',
      `The service ${name} has no port ${port ?? ''}.`,
      offered.length === 0
        ? 'It has no ports at all.'
        : `It has ${offered.map((each) => `${each.protocol} ${each.port}`).join(', ')}.`,
    );
  return good({ kind: 'service', serviceId: service.id, port: wanted });
}

function portOf({ ports }: { readonly ports: readonly string[] }, port: number) {
  return ports.flatMap((text) => readServicePort(text) ?? []).find((each) => each.port === port);
}

/** What can be asked for: each zone has an SOA, which no record of the plan is. */
const askedTypes: readonly AnyType[] = [...recordTypes, 'SOA'];

function nameAsked(text: string, type: string): Result<NameTarget> {
  const known = askedTypes.find((each) => each === type);
  if (known === undefined)
    return bad(
      'target.type',
      `“${type}” is not a type of record that can be asked for.`,
      `Known are ${askedTypes.filter((each) => each !== 'other').join(', ')}.`,
    );
  const name = readFullName(text);
  if (!name.ok) return name;
  return good({ kind: 'name', name: `${name.value}${text.endsWith('.') ? '.' : ''}`, type: known });
}

/** What is called "namespace/name" in a cluster; the namespace may be left out where one name is enough. */
function inNamespace<E extends { readonly clusterId: string; readonly namespace: string; readonly name: string }>(
  items: readonly E[],
  clusterId: string,
  text: string,
): E | undefined {
  const sought = text.trim();
  const own: readonly E[] = grouped<'clusterId', E>(items, 'clusterId').get(clusterId) ?? [];
  const found = own.filter(({ namespace, name }) => sought === (sought.includes('/') ? `${namespace}/${name}` : name));
  return found.length === 1 ? found[0] : undefined;
}

function namedPlace(plan: QuestionNames, isBastion: boolean, name: string): Result<Place> {
  if (isBastion) {
    const found = named(plan.bastions, 'bastion', name);
    return found.ok ? good({ kind: 'bastion', bastionId: found.value }) : found;
  }
  const sought = name.trim().toLowerCase();
  const range =
    plan.inUse.find((each) => rangeName(each).toLowerCase() === sought || each.prefix === sought) ??
    plan.inUse.find(({ owner }) => owner.toLowerCase() === sought);
  if (range !== undefined) return good({ kind: 'range', inUseId: range.id });
  return bad('place.range', `No range in use is called "${name}".`, 'Write its prefix or its owner.');
}

/** How a range in use is written: its prefix and owner, since an owner may have several. */
function rangeName({ prefix, owner }: { readonly prefix: string; readonly owner: string }): string {
  return `${prefix} (${owner})`;
}

/** The id of the one with that name, in any case. Names are looked up here, since the rules of kinds stand above this file. */
function named(
  items: readonly { readonly id: string; readonly name: string }[],
  what: string,
  text: string,
): Result<string> {
  const sought = text.trim();
  const [exact] = grouped(items, 'name').get(sought) ?? [];
  const found = exact ?? items.find(({ name }) => name.toLowerCase() === sought.toLowerCase());
  if (found !== undefined) return good(found.id);
  const some = items
    .slice(0, 5)
    .map(({ name }) => name)
    .join(', ');
  return bad(
    'place.name',
    `There is no ${what} "${text.trim()}".`,
    some === '' ? `Add the ${what} first.` : `Known are ${some}${items.length > 5 ? ' and others' : ''}.`,
  );
}

/** The zones of sites that a question can be asked without, each as it is written: "a of Basalt hall". */
export function zoneWords({ sites }: Pick<Plan, 'sites'>): string[] {
  return sites.flatMap(({ name, zones }) => zones.map((zone) => `${zone} of ${name}`));
}

/** Reads a zone of a site: "a of Basalt hall". Gives it as forwarding counts lost ones; fails where no site has it. */
export function readZone({ sites }: Pick<Plan, 'sites'>, text: string): Result<string> {
  const sought = text.trim().toLowerCase();
  const site = sites.find(({ name, zones }) => zones.some((zone) => `${zone} of ${name}`.toLowerCase() === sought));
  const zone = site?.zones.find((each) => `${each} of ${site.name}`.toLowerCase() === sought);
  return site === undefined || zone === undefined
    ? bad('place.zone', `There is no zone "${text.trim()}".`, knownZones(sites))
    : good(`${site.id} ${zone}`);
}

function knownZones(sites: Plan['sites']): string {
  const words = zoneWords({ sites });
  return words.length === 0
    ? 'Add a site with zones first.'
    : `Known are ${words.slice(0, 5).join(', ')}${words.length > 5 ? ' and others' : ''}.`;
}

function splitService(words: string): { readonly rest: string; readonly service: Result<Service> } {
  const ported = /^(.*?)\s+(tcp|udp)\s+(\S+)$/i.exec(words);
  if (ported !== null) {
    const port = Number(ported[3]);
    const protocol = (ported[2] ?? '').toLowerCase() as Protocol;
    const isPort = /^\d+$/.test(ported[3] ?? '') && port >= 1 && port <= 65_535;
    return {
      rest: ported[1] ?? '',
      service: isPort
        ? good({ protocol, port })
        : bad('service.port', `"${ported[3]}" is not a port.`, 'Write a number from 1 to 65,535.'),
    };
  }
  const bare = /^(.*)\s+([a-z]+)$/i.exec(words);
  const protocol = protocols.find((each) => each === bare?.[2]?.toLowerCase());
  if (bare === null || protocol === undefined) return { rest: words, service: good(usual) };
  const isPorted = protocol === 'tcp' || protocol === 'udp';
  return {
    rest: bare[1] ?? '',
    service: isPorted
      ? bad('service.no-port', `${protocol} needs a port.`, `Write ${protocol} and a number, such as ${protocol} 443.`)
      : good({ protocol, port: 0 }),
  };
}
