import type { IngressRoute } from '../plan/index.js';

/**
 * The HTTP status of a call that a rule can send nowhere; undefined where it has none. Source: the Gateway API, backends of each kind of
 * route that are no valid ones (from memory of its reference); of an Ingress common practice.
 */
export function unsentStatus({ objectKind }: Pick<IngressRoute, 'objectKind'>): number | undefined {
  return objectKind === 'Ingress' ? 503 : objectKind === 'HTTPRoute' ? 500 : undefined;
}
