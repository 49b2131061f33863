import { perText } from './perText.js';

/** Texts of one form that stay read: a plan has the same few ports in thousands of rows. */
const MAX_KEPT = 20_000;

/** One step of growth: this many nodes from that month on. */
export interface GrowthStep {
  readonly month: number;
  readonly nodes: number;
}

/** Reads "6=40"; undefined when it is none. Months 1 to 1,200, nodes 0 to 20,000. */
export function readStep(text: string): GrowthStep | undefined {
  const found = /^(\d{1,4})=(\d{1,5})$/.exec(text);
  if (found === null) return undefined;
  const [month, nodes] = [Number(found[1]), Number(found[2])];
  return month >= 1 && month <= 1200 && nodes <= 20_000 ? { month, nodes } : undefined;
}

/** A range of ports, both ends included; one port has both ends alike. */
export interface PortRange {
  readonly first: number;
  readonly last: number;
}

/** Reads "443" or "30000-32767"; undefined when it is none. Ports 1 to 65,535, the lower first (RFC 9293 3.1, RFC 768: 16 bits). */
export const readPorts = perText(MAX_KEPT, (text): PortRange | undefined => {
  const found = /^(\d{1,5})(?:-(\d{1,5}))?$/.exec(text);
  if (found === null) return undefined;
  const first = Number(found[1]);
  const last = Number(found[2] ?? found[1]);
  return first >= 1 && last <= 65_535 && first <= last ? { first, last } : undefined;
});

/** A port that a container listens on. */
export interface ContainerPort {
  /** Empty for none. */
  readonly name: string;
  readonly protocol: 'tcp' | 'udp' | 'sctp';
  readonly port: number;
}

/** A port of a service, and the container port of its members, by number or name. */
export interface ServicePort extends ContainerPort {
  readonly target: string;
  /** A fixed NodePort; undefined where the cluster gives one, or there is none. */
  readonly nodePort: number | undefined;
}

// Port names of the Kubernetes API: at most 15 of a-z, 0-9 and "-", with a letter, no hyphen at the ends (RFC 6335 5.1).
const portName = '(?=[a-z0-9-]{0,14}[a-z])[a-z0-9](?:[a-z0-9-]{0,13}[a-z0-9])?';
const containerPattern = new RegExp(`^(?:(${portName}) )?(tcp|udp|sctp) (\\d{1,5})$`);
const servicePattern = new RegExp(
  `^(?:(${portName}) )?(tcp|udp|sctp) (\\d{1,5}) to (\\d{1,5}|${portName})(?: node (\\d{1,5}))?$`,
);

const isPort = (port: number) => port >= 1 && port <= 65_535;

/** Reads "http tcp 8080" or "udp 53"; undefined when it is none. */
export const readContainerPort = perText(MAX_KEPT, (text): ContainerPort | undefined => {
  const found = containerPattern.exec(text);
  if (found === null || !isPort(Number(found[3]))) return undefined;
  return { name: found[1] ?? '', protocol: found[2] as ContainerPort['protocol'], port: Number(found[3]) };
});

/** Reads "web tcp 80 to http node 30080" or "tcp 443 to 8443"; undefined when it is none. */
export const readServicePort = perText(MAX_KEPT, (text): ServicePort | undefined => {
  const found = servicePattern.exec(text);
  if (found === null) return undefined;
  const [port, target = '', nodePort] = [
    Number(found[3]),
    found[4],
    found[5] === undefined ? undefined : Number(found[5]),
  ];
  const isTarget = !/^\d+$/.test(target) || isPort(Number(target));
  if (!isPort(port) || !isTarget || (nodePort !== undefined && !isPort(nodePort))) return undefined;
  return { name: found[1] ?? '', protocol: found[2] as ServicePort['protocol'], port, target, nodePort };
});
