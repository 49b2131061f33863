import { parsePrefix } from '../../address/index.js';
import type { Protocol } from './vocabulary.js';
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
