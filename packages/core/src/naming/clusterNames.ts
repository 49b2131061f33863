import { addressOfReverse, isWithin, reverseName } from '../zones/index.js';
import type { AnyType, Rr } from '../zones/index.js';
import { answering, grouped, podsFor, rangeOf, selectedBy, withFallbacks } from '../plan/index.js';
import type { Allocation, Cluster, ClusterService, Workload } from '../plan/index.js';
import { serviceBands } from '../sizing/index.js';
import { addressBytes, containsAddress, formatPrefix, parseAddress } from '../address/index.js';
import { formatServiceAddress } from '../english/index.js';
import type { NameReason } from '../road/index.js';
import type { HeldNames } from './heldNames.js';

/** Seconds for which a cluster’s DNS lets its own names be remembered: common practice. */
const CLUSTER_TTL = 30;

/** What a cluster’s own DNS says of a name in its domain. */
export interface ClusterAnswer {
  readonly outcome: 'answer' | 'no data' | 'no name' | 'outside';
  readonly records: readonly Rr[];
  readonly service: ClusterService | undefined;
  readonly why: NameReason;
}

/** The domain of a cluster’s own names. */
function domainOf({ dnsDomain }: Cluster): string {
  return dnsDomain === '' ? 'cluster.local' : dnsDomain;
}

/** The suffixes that a pod of a namespace tries, in their order. Source: documentation of the Kubernetes API on DNS for services and pods (from memory). */
export function searchListOf(cluster: Cluster, namespace: string): string[] {
  const domain = domainOf(cluster);
  return [`${namespace}.svc.${domain}`, `svc.${domain}`, domain, ...cluster.searchList];
}

/** Pods of a headless service that are told one by one, at most. */
const MAX_PODS = 200;

/** A pod behind a headless service: by its host name where it is of a StatefulSet. */
interface NamedPod {
  readonly workload: Workload;
  readonly host: string | undefined;
  readonly title: string;
}

/**
 * Answers a name in the cluster’s domain: services by <service>.<namespace>.svc, the pods of a headless service by their host names before
 * it, ports by _<port>._<protocol> before it (SRV). Nothing is below these; names between them exist without records of
 * their own (RFC 8020 2). Source: the DNS specification for services of the Kubernetes API, 1.1 (from memory).
 */
export function answerInCluster(state: HeldNames, cluster: Cluster, name: string, type: AnyType): ClusterAnswer {
  const domain = domainOf(cluster);
  if (!isWithin(name, domain)) return answerInReverse(state, cluster, name, type);
  const labels = name === domain ? [] : name.slice(0, -domain.length - 1).split('.');
  const [kind, namespace, serviceName, ...before] = [...labels].reverse();
  const services = servicesOf(state, cluster);
  if (kind === undefined) return none('no data', { code: 'domain.itself' });
  if (kind !== 'svc') return none('no name', { code: 'domain.below', domain });
  if (namespace === undefined) return none('no data', { code: 'domain.above-services' });
  const inNamespace = services.filter((each) => each.namespace === namespace);
  if (serviceName === undefined)
    return inNamespace.length > 0
      ? none('no data', { code: 'domain.namespace' })
      : none('no name', { code: 'domain.no-namespace', namespace });
  const service = inNamespace.find((each) => each.name === serviceName);
  if (service === undefined) return none('no name', { code: 'service.none', service: `${namespace}/${serviceName}` });
  return new ServiceNames(state, cluster, service, domain).answer(name, before, type);
}

interface Listed {
  readonly listed: readonly ClusterService[];
  readonly prefix: string | undefined;
  readonly services: readonly ClusterService[];
}

const withApi = new WeakMap<Cluster, Listed>();
const noServices: readonly ClusterService[] = [];

/**
 * The services of a cluster that have names: those that the plan lists, and that of its API, default/kubernetes, which every
 * cluster has at the first address of its service range. Source: documentation of the Kubernetes API (from memory).
 */
function servicesOf(state: HeldNames, cluster: Cluster): readonly ClusterService[] {
  const listed = grouped(state.parts.services, 'clusterId').get(cluster.id) ?? noServices;
  const range = state.forwarding.rangesOf(cluster.id).find(({ purpose }) => purpose === 'service');
  const known = withApi.get(cluster);
  if (known?.listed === listed && known.prefix === range?.prefix) return known.services;
  const isListed = listed.some(({ namespace, name }) => namespace === 'default' && name === 'kubernetes');
  const services = isListed ? listed : [...listed, apiService(cluster, range)];
  withApi.set(cluster, { listed, prefix: range?.prefix, services });
  return services;
}

