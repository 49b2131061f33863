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
  }
}
