import { isWithin } from '../zones/index.js';
import type { RecordType, Rr } from '../zones/index.js';
import { grouped, rangeOf, readServicePort } from '../plan/index.js';
import type { Cluster, ClusterService } from '../plan/index.js';
import { formatPrefix } from '../address/index.js';
import type { NameState } from './nameState.js';

/** Seconds for which a cluster’s DNS lets its own names be remembered: common practice. */
const CLUSTER_TTL = 30;

/** What a cluster’s own DNS says of a name in its domain. */
export interface ClusterAnswer {
  readonly outcome: 'answer' | 'no data' | 'no name';
  readonly records: readonly Rr[];
  readonly service: ClusterService | undefined;
  readonly say: string;
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

/**
 * Answers a name in the cluster’s domain: services by <service>.<namespace>.svc, one pod of a headless service by its host name before it,
 * ports by _<port>._<protocol> before it (SRV). Source: the DNS specification for services of the Kubernetes API, 1.1 (from memory).
 */
export function answerInCluster(state: NameState, cluster: Cluster, name: string, type: RecordType): ClusterAnswer {
  const domain = domainOf(cluster);
  const labels = name === domain ? [] : name.slice(0, -domain.length - 1).split('.');
  const no = (outcome: 'no data' | 'no name', say: string, service?: ClusterService): ClusterAnswer => ({
    outcome,
    records: [],
    service,
    say,
  });
  const [kind, namespace, serviceName, ...before] = [...labels].reverse();
  const services = grouped(state.parts.services, 'clusterId').get(cluster.id) ?? [];
  if (kind === undefined) return no('no data', 'The domain of the cluster itself has no address.');
  if (kind !== 'svc') return no('no name', `Below ${domain} only services are named.`);
  if (namespace === undefined) return no('no data', 'The name stands above those of services.');
  const inNamespace = services.filter((each) => each.namespace === namespace);
  if (serviceName === undefined)
    return inNamespace.length > 0
      ? no('no data', 'The name of a namespace has no address.')
      : no('no name', `No service is in the namespace ${namespace}.`);
  const service = inNamespace.find((each) => each.name === serviceName);
  if (service === undefined) return no('no name', `The cluster has no service ${namespace}/${serviceName}.`);
  const said = (value: string, of: RecordType, target?: string): ClusterAnswer => ({
    outcome: 'answer',
    service,
    say: `${namespace}/${serviceName} is a service of the cluster.`,
    records: [{ name, type: of, ttl: CLUSTER_TTL, value, target }],
  });
  if (before.length === 0) {
    if (service.type === 'ExternalName') return said(service.externalName, 'CNAME', service.externalName.toLowerCase());
    if (type !== familyType(cluster, service)) return no('no data', `It has no ${type} record.`, service);
    return said(addressSaid(state, cluster, service), type);
  }
  // _port._protocol, one pod of a headless service: its host name.
  const [protocol, port] = before;
  if (protocol?.startsWith('_') === true) {
    const found = service.ports
      .flatMap((text) => readServicePort(text) ?? [])
      .find((each) => `_${each.name}` === port && `_${each.protocol}` === protocol);
    if (found === undefined)
      return no('no name', `The service has no port ${port?.slice(1) ?? ''} of ${protocol.slice(1)}.`, service);
    const target = `${serviceName}.${namespace}.svc.${domain}`;
    return type === 'SRV'
      ? said(`0 100 ${found.port} ${target}`, 'SRV', target)
      : no('no data', 'A port has only an SRV record.', service);
  }
  if (service.type !== 'headless')
    return no('no name', `${namespace}/${serviceName} is not headless: its pods have no names of their own.`, service);
  const host = /^(.*)-(\d+)$/.exec(protocol ?? '');
  const owner = (grouped(state.parts.workloads, 'clusterId').get(cluster.id) ?? []).find(
    (each) =>
      each.namespace === namespace &&
      each.form === 'StatefulSet' &&
      each.name === host?.[1] &&
      Number(host[2]) < each.replicasNow,
  );
  if (owner === undefined)
    return no('no name', `No pod of a StatefulSet behind it has the host name ${protocol ?? ''}.`, service);
  return type === familyType(cluster, service)
    ? said(`the pod ${protocol ?? ''}`, type)
    : no('no data', `It has no ${type} record.`, service);
}

function familyType({ family }: Cluster, { address }: ClusterService): RecordType {
  return address?.includes(':') === true || family === 'ipv6' ? 'AAAA' : 'A';
}

/** The address of a service, or where the cluster takes it from. */
function addressSaid({ forwarding }: NameState, cluster: Cluster, { type, address }: ClusterService): string {
  if (type === 'headless') return 'the addresses of its pods';
  if (address !== null) return address;
  const ranges = forwarding.rangesOf(cluster.id).filter(({ purpose }) => purpose === 'service');
  return ranges.length === 0
    ? 'an address of its service range'
    : `an address of ${ranges.map((range) => formatPrefix(rangeOf(range))).join(' or ')}`;
}

/** Whether a name is in the domain of a cluster. */
export function isOwnName(cluster: Cluster, name: string): boolean {
  return isWithin(name, domainOf(cluster));
}
