import {
  readBackendRef,
  readCondition,
  readGatewayListener,
  readGrantFrom,
  readGrantTo,
  readHeaderChange,
  readParentRef,
} from './ingressForms.js';
import type { TextForm } from './kinds/field.js';
import { readNamespaceLabel, readPolicyRule, readSelectorTerm } from './selectors.js';
import { parseAddress } from '../address/index.js';
import { readFullName } from '../zones/index.js';
import { readTranslation } from './translations.js';
import { readContainerPort, readPorts, readServicePort, readStep } from './textForms.js';

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

const withCommas: ReadonlySet<string> = new Set(['selectorTerm', 'policyRule', 'condition', 'headerChange']);

/** What sets the texts of a list apart where it is written in one line: forms that hold commas and bars have the semicolon alone. */
export function listMarks(form: TextForm | undefined): { readonly read: RegExp; readonly write: string } {
  // An object ends with a bracket and the next one begins with one; within them any mark may stand.
  if (form === 'object') return { read: /\n|(?<=\}); ?(?=\{)/, write: '; ' };
  const hasCommas = form !== undefined && withCommas.has(form);
  return hasCommas ? { read: /[;\n]/, write: '; ' } : { read: /[;|,\n]/, write: ', ' };
}

/** How a text of each form is written, for messages. Values of fields are read by the rules of their fields. */
export const formExamples: Readonly<Record<Exclude<TextForm, 'fieldValue'>, string>> = {
  label: 'a label such as tier=edge',
  taint: 'a taint such as dedicated=edge:NoSchedule',
  step: 'a step such as 6=40: month and nodes',
  ports: 'a port from 1 to 65,535, or a range such as 30000-32767 with the lower first',
  host: 'a host name such as registry.example.net',
  containerPort: 'a container port such as http tcp 8080: a name if it has one, the protocol, a port from 1 to 65,535',
  servicePort: 'a port such as tcp 80 to http, or web tcp 80 to 8080 node 30080',
  gatewayListener:
    'a listener such as web https 443, or web https 443 *.tide.example cert tide-cert from all: name, protocol, port; a host, a certificate and whose routes it takes if it has them',
  backendRef: 'a service with its port, such as tide 80, models/tide 80 or tide 80 weight 10',
  condition: 'a name with its value or regular expression, such as version=2 or agent~^old',
  headerChange: 'a change such as set x-tier=edge, add x-tier=edge or remove x-tier',
  selectorTerm: 'a condition on labels such as app=web, tier in (a, b), tier or !tier',
  object: 'one object as JSON, with its kind and metadata.name',
  parentRef: 'a gateway such as edge/public, with one of its listeners if it is only for that: edge/public plain',
  grantFrom: 'a kind and its namespace such as HTTPRoute in shop',
  grantTo: 'Service or Secret, with a name if only that one may be named: Service basket',
  namespaceLabel: 'a label of a namespace such as shop: team=web',
  stubZone: 'a domain with the resolvers that are asked for it, such as tide.example to 10.40.0.53 10.40.0.54',
  translation: 'a range and the one of the same size that others see instead, such as 10.244.0.0/16 as 172.30.0.0/16',
  policyRule:
    'peers and ports such as pods app=web in namespaces team=a on tcp 8080, 10.0.0.0/8 except 10.1.0.0/16, or anyone on udp 53',
};

/** Whether a text has that form. */
export function hasForm(form: Exclude<TextForm, 'fieldValue'>, text: string): boolean {
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
    case 'gatewayListener':
      return readGatewayListener(text) !== undefined;
    case 'backendRef':
      return readBackendRef(text) !== undefined;
    case 'condition':
      return readCondition(text) !== undefined;
    case 'headerChange':
      return readHeaderChange(text) !== undefined;
    case 'selectorTerm':
      return readSelectorTerm(text) !== undefined;
    case 'policyRule':
      return readPolicyRule(text) !== undefined;
    case 'namespaceLabel':
      return readNamespaceLabel(text) !== undefined;
    case 'object':
      return isObject(text);
    case 'parentRef':
      return readParentRef(text) !== undefined;
    case 'grantFrom':
      return readGrantFrom(text) !== undefined;
    case 'grantTo':
      return readGrantTo(text) !== undefined;
    case 'stubZone':
      return readStubZone(text) !== undefined;
    case 'translation':
      return readTranslation(text) !== undefined;
  }
}

function isObject(text: string): boolean {
  try {
    const read: unknown = JSON.parse(text);
    if (typeof read !== 'object' || read === null || !('kind' in read) || !('metadata' in read)) return false;
    const { kind, metadata } = read;
    return typeof kind === 'string' && typeof metadata === 'object' && metadata !== null && 'name' in metadata;
  } catch {
    return false;
  }
}

/** A domain that is asked elsewhere: "tide.example to 10.40.0.53 10.40.0.54". */
export function readStubZone(
  text: string,
): { readonly domain: string; readonly targets: readonly string[] } | undefined {
  const [name = '', list] = text.trim().split(/\s+to\s+/);
  const domain = readFullName(name);
  const targets = list?.trim().split(/\s+/) ?? [];
  if (!domain.ok || domain.value === '' || targets.length === 0 || targets.length > 6) return undefined;
  return targets.every((each) => parseAddress(each).ok) ? { domain: domain.value, targets } : undefined;
}
