import { byId, listenersOf, parentsOf } from '../plan/index.js';
import type { Balancer, Cluster, IngressRoute, Plan } from '../plan/index.js';
import { wantedNames } from './kept.js';
import type { NameState } from './nameState.js';

/** A name that clients are to find, and where they are. */
export interface WantedHost {
  readonly host: string;
  readonly cluster: Cluster;
  readonly subject: { readonly kind: 'services' | 'ingressRoutes' | 'clusters'; readonly id: string };
  /** Who takes its calls; undefined while nobody does. */
  readonly balancer: Balancer | undefined;
}

/** The name of a self-run cluster’s API, and of its routes: by its name and base domain, known before it is installed. */
export function selfRunNames({
  name,
  baseDomain,
  controlPlane,
}: Cluster): { readonly api: string; readonly apps: string } | undefined {
  if (controlPlane !== 'self-run' || baseDomain === '') return undefined;
  return { api: `api.${name.toLowerCase()}.${baseDomain}`, apps: `*.apps.${name.toLowerCase()}.${baseDomain}` };
}

/** Every name that services, routes and gateways are for, each once a cluster. */
export function wantedHosts({ parts }: NameState): WantedHost[] {
  return parts.clusters.flatMap((cluster) => wantedHostsOf(parts, cluster));
}

/** The names of one cluster’s services, routes and gateways, each once. */
export function wantedHostsOf(parts: NameState['parts'], cluster: Cluster): WantedHost[] {
  const seen = new Set<string>();
  return wantedNames(parts, cluster.id, ['services', 'Ingress hosts', 'gateways']).flatMap(
    ({ host, subject, balancer }) => {
      if (seen.has(host)) return [];
      seen.add(host);
      return [{ host, cluster, subject, balancer }];
    },
  );
}

/** The type of record that leads to a load balancer: AAAA where its address is an IPv6 one. */
export function typeTo(balancer: Balancer | undefined): 'A' | 'AAAA' {
  return balancer?.address?.includes(':') === true ? 'AAAA' : 'A';
}

/** The network that the clients of a name are in, empty for the internet: that of a public load balancer, of an internal one, else of the cluster. */
export function clientsOf(
  state: NameState,
  { balancer, cluster }: Pick<WantedHost, 'balancer' | 'cluster'>,
): string | undefined {
  if (balancer?.side === 'public') return '';
  return balancer === undefined ? cluster.networkId : byId(state.parts.subnets, balancer.subnetId)?.networkId;
}

/** Names that clients of a cluster are to find, and how many of them they do. */
export interface NameCount {
  readonly found: number;
  readonly all: number;
}

/** Per cluster: hosts of its services, routes and gateways, and the names of its API and routes where it runs itself; none without any. */
export function nameCounts(state: NameState): ReadonlyMap<string, NameCount> {
  const counts = new Map<string, { found: number; all: number }>();
  const count = (clusterId: string, networkId: string | undefined, name: string, type: 'A' | 'AAAA') => {
    const known = counts.get(clusterId) ?? { found: 0, all: 0 };
    counts.set(clusterId, known);
    known.all++;
    if (
      networkId !== undefined &&
      state.answers.of(networkId, `${name.replace('*', 'any')}.`, type).outcome === 'answer'
    )
      known.found++;
  };
  for (const wanted of wantedHosts(state))
    count(wanted.cluster.id, clientsOf(state, wanted), wanted.host, typeTo(wanted.balancer));
  for (const cluster of state.parts.clusters) {
    const names = selfRunNames(cluster);
    if (names !== undefined)
      for (const name of [names.api, names.apps])
        count(cluster.id, cluster.networkId, name, cluster.family === 'ipv6' ? 'AAAA' : 'A');
  }
  return counts;
}

/** Where a certificate is used, and for which hosts. */
export interface CertificateUse {
  readonly what: string;
  readonly subject: { readonly kind: 'listeners' | 'ingressRoutes' | 'gateways'; readonly id: string };
  readonly hosts: readonly string[];
}

/** Where a certificate is used: at listeners, in routes of Ingress, at gateways. */
export function usesOf(
  parts: Pick<Plan, 'listeners' | 'balancers' | 'ingressRoutes' | 'gateways'>,
  {
    name,
    clusterId,
    namespace,
  }: { readonly name: string; readonly clusterId: string | null; readonly namespace: string },
): CertificateUse[] {
  if (clusterId === null)
    return parts.listeners
      .filter(({ certificate }) => certificate === name)
      .map((each) => ({
        what: `listener ${each.name} of ${byId(parts.balancers, each.balancerId)?.name ?? ''}`,
        subject: { kind: 'listeners', id: each.id },
        hosts: [],
      }));
  const isIt = (each: { readonly certificate: string; readonly clusterId: string; readonly namespace: string }) =>
    each.clusterId === clusterId &&
    (each.certificate === `${namespace}/${name}` || (each.certificate === name && each.namespace === namespace));
  const attached = (gatewayId: string): IngressRoute[] =>
    parts.ingressRoutes.filter((route) => parentsOf(parts, route).some(({ gateway }) => gateway.id === gatewayId));
  return [
    ...parts.ingressRoutes.filter(isIt).map((each): CertificateUse => ({
      what: `${each.objectKind} ${each.namespace}/${each.name}`,
      subject: { kind: 'ingressRoutes', id: each.id },
      hosts: each.hosts,
    })),
    ...parts.gateways
      .filter((each) => listenersOf(each).some(({ certificate }) => isIt({ ...each, certificate })) || isIt(each))
      .map((each): CertificateUse => ({
        what: `gateway ${each.namespace}/${each.name}`,
        subject: { kind: 'gateways', id: each.id },
        hosts: attached(each.id).flatMap(({ hosts }) => hosts),
      })),
  ];
}
