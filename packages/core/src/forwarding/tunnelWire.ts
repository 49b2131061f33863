import type { Connection, Encapsulation, Protocol } from '../plan/index.js';

/** IKE. Source: RFC 7296 2. */
const IKE_PORT = 500;
/** Where relays are dialled: common practice, since 443 is open outwards nearly everywhere. */
const RELAY_PORT = 443;

/** What wraps packets between the gateways of a connection, outermost first; relays and flat connections wrap nothing. */
export function tunnelLayers({ method, tunnel }: Pick<Connection, 'method' | 'tunnel'>): readonly Encapsulation[] {
  return method === 'tunnels' ? [tunnel] : [];
}

/**
 * Protocol and port that carry a connection, and those by which its keys are agreed on. Sources: RFC 7296 2, RFC 3948
 * 2.1, RFC 7348 4.1; WireGuard and relays: common practice.
 */
export function openingsOf({
  method,
  tunnel,
  port,
}: Pick<Connection, 'method' | 'tunnel' | 'port'>): { readonly protocol: Protocol; readonly port: number }[] {
  if (method === 'flat') return [];
  if (method === 'relays') return [{ protocol: 'tcp', port: port ?? RELAY_PORT }];
  const usual = outerService(tunnel);
  const carries = usual.protocol === 'udp' ? { ...usual, port: port ?? usual.port } : usual;
  return tunnel.startsWith('esp') ? [carries, { protocol: 'udp', port: IKE_PORT }] : [carries];
}

/**
 * Protocol and port of a tunnel's outer packet. Sources: RFC 7348 4.1, RFC 8926 3.3, RFC 4303 2, RFC 3948 2.1, RFC 2003
 * 3, RFC 2784 3; WireGuard: common practice.
 */
export function outerService(layer: Encapsulation): { readonly protocol: Protocol; readonly port: number } {
  switch (layer) {
    case 'vxlan':
      return { protocol: 'udp', port: 4789 };
    case 'geneve':
      return { protocol: 'udp', port: 6081 };
    case 'wireguard':
      return { protocol: 'udp', port: 51_820 };
    case 'esp-gcm-nat':
    case 'esp-cbc-nat':
      return { protocol: 'udp', port: 4500 };
    case 'esp-gcm':
    case 'esp-cbc':
      return { protocol: 'esp', port: 0 };
    case 'ipip':
      return { protocol: 'ipip', port: 0 };
    case 'gre':
      return { protocol: 'gre', port: 0 };
    case 'none':
      return { protocol: 'any', port: 0 };
  }
}
