import type { TextForm } from './kinds/field.js';

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
export function readPorts(text: string): PortRange | undefined {
  const found = /^(\d{1,5})(?:-(\d{1,5}))?$/.exec(text);
  if (found === null) return undefined;
  const first = Number(found[1]);
  const last = Number(found[2] ?? found[1]);
  return first >= 1 && last <= 65_535 && first <= last ? { first, last } : undefined;
}

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
export function readContainerPort(text: string): ContainerPort | undefined {
  const found = containerPattern.exec(text);
  if (found === null || !isPort(Number(found[3]))) return undefined;
  return { name: found[1] ?? '', protocol: found[2] as ContainerPort['protocol'], port: Number(found[3]) };
}

/** Reads "web tcp 80 to http node 30080" or "tcp 443 to 8443"; undefined when it is none. */
export function readServicePort(text: string): ServicePort | undefined {
  const found = servicePattern.exec(text);
  if (found === null) return undefined;
  const [port, target = '', nodePort] = [Number(found[3]), found[4], found[5] === undefined ? undefined : Number(found[5])]; // prettier-ignore
  const isTarget = !/^\d+$/.test(target) || isPort(Number(target));
  if (!isPort(port) || !isTarget || (nodePort !== undefined && !isPort(nodePort))) return undefined;
  return { name: found[1] ?? '', protocol: found[2] as ServicePort['protocol'], port, target, nodePort };
}

// Labels of letters, digits and hyphens, at most 63 each, 253 in all (RFC 1123 2.1, RFC 1035 2.3.4); a wildcard may stand first.
const hostLabel = '[A-Za-z0-9](?:[A-Za-z0-9-]{0,61}[A-Za-z0-9])?';
const hostPattern = new RegExp(`^(?:\\*\\.)?${hostLabel}(?:\\.${hostLabel})*$`);

// Kubernetes API: names and values are at most 63 characters of letters, digits, "-", "_" and ".", and begin and end with a letter or digit;
// a name may have a DNS subdomain before it. From memory of the documentation on labels and taints.
const word = '[A-Za-z0-9](?:[A-Za-z0-9._-]{0,61}[A-Za-z0-9])?';
const subdomain = '[a-z0-9](?:[a-z0-9.-]{0,251}[a-z0-9])?';
const labelPattern = new RegExp(`^(?:${subdomain}/)?${word}(?:=(?:${word})?)?$`);
const taintPattern = new RegExp(
  `^(?:${subdomain}/)?${word}(?:=(?:${word})?)?:(?:NoSchedule|PreferNoSchedule|NoExecute)$`,
);

/** How a text of each form is written, for messages. Fixes are read by the rules of their fields. */
export const formExamples: Readonly<Record<Exclude<TextForm, 'fix'>, string>> = {
  label: 'a label such as tier=edge',
  taint: 'a taint such as dedicated=edge:NoSchedule',
  step: 'a step such as 6=40: month and nodes',
  ports: 'a port from 1 to 65,535, or a range such as 30000-32767 with the lower first',
  host: 'a host name such as registry.example.net',
  containerPort: 'a container port such as http tcp 8080: a name if it has one, the protocol, a port from 1 to 65,535',
  servicePort: 'a port such as tcp 80 to http, or web tcp 80 to 8080 node 30080',
};

/** Whether a text has that form. */
export function hasForm(form: Exclude<TextForm, 'fix'>, text: string): boolean {
  switch (form) {
    case 'label':
      return labelPattern.test(text);
    case 'taint':
      return taintPattern.test(text);
    case 'step':
      return readStep(text) !== undefined;
    case 'ports':
      return readPorts(text) !== undefined;
    case 'host':
      return hostPattern.test(text) && text.length <= 253;
    case 'containerPort':
      return readContainerPort(text) !== undefined;
    case 'servicePort':
      return readServicePort(text) !== undefined;
  }
}
