import { parsePrefix } from '../../address/index.js';
import type { IcmpMessage, Protocol } from './vocabulary.js';
import { wrong } from './rules.js';
import type { FieldProblem } from './rules.js';

/** Ports given to a protocol that has none. */
export function portsWithoutProtocol({
  protocol,
  ports,
}: {
  readonly protocol: Protocol;
  readonly ports: readonly string[];
}): FieldProblem[] {
  if (ports.length === 0 || protocol === 'tcp' || protocol === 'udp') return [];
  return [
    wrong(
      'ports',
      'rule.ports',
      `Ports ${ports.join(', ')} are given, and ${protocol === 'any' ? 'any protocol' : protocol} has no ports.`,
      'Choose tcp or udp, or leave the ports empty.',
    ),
  ];
}

/** Messages of ICMP given to another protocol. */
export function icmpWithoutProtocol({
  protocol,
  icmp,
}: {
  readonly protocol: Protocol;
  readonly icmp: readonly IcmpMessage[];
}): FieldProblem[] {
  if (icmp.length === 0 || protocol === 'icmp') return [];
  return [
    wrong(
      'icmp',
      'rule.icmp',
      `Messages of ICMP are given (${icmp.join(', ')}), and the protocol is ${protocol}.`,
      'Choose icmp, or leave the messages empty.',
    ),
  ];
}

/** What a rule does with which service: "allow tcp 443", "deny icmp echo request". */
export function aboutRule({
  action,
  protocol,
  ports,
  icmp,
}: {
  readonly action: string;
  readonly protocol: Protocol;
  readonly ports: readonly string[];
  readonly icmp: readonly IcmpMessage[];
}): string {
  const which = [...ports, ...icmp].join(', ');
  return [action, protocol, ...(which === '' ? [] : [which])].join(' ');
}

/** IPv4 and IPv6 in one rule, which can never match both. */
export function mixedFamilies(of: Readonly<Record<string, readonly string[]>>): FieldProblem[] {
  const found = Object.entries(of).flatMap(([field, texts]) =>
    texts.flatMap((text) => {
      const parsed = parsePrefix(text);
      return parsed.ok ? [{ field, text, family: parsed.value.family }] : [];
    }),
  );
  const [first] = found;
  const other = found.find(({ family }) => family !== first?.family);
  if (first === undefined || other === undefined) return [];
  return [
    wrong(
      other.field,
      'rule.families',
      `${first.text} and ${other.text} are of different address families.`,
      'Make a rule for each family.',
    ),
  ];
}
