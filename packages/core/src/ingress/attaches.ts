import { takesRoutesOf } from '../plan/index.js';
import type { Cluster, Gateway, IngressRoute, OwnListener } from '../plan/index.js';
import { commonHost } from '../zones/index.js';
import { nameOf } from './words.js';

/** The hosts under which a route is at a listener, as patterns: those that both have in common. */
function hostsAt({ hosts }: Pick<IngressRoute, 'hosts'>, { host }: Pick<OwnListener, 'host'>): readonly string[] {
  return hosts.length === 0 ? [host] : hosts.flatMap((own) => commonHost(host, own.toLowerCase()) ?? []);
}

/** Whether two routes have a host in common at a listener. */
export function sharesHost(
  one: Pick<IngressRoute, 'hosts'>,
  other: Pick<IngressRoute, 'hosts'>,
  listener: Pick<OwnListener, 'host'>,
): boolean {
  const others = hostsAt(other, listener);
  return hostsAt(one, listener).some((host) => others.some((each) => commonHost(host, each) !== undefined));
}

/** Whether two rules are of objects of which it is not known which is older. */
export function areUndated(one: IngressRoute, other: IngressRoute): boolean {
  const areOne = one.objectKind === other.objectKind && nameOf(one) === nameOf(other);
  return !areOne && (one.age === 0 || other.age === 0);
}

/** Whether of two objects one is known to be the older; of the same age the first by namespace and name counts as it. */
export function isOlder(one: IngressRoute, other: IngressRoute): boolean {
  if (areUndated(one, other)) return false;
  return one.age === other.age ? nameOf(one) < nameOf(other) : one.age < other.age;
}

/**
 * Whether a listener takes routes of a kind: HTTP those of HTTP and gRPC, TLS its own, and those of TCP where it ends TLS itself. Source: the
 * Gateway API, kinds of routes by the protocol of a listener (from memory of its reference).
 */
export function carries(
  { protocol, isPassthrough }: Pick<OwnListener, 'protocol' | 'isPassthrough'>,
  form: IngressRoute['objectKind'],
): boolean {
  switch (form) {
    case 'HTTPRoute':
    case 'GRPCRoute':
      return protocol === 'http' || protocol === 'https';
    case 'TLSRoute':
      return protocol === 'tls';
    case 'TCPRoute':
      return protocol === 'tcp' || (protocol === 'tls' && !isPassthrough);
    case 'Ingress':
      return false;
  }
}

/** Whether a rule, by the listener that it names at the gateway, attaches to one of its listeners and has a host in common with it. */
export function attaches(
  { namespace, hosts, objectKind }: IngressRoute,
  named: string,
  gateway: Gateway,
  listener: Pick<OwnListener, 'name' | 'host' | 'protocol' | 'allowedRoutes' | 'isPassthrough'>,
  cluster: Pick<Cluster, 'namespaceLabels'>,
): boolean {
  if (named !== '' && named !== listener.name) return false;
  if (!takesRoutesOf(gateway, listener, cluster, namespace) || !carries(listener, objectKind)) return false;
  return hosts.length === 0 || hosts.some((own) => commonHost(listener.host, own.toLowerCase()) !== undefined);
}
