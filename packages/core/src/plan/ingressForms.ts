/** Protocols of a listener of the Gateway API, in small letters. */
type ListenerProtocol = 'http' | 'https' | 'tls' | 'tcp' | 'udp';

/** A listener of a gateway. */
export interface GatewayListener {
  readonly name: string;
  readonly protocol: ListenerProtocol;
  readonly port: number;
  /** The host it is for; empty for every one. */
  readonly host: string;
  /** A certificate of its own; empty for that of the gateway. */
  readonly certificate: string;
  /** Whether it passes TLS on as it comes, whatever the gateway’s certificate. */
  readonly isPassthrough: boolean;
  /** Whose routes it takes, where the gateway says otherwise. */
  readonly from: (typeof takers)[number] | undefined;
}

/** Namespaces whose routes a listener takes: of the gateway itself, all, or those with the labels that the gateway names. */
export const takers = ['own', 'all', 'labelled'] as const;

/** A service that a route sends to, with its weight. */
export interface BackendRef {
  /** Empty for the namespace of the route. */
  readonly namespace: string;
  readonly service: string;
  readonly port: number;
  readonly weight: number;
}

/** A gateway that a route attaches to. */
export interface ParentRef {
  readonly namespace: string;
  readonly gateway: string;
  /** The one listener; empty for each that takes the route. */
  readonly listener: string;
}

/** Who may name objects of another namespace. */
export interface GrantFrom {
  readonly kind: string;
  readonly namespace: string;
}

/** What may be named; every one of the kind where the name is empty. */
export interface GrantTo {
  readonly kind: 'Service' | 'Secret';
  readonly name: string;
}

/** What a header or a query parameter must be. */
export interface Condition {
  readonly name: string;
  readonly how: 'is' | 'matches';
  readonly value: string;
}

/** What a route does to a header of the request. */
export interface HeaderChange {
  readonly does: 'set' | 'add' | 'remove';
  readonly name: string;
  readonly value: string;
}

const label = '[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?';
const hostName =
  '(?:\\*\\.)?[A-Za-z0-9](?:[A-Za-z0-9-]{0,61}[A-Za-z0-9])?(?:\\.[A-Za-z0-9](?:[A-Za-z0-9-]{0,61}[A-Za-z0-9])?)*';
const secret = `(?:${label}/)?${label}(?:\\.${label})*`;
const listenerPattern = new RegExp(
  `^(${label}) (http|https|tls|tcp|udp) (\\d{1,5})(?: (${hostName}))??(?: (passthrough)| cert (${secret}))?(?: from (${takers.join('|')}))?$`,
);
const backendPattern = new RegExp(`^(?:(${label})/)?(${label}) (\\d{1,5})(?: weight (\\d{1,7}))?$`);
const parentPattern = new RegExp(`^(${label})/(${label}(?:\\.${label})*)(?: (${label}))?$`);
const fromPattern = new RegExp(`^(HTTPRoute|GRPCRoute|TLSRoute|TCPRoute|UDPRoute|Gateway) in (${label})$`);
const toPattern = new RegExp(`^(Service|Secret)(?: (${label}(?:\\.${label})*))?$`);
// RFC 9110 5.6.2: a token.
const token = "[!#$%&'*+.^_`|A-Za-z0-9-]+";
const conditionPattern = new RegExp(`^(${token})(=|~)([^;]*)$`);
const changePattern = new RegExp(`^(?:(set|add) (${token})=([^;]*)|remove (${token}))$`);

const isPort = (port: number) => port >= 1 && port <= 65_535;

/** Weights of the Gateway API: 0 to 1,000,000. From memory of its reference. */
const MAX_WEIGHT = 1_000_000;

/** Reads "web https 443 *.tide.example", "web https 443 cert edge-cert from all", "secret tls 443 passthrough"; undefined when it is none. */
export function readGatewayListener(text: string): GatewayListener | undefined {
  const found = listenerPattern.exec(text);
  if (found === null || !isPort(Number(found[3])) || (found[4] ?? '').length > 253) return undefined;
  return {
    name: found[1] ?? '',
    protocol: found[2] as ListenerProtocol,
    port: Number(found[3]),
    host: (found[4] ?? '').toLowerCase(),
    certificate: found[6] ?? '',
    isPassthrough: found[5] !== undefined,
    from: takers.find((each) => each === found[7]),
  };
}

/** Reads "tide 80", "models/tide 80 weight 10"; the weight is 1 where none is written, 0 to 1,000,000. Undefined when it is none. */
export function readBackendRef(text: string): BackendRef | undefined {
  const found = backendPattern.exec(text);
  const weight = Number(found?.[4] ?? 1);
  if (found === null || !isPort(Number(found[3])) || weight > MAX_WEIGHT) return undefined;
  return { namespace: found[1] ?? '', service: found[2] ?? '', port: Number(found[3]), weight };
}

/** Reads "edge/public" or "edge/public plain"; undefined when it is none. */
export function readParentRef(text: string): ParentRef | undefined {
  const found = parentPattern.exec(text);
  if (found === null) return undefined;
  return { namespace: found[1] ?? '', gateway: found[2] ?? '', listener: found[3] ?? '' };
}

/** Reads "HTTPRoute in shop"; undefined when it is none. */
export function readGrantFrom(text: string): GrantFrom | undefined {
  const found = fromPattern.exec(text);
  return found === null ? undefined : { kind: found[1] ?? '', namespace: found[2] ?? '' };
}

/** Reads "Service" or "Service basket"; undefined when it is none. */
export function readGrantTo(text: string): GrantTo | undefined {
  const found = toPattern.exec(text);
  return found === null ? undefined : { kind: found[1] as GrantTo['kind'], name: found[2] ?? '' };
}

/** Reads "version=2" or "agent~^old.*"; undefined when it is none. Whether a pattern can be run is asked by those who run it. */
export function readCondition(text: string): Condition | undefined {
  const found = conditionPattern.exec(text);
  if (found === null) return undefined;
  return { name: found[1] ?? '', how: found[2] === '=' ? 'is' : 'matches', value: found[3] ?? '' };
}

/** Reads "set x-tier=edge", "add x-tier=edge" or "remove x-tier"; undefined when it is none. */
export function readHeaderChange(text: string): HeaderChange | undefined {
  const found = changePattern.exec(text);
  if (found === null) return undefined;
  if (found[4] !== undefined) return { does: 'remove', name: found[4], value: '' };
  return { does: found[1] as 'set' | 'add', name: found[2] ?? '', value: found[3] ?? '' };
}
