/** How far a wildcard reaches: in an Ingress one label, in the Gateway API one or more (documentation of both, from memory). */
export type WildcardReach = 'one label' | 'labels';

/** Whether a host name matches a pattern, which is a name, "*.name", or empty for every host. Both in small letters. */
export function coversHost(pattern: string, host: string, reach: WildcardReach): boolean {
  if (pattern === '' || pattern === host) return true;
  if (!pattern.startsWith('*.')) return false;
  const suffix = pattern.slice(1);
  if (!host.endsWith(suffix) || host.length === suffix.length) return false;
  return reach === 'labels' || !host.slice(0, -suffix.length).includes('.');
}

/** Whether a certificate's names cover a host: a wildcard is the whole left-most label and stands for one (RFC 9525 6.3). */
export function certifies(names: readonly string[], host: string): boolean {
  return names.some((name) => coversHost(name.toLowerCase(), host, 'one label'));
}

/**
 * The hosts that a listener and a route have in common, as a pattern; undefined for none. Of two wildcards the narrower is what they share
 * (Gateway API, hostnames of listeners and routes, from memory).
 */
export function commonHost(listener: string, route: string): string | undefined {
  if (listener === '') return route;
  if (route === '' || route === listener) return listener;
  if (coversHost(listener, plain(route), 'labels') && isUnder(route, listener)) return route;
  return coversHost(route, plain(listener), 'labels') && isUnder(listener, route) ? listener : undefined;
}

function isUnder(narrow: string, wide: string): boolean {
  return wide.startsWith('*.') && plain(narrow).endsWith(wide.slice(1));
}

/** A wildcard stands for a name with some label in its place. */
function plain(pattern: string): string {
  return pattern.startsWith('*.') ? `x${pattern.slice(1)}` : pattern;
}
