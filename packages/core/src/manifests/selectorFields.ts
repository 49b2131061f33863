import { readPolicyRule, readSelectorTerm } from '../plan/index.js';
import type { PolicyPeer, PolicyPort, SelectorTerm } from '../plan/index.js';
import { formatPrefix, parseAddress, prefixAround } from '../address/index.js';
import { fields, list } from './upgrade.js';

type Written = Readonly<Record<string, unknown>>;

const operators: Readonly<Record<string, SelectorTerm['how']>> = {
  In: 'in',
  NotIn: 'not in',
  Exists: 'exists',
  DoesNotExist: 'not exists',
};

/** Labels as they are written in the plan. */
export function labelTexts(value: unknown): string[] {
  return Object.entries(fields(value)).map(([key, label]) => `${key}=${String(label)}`);
}

/** Labels as they are written in a manifest; undefined for none. */
export function labelFields(texts: readonly string[]): Written | undefined {
  if (texts.length === 0) return undefined;
  return Object.fromEntries(texts.map((text) => [text.split('=')[0] ?? '', text.split('=')[1] ?? '']));
}

/** The terms of a label selector, as the plan writes them. */
export function selectorTexts(value: unknown): string[] {
  const { matchLabels, matchExpressions } = fields(value);
  const expressions = list(matchExpressions).map((each) => {
    const { key, operator, values } = fields(each);
    const how = operators[String(operator)];
    const several = list(values).map(String).join(', ');
    if (how === 'exists') return String(key);
    if (how === 'not exists') return `!${String(key)}`;
    return `${String(key)} ${how === 'in' ? 'in' : 'notin'} (${several})`;
  });
  return [...labelTexts(matchLabels), ...expressions];
}

/** A label selector as a manifest writes it. */
export function selectorFields(terms: readonly SelectorTerm[]): Written {
  const plain = terms.filter(({ how, values }) => how === 'in' && values.length === 1);
  const others = terms.filter((term) => !plain.includes(term));
  const operator = (how: SelectorTerm['how']) => Object.keys(operators).find((each) => operators[each] === how);
  return {
    ...(plain.length === 0
      ? {}
      : { matchLabels: Object.fromEntries(plain.map(({ key, values }) => [key, values[0]])) }),
    ...(others.length === 0
      ? {}
      : {
          matchExpressions: others.map(({ key, how, values }) => ({
            key,
            operator: operator(how),
            ...(values.length === 0 ? {} : { values }),
          })),
        }),
  };
}

/** Terms of a selector from their texts. */
export function termsOf(texts: readonly string[]): SelectorTerm[] {
  return texts.flatMap((text) => readSelectorTerm(text) ?? []);
}

/** A rule of a network policy, as the plan writes it. */
export function ruleText(value: unknown, peersAt: 'from' | 'to'): string {
  const rule = fields(value);
  const peers = list(rule[peersAt]).map(peerText);
  const ports = list(rule['ports']).map(portText);
  return `${peers.length === 0 ? 'anyone' : peers.join(' or ')}${ports.length === 0 ? '' : ` on ${ports.join(', ')}`}`;
}

function peerText(value: unknown): string {
  const { podSelector, namespaceSelector, ipBlock } = fields(value);
  if (ipBlock !== undefined) {
    const { cidr, except } = fields(ipBlock);
    const without = list(except).map((each) => masked(String(each)));
    return `${masked(String(cidr))}${without.length === 0 ? '' : ` except ${without.join(' and ')}`}`;
  }
  const said = (selector: unknown) => selectorTexts(selector).join(', ') || 'all';
  if (podSelector === undefined) return `namespaces ${said(namespaceSelector)}`;
  return `pods ${said(podSelector)}${namespaceSelector === undefined ? '' : ` in namespaces ${said(namespaceSelector)}`}`;
}

/** A block as the API means it: what stands in its host bits counts for nothing. */
function masked(text: string): string {
  const [start = '', length = ''] = text.split('/');
  const address = parseAddress(start);
  const bits = Number(length);
  const isBlock = address.ok && length !== '' && Number.isInteger(bits) && bits >= 0;
  return isBlock && bits <= (address.value.family === 4 ? 32 : 128)
    ? formatPrefix(prefixAround(address.value, bits))
    : text;
}

function portText(value: unknown): string {
  const { protocol, port, endPort } = fields(value);
  const name = (typeof protocol === 'string' ? protocol : 'TCP').toLowerCase();
  const range = typeof endPort === 'number' ? `-${endPort}` : '';
  return typeof port === 'number' || typeof port === 'string' ? `${name} ${port}${range}` : name;
}

/** A rule of a network policy as a manifest writes it. */
export function ruleFields(text: string, peersAt: 'from' | 'to'): Written {
  const rule = readPolicyRule(text);
  if (rule === undefined) return {};
  return {
    ...(rule.peers.length === 0 ? {} : { [peersAt]: rule.peers.map(peerFields) }),
    ...(rule.ports.length === 0 ? {} : { ports: rule.ports.map(portFields) }),
  };
}

function peerFields(peer: PolicyPeer): Written {
  if (peer.kind === 'block') {
    const except = peer.except.map(formatPrefix);
    return { ipBlock: { cidr: formatPrefix(peer.prefix), ...(except.length === 0 ? {} : { except }) } };
  }
  const namespaces = peer.namespaces === undefined ? {} : { namespaceSelector: selectorFields(peer.namespaces) };
  // Namespaces alone mean all of their pods.
  const isAll = peer.pods.length === 0 && peer.namespaces !== undefined;
  return { ...namespaces, ...(isAll ? {} : { podSelector: selectorFields(peer.pods) }) };
}

function portFields({ protocol, ports, name }: PolicyPort): Written {
  const range =
    ports === undefined ? {} : { port: ports.first, ...(ports.last === ports.first ? {} : { endPort: ports.last }) };
  return { protocol: protocol.toUpperCase(), ...range, ...(name === '' ? {} : { port: name }) };
}