function apiService({ id }: Cluster, range: Allocation | undefined): ClusterService {
  const first = range === undefined ? undefined : serviceBands(rangeOf(range))?.apiServer;
  return withFallbacks('services', {
    id: `${id} API`,
    clusterId: id,
    namespace: 'default',
    name: 'kubernetes',
    ports: ['https tcp 443 to 6443'],
    address: first ?? null,
  });
}

function none(outcome: 'no data' | 'no name', why: NameReason, service?: ClusterService): ClusterAnswer {
  return { outcome, records: [], service, why };
}

/** The names of one service. */
class ServiceNames {
  private readonly title: string;

  constructor(
    private readonly state: HeldNames,
    private readonly cluster: Cluster,
    private readonly service: ClusterService,
    private readonly domain: string,
  ) {
    this.title = `${service.namespace}/${service.name}`;
  }

  /** `before` are the labels before that of the service, the nearest first. */
  answer(name: string, before: readonly string[], type: AnyType): ClusterAnswer {
    const { service } = this;
    const [nearest, next, ...deeper] = before;
    if (nearest === undefined) return this.ofService(name, type);
    if (service.type === 'ExternalName' || deeper.length > 0)
      return this.no('no name', { code: 'service.nothing-below', service: this.title });
    if (nearest.startsWith('_')) return this.ofPort(name, nearest, next, type);
    if (next !== undefined) return this.no('no name', { code: 'pod.nothing-below' });
    if (service.type !== 'headless') return this.no('no name', { code: 'service.not-headless', service: this.title });
    const pod = this.pods().find(({ host }) => host === nearest);
    if (pod === undefined) return this.no('no name', { code: 'pod.no-host', host: nearest });
    return type === familyType(this.cluster, service)
      ? this.answered([{ name, type, ttl: CLUSTER_TTL, value: pod.title, target: undefined }])
      : this.no('no data', { code: 'type.none', type });
  }

  private ofService(name: string, type: AnyType): ClusterAnswer {
    const { service, cluster } = this;
    const of = (values: readonly string[]) =>
      this.answered(values.map((value) => ({ name, type, ttl: CLUSTER_TTL, value, target: undefined })));
    if (service.type === 'ExternalName') {
      const target = withoutDot(service.externalName).toLowerCase();
      return this.answered([{ name, type: 'CNAME', ttl: CLUSTER_TTL, value: target, target }]);
    }
    if (service.type === 'headless') {
      if (service.endpoints.length > 0) {
        const own = service.endpoints.filter((address) => address.includes(':') === (type === 'AAAA'));
        return type !== 'A' && type !== 'AAAA'
          ? this.no('no data', { code: 'type.none', type })
          : own.length === 0
            ? this.no('no data', { code: 'type.no-endpoint', type })
            : of(own);
      }
      const pods = this.pods();
      if (pods.length === 0) return this.no('no name', { code: 'service.no-pods', service: this.title });
      return type === familyType(cluster, service)
        ? of(pods.map(({ title }) => title))
        : this.no('no data', { code: 'type.none', type });
    }
    if (type !== familyType(cluster, service)) return this.no('no data', { code: 'type.none', type });
    return of([addressSaid(this.state, cluster, service)]);
  }

