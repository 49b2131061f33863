import { formatPrefix } from '@wide-lattice/core/address';
import type { Prefix } from '@wide-lattice/core/address';
import type { CompiledRule } from '@wide-lattice/core/forwarding';

/** Messages of ICMP to both families, in the words of nft. */
const messages: Readonly<Record<CompiledRule['icmp'][number], readonly string[]>> = {
  'echo request': ['icmp type echo-request', 'icmpv6 type echo-request'],
  'echo reply': ['icmp type echo-reply', 'icmpv6 type echo-reply'],
  unreachable: ['icmp type destination-unreachable', 'icmpv6 type destination-unreachable'],
  'too big': ['icmp type destination-unreachable icmp code 4', 'icmpv6 type packet-too-big'],
  'time exceeded': ['icmp type time-exceeded', 'icmpv6 type time-exceeded'],
  'parameter problem': ['icmp type parameter-problem', 'icmpv6 type parameter-problem'],
};

/** What packets that a rule is for have in common, in the words of nft: one for each pair of prefixes and each range of ports. */
export function ruleMatches(rule: CompiledRule): string[] {
  if (rule.isEmpty) return [];
  const has = (prefixes: CompiledRule['sources']) => prefixes.length > 0;
  const protocol = {
    any: '',
    icmp: 'meta l4proto { icmp, icmpv6 }',
    esp: 'meta l4proto esp',
    ipip: 'ip protocol 4',
    gre: 'meta l4proto gre',
    tcp: 'meta l4proto tcp',
    udp: 'meta l4proto udp',
  }[rule.protocol];
  // Overlapping prefixes and ranges are told apart by one rule each.
  const pairs = (has(rule.sources) ? rule.sources : [undefined]).flatMap((source) =>
    (has(rule.destinations) ? rule.destinations : [undefined]).map((destination) => ({ source, destination })),
  );
  // No packet is of two families.
  const alike = pairs.filter(
    ({ source, destination }) =>
      source === undefined || destination === undefined || source.family === destination.family,
  );
  const ip = ({ family }: Prefix) => (family === 6 ? 'ip6' : 'ip');
  const service =
    rule.icmp.length > 0
      ? rule.icmp.flatMap((each) => messages[each])
      : rule.ports.length === 0
        ? [protocol]
        : rule.ports.map(({ first, last }) => `${rule.protocol} dport ${first === last ? first : `${first}-${last}`}`);
  return alike.flatMap(({ source, destination }) =>
    service
      .filter((match) => suits(match, (source ?? destination)?.family))
      .map((match) =>
        [
          source === undefined ? '' : `${ip(source)} saddr ${formatPrefix(source)}`,
          destination === undefined ? '' : `${ip(destination)} daddr ${formatPrefix(destination)}`,
          match,
        ]
          .filter((part) => part !== '')
          .join(' '),
      ),
  );
}

/** Whether a match may stand beside prefixes of a family: a message of ICMP is of one. */
function suits(match: string, family: Prefix['family'] | undefined): boolean {
  return family === undefined || !match.startsWith('icmp') || match.startsWith('icmpv6') === (family === 6);
}
