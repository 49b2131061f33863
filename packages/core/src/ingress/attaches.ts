import { takesRoutesOf } from '../plan/index.js';
import type { Cluster, Gateway, IngressRoute, OwnListener } from '../plan/index.js';
import { commonHost } from '../zones/index.js';

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

/** Whether of two objects one is known to be the older; of the same age the first by namespace and name counts as it. */
export function isOlder(one: IngressRoute, other: IngressRoute): boolean {
  if (one.age === 0 || other.age === 0) return false;
  const title = ({ namespace, name }: IngressRoute) => `${namespace}/${name}`;
  return one.age === other.age ? title(one) < title(other) : one.age < other.age;
}

/** Whether a rule, by the listener that it names at the gateway, attaches to one of its listeners and has a host in common with it. */
export function attaches(
  { namespace, hosts, form }: IngressRoute,
  named: string,
  gateway: Gateway,
  { name, host, protocol, takesFrom }: Pick<OwnListener, 'name' | 'host' | 'protocol' | 'takesFrom'>,
  cluster: Pick<Cluster, 'namespaceLabels'>,
): boolean {
  if (named !== '' && named !== name) return false;
  if (!takesRoutesOf(gateway, { takesFrom }, cluster, namespace)) return false;
  const isWeb = protocol === 'http' || protocol === 'https';
  if (isWeb !== (form === 'HTTPRoute' || form === 'GRPCRoute')) return false;
  return hosts.length === 0 || hosts.some((own) => commonHost(host, own.toLowerCase()) !== undefined);
}
