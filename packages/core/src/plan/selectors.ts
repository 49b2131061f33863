import { parsePrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { readPorts } from './textForms.js';
import type { PortRange } from './textForms.js';

/** One condition on labels: a part of a label selector of the Kubernetes API. */
export interface SelectorTerm {
  readonly key: string;
  readonly how: 'in' | 'not in' | 'exists' | 'not exists';
  readonly values: readonly string[];
}

/** Whom a rule of a network policy is about. */
export type PolicyPeer =
  /** Pods by their labels in namespaces by theirs; undefined namespaces are the policy's own. */
  | {
      readonly kind: 'pods';
      readonly pods: readonly SelectorTerm[];
      readonly namespaces: readonly SelectorTerm[] | undefined;
    }
  | { readonly kind: 'block'; readonly prefix: Prefix; readonly except: readonly Prefix[] };

/** A port of a rule: a protocol with a range of numbers, the name of a container port, or every port of the protocol. */
export interface PolicyPort {
  readonly protocol: 'tcp' | 'udp' | 'sctp';
  readonly ports: PortRange | undefined;
  readonly name: string;
}

/** One rule of a network policy: no peers are everyone, no ports are all. */
export interface PolicyRule {
  readonly peers: readonly PolicyPeer[];
  readonly ports: readonly PolicyPort[];
}

const word = '[A-Za-z0-9](?:[A-Za-z0-9._-]{0,61}[A-Za-z0-9])?';
const key = `(?:[a-z0-9](?:[a-z0-9.-]{0,251}[a-z0-9])?/)?${word}`;
const termPattern = new RegExp(
  `^(?:(!?)(${key})|(${key})\\s*(==?|!=)\\s*(${word})?|(${key}) (in|notin) \\(([^()]*)\\))$`,
);
const valuePattern = new RegExp(`^(?:${word})?$`);
const portName = /^[a-z0-9](?:[a-z0-9-]{0,13}[a-z0-9])?$/;

/**
 * Reads "app=web", "tier in (a, b)", "tier notin (a)", "tier" or "!tier": the written form of label selectors in the
 * Kubernetes API. Undefined when it is none.
 */
export function readSelectorTerm(text: string): SelectorTerm | undefined {
  const found = termPattern.exec(text.trim());
  if (found === null) return undefined;
  if (found[2] !== undefined) return { key: found[2], how: found[1] === '!' ? 'not exists' : 'exists', values: [] };
  if (found[3] !== undefined)
    return { key: found[3], how: found[4] === '!=' ? 'not in' : 'in', values: [found[5] ?? ''] };
  const values = (found[8] ?? '').split(',').map((value) => value.trim());
  if (found[6] === undefined || !values.every((value) => valuePattern.test(value))) return undefined;
  return { key: found[6], how: found[7] === 'in' ? 'in' : 'not in', values };
}

/** Reads several terms with commas between, or "all" for no condition; undefined when one is none. */
function readSelector(text: string): SelectorTerm[] | undefined {
  if (text.trim() === 'all') return [];
  // Commas between brackets part values, not terms.
  const parts = text.split(/,(?![^(]*\))/).map(readSelectorTerm);
  return parts.every((part) => part !== undefined) ? parts : undefined;
}

/**
 * Whether labels meet every term. A key that is missing meets "not in" and "not exists", as in the Kubernetes API (from memory of its
 * documentation on labels and selectors).
 */
export function meets(labels: ReadonlyMap<string, string>, terms: readonly SelectorTerm[]): boolean {
  return terms.every(({ key: name, how, values }) => {
    const value = labels.get(name);
    switch (how) {
      case 'in':
        return value !== undefined && values.includes(value);
      case 'not in':
        return value === undefined || !values.includes(value);
      case 'exists':
        return value !== undefined;
      case 'not exists':
        return value === undefined;
    }
  });
}

/** Labels by key; one without a value has an empty one. */
export function labelMap(labels: readonly string[]): Map<string, string> {
  return new Map(
    labels.map((label) => {
      const at = label.indexOf('=');
      return at < 0 ? [label, ''] : [label.slice(0, at), label.slice(at + 1)];
    }),
  );
}

/**
 * Reads a rule of a network policy: peers with "or" between, then "on" and ports with commas between. Peers are "anyone", "pods app=web",
 * "pods app=web in namespaces team=a", "namespaces team=a", "10.0.0.0/8 except 10.1.0.0/16". Undefined when it is none.
 */
export function readPolicyRule(text: string): PolicyRule | undefined {
  const [, who = '', on] = /^(.*?)(?: on (.+))?$/.exec(text.trim()) ?? [];
  const peers = who === 'anyone' ? [] : who.split(' or ').map(readPeer);
  const ports = on === undefined ? [] : on.split(',').map((each) => readPolicyPort(each.trim()));
  const isRead = peers.every((peer) => peer !== undefined) && ports.every((port) => port !== undefined);
  return isRead ? { peers, ports } : undefined;
}

function readPeer(text: string): PolicyPeer | undefined {
  const pods = /^pods (.+?)(?: in namespaces (.+))?$/.exec(text);
  if (pods !== null) {
    const own = readSelector(pods[1] ?? '');
    const namespaces = pods[2] === undefined ? undefined : readSelector(pods[2]);
    if (own === undefined || (pods[2] !== undefined && namespaces === undefined)) return undefined;
    return { kind: 'pods', pods: own, namespaces };
  }
  const spaces = /^namespaces (.+)$/.exec(text);
  if (spaces !== null) {
    const namespaces = readSelector(spaces[1] ?? '');
    return namespaces === undefined ? undefined : { kind: 'pods', pods: [], namespaces };
  }
  const [block = '', except] = text.split(' except ');
  const prefix = parsePrefix(block);
  const excepted = except === undefined ? [] : except.split(' and ').map((each) => parsePrefix(each.trim()));
  if (!prefix.ok || !excepted.every((each) => each.ok)) return undefined;
  return { kind: 'block', prefix: prefix.value, except: excepted.map(({ value }) => value) };
}

function readPolicyPort(text: string): PolicyPort | undefined {
  const [, protocol = '', port] = /^(tcp|udp|sctp)(?: (\S+))?$/.exec(text) ?? [];
  if (protocol === '') return undefined;
  const of = protocol as PolicyPort['protocol'];
  if (port === undefined) return { protocol: of, ports: undefined, name: '' };
  const ports = readPorts(port);
  if (ports !== undefined) return { protocol: of, ports, name: '' };
  return portName.test(port) && /[a-z]/.test(port) ? { protocol: of, ports: undefined, name: port } : undefined;
}

/** A label of a namespace. */
export interface NamespaceLabel {
  readonly namespace: string;
  readonly key: string;
  readonly value: string;
}

const namespaceLabelPattern = new RegExp(`^([a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?): ?(${key})=(${word})?$`);

/** Reads "shop: team=web"; undefined when it is none. */
export function readNamespaceLabel(text: string): NamespaceLabel | undefined {
  const found = namespaceLabelPattern.exec(text);
  return found === null ? undefined : { namespace: found[1] ?? '', key: found[2] ?? '', value: found[3] ?? '' };
}