  private ofPort(name: string, protocol: string, port: string | undefined, type: AnyType): ClusterAnswer {
    const { service } = this;
    const named = answering(service, this.workloads()).filter(
      (each) => each.port.name !== '' && `_${each.port.protocol}` === protocol,
    );
    if (port === undefined)
      return named.length > 0
        ? this.no('no data', { code: 'port.above' })
        : this.no('no name', { code: 'port.none-named', protocol: protocol.slice(1) });
    const found = named.find((each) => `_${each.port.name}` === port);
    if (found === undefined)
      return this.no('no name', { code: 'port.unknown', port: port.slice(1), protocol: protocol.slice(1) });
    if (type !== 'SRV') return this.no('no data', { code: 'port.type' });
    const own = `${service.name}.${service.namespace}.svc.${this.domain}`;
    const srv = (number: number, target: string): Rr => ({
      name,
      type: 'SRV',
      ttl: CLUSTER_TTL,
      value: `0 100 ${number} ${target}`,
      target,
    });
    if (service.type !== 'headless') return this.answered([srv(found.port.port, own)]);
    // Of a headless service each pod is named, at the port that it listens on: nothing translates one.
    const portOf = new Map(found.members.map((member) => [member.workload.id, member.port]));
    const records = this.pods().flatMap(({ workload, host }) => {
      const number = portOf.get(workload.id);
      return number === undefined ? [] : [srv(number, host === undefined ? own : `${host}.${own}`)];
    });
    const once = [...new Map(records.map((record) => [record.value, record])).values()];
    return once.length === 0
      ? this.no('no name', { code: 'port.no-pod', service: this.title, port: port.slice(1) })
      : this.answered(once);
  }

  /** The pods that the service selects, those of a StatefulSet under their host names. */
  private pods(): NamedPod[] {
    return selectedBy(this.service, this.workloads())
      .flatMap((workload) =>
        Array.from({ length: Math.min(podsFor(this.service, workload), MAX_PODS) }, (_, i): NamedPod => {
          const host = workload.objectKind === 'StatefulSet' ? `${workload.name}-${i}` : undefined;
          return { workload, host, title: host === undefined ? `pod ${i + 1} of ${workload.name}` : `the pod ${host}` };
        }),
      )
      .slice(0, MAX_PODS);
  }

  private workloads(): readonly Workload[] {
    return grouped(this.state.parts.workloads, 'clusterId').get(this.cluster.id) ?? [];
  }

  private answered(records: readonly Rr[]): ClusterAnswer {
    return { outcome: 'answer', service: this.service, why: { code: 'service.answers', service: this.title }, records };
  }

  private no(outcome: 'no data' | 'no name', why: NameReason): ClusterAnswer {
    return none(outcome, why, this.service);
  }
}

/** The name of a service by its address: PTR in the reverse zone of the service range. */
function answerInReverse(state: HeldNames, cluster: Cluster, name: string, type: AnyType): ClusterAnswer {
  const services = servicesOf(state, cluster);
  const service = services.find(({ address }) => address !== null && reverseOf(address) === name);
  if (service === undefined) {
    const isOpen = services.some(
      (each) => each.address === null && each.type !== 'headless' && each.type !== 'ExternalName',
    );
    return isOpen
      ? { outcome: 'outside', records: [], service: undefined, why: { code: 'address.undecided' } }
      : none('no name', { code: 'address.of-nobody' });
  }
  if (type !== 'PTR') return none('no data', { code: 'address.type' }, service);
  const target = `${service.name}.${service.namespace}.svc.${domainOf(cluster)}`;
  return {
    outcome: 'answer',
    service,
    why: { code: 'service.of-address', service: `${service.namespace}/${service.name}` },
    records: [{ name, type: 'PTR', ttl: CLUSTER_TTL, value: target, target }],
  };
}

function reverseOf(address: string): string {
  const parsed = parseAddress(address);
  return parsed.ok ? reverseName([...addressBytes(parsed.value)]) : '';
}

function withoutDot(name: string): string {
  return name.endsWith('.') ? name.slice(0, -1) : name;
}

function familyType({ family }: Cluster, { address }: ClusterService): AnyType {
  return address?.includes(':') === true || family === 'ipv6' ? 'AAAA' : 'A';
}

/** The address of a service, or where the cluster takes it from. */
function addressSaid({ forwarding }: HeldNames, cluster: Cluster, { address }: ClusterService): string {
  if (address !== null) return address;
  const ranges = forwarding.rangesOf(cluster.id).filter(({ purpose }) => purpose === 'service');
  return formatServiceAddress(ranges.map((range) => formatPrefix(rangeOf(range))));
}

/** Whether a cluster’s DNS answers a name itself: in its domain, or the reverse name of an address of its service ranges. */
export function isOwnName({ forwarding }: HeldNames, cluster: Cluster, name: string): boolean {
  if (isWithin(name, domainOf(cluster))) return true;
  const address = addressOfReverse(name);
  if (address === undefined) return false;
  return forwarding
    .rangesOf(cluster.id)
    .some((range) => range.purpose === 'service' && containsAddress(rangeOf(range), address));
}
