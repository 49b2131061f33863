import type { GatewayListener } from './ingressForms.js';

type Place = Pick<GatewayListener, 'protocol' | 'port' | 'host'>;

/** Protocols that share a port, told apart by the host name in them. */
const sharing: Readonly<Record<Place['protocol'], string>> = {
  http: 'http',
  https: 'tls',
  tls: 'tls',
  tcp: 'tcp',
  udp: 'udp',
};

/**
 * Whether two listeners of a gateway cannot both be: at one port HTTP is apart from TLS and both from TCP; names of hosts tell listeners of
 * HTTP, and of TLS, apart; nothing does so with TCP and UDP. The controller accepts one of them or neither. Source: the Gateway API, listeners
 * that conflict (from memory of its reference).
 */
export function isRivalListener(one: Place, other: Place): boolean {
  if (one.port !== other.port || (one.protocol === 'udp') !== (other.protocol === 'udp')) return false;
  const kind = sharing[one.protocol];
  if (kind !== sharing[other.protocol]) return true;
  return kind === 'tcp' || kind === 'udp' || one.host.toLowerCase() === other.host.toLowerCase();
}
