import { formatPrefix } from '@wide-lattice/core/address';
import type { CompiledRule } from '@wide-lattice/core/forwarding';

/** What packets that a rule is for have in common, in the words of nft: one for each pair of prefixes and each range of ports. */
export function ruleMatches(rule: CompiledRule): string[] {
  if (rule.isEmpty) return [];
  const has = (prefixes: CompiledRule['sources']) => prefixes.length > 0;
  const protocol = {
    any: '',
    icmp: 'ip protocol icmp',
    esp: 'ip protocol esp',
    ipip: 'ip protocol 4',
    gre: 'ip protocol gre',
    tcp: 'ip protocol tcp',
    udp: 'ip protocol udp',
  }[rule.protocol];
  // Overlapping prefixes and ranges are told apart by one rule each.
  const pairs = (has(rule.sources) ? rule.sources : [undefined]).flatMap((source) =>
    (has(rule.destinations) ? rule.destinations : [undefined]).map((destination) => ({ source, destination })),
  );
  const service =
    rule.ports.length === 0
      ? [protocol]
      : rule.ports.map(({ first, last }) => `${rule.protocol} dport ${first === last ? first : `${first}-${last}`}`);
  return pairs.flatMap(({ source, destination }) =>
    service.map((match) =>
      [
        source === undefined ? '' : `ip saddr ${formatPrefix(source)}`,
        destination === undefined ? '' : `ip daddr ${formatPrefix(destination)}`,
        match,
      ]
        .filter((part) => part !== '')
        .join(' '),
    ),
  );
}
