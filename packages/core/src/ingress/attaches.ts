import type { Gateway, IngressRoute } from '../plan/index.js';
import { commonHost } from '../zones/index.js';

/** Whether a rule attaches to a listener of a gateway, and has a host in common with it. */
export function attaches(
  { listener, namespace, hosts, form }: IngressRoute,
  gateway: Gateway,
  { name, host, protocol }: { readonly name: string; readonly host: string; readonly protocol: string },
): boolean {
  if (listener !== '' && listener !== name) return false;
  if (gateway.takesFrom === 'its namespace' && namespace !== gateway.namespace) return false;
  const isWeb = protocol === 'http' || protocol === 'https';
  if (isWeb !== (form === 'HTTPRoute')) return false;
  return hosts.length === 0 || hosts.some((own) => commonHost(host, own.toLowerCase()) !== undefined);
}
