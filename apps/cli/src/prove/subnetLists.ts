import type { CompiledFilter, CompiledRule } from '@wide-lattice/core/forwarding';
import type { Subnet } from '@wide-lattice/core/plan';
import { ruleMatches } from './ruleMatches.js';

/** Who stands in a subnet of a network, at the router: everything behind a device, or one address behind it. */
export interface Member {
  readonly subnet: Subnet;
  readonly device: string;
  /** Undefined for all that the device leads to but the addresses that are named. */
  readonly address: string | undefined;
}

/** Bits of the mark of a connection: two for each stateful list of a subnet. */
const MAX_BITS = 32;
const SOURCE = 0xff;
const ALLOWED = 0x100;

/**
 * The lists of subnets at the router of their network: what leaves a subnet for anywhere else is held to its lists, and so is
 * what enters it. A stateful list knows a flow by a bit of its connection, set where the list let the question pass.
 */
export function subnetLists(
  members: readonly Member[],
  filtersOf: (subnet: Subnet) => readonly CompiledFilter[],
): { readonly lines: readonly string[]; readonly isTooMuch: boolean } {
  const subnets = [...new Map(members.map(({ subnet }) => [subnet.id, subnet])).values()];
  const held = subnets.filter((subnet) => filtersOf(subnet).length > 0);
  if (held.length === 0) return { lines: [], isTooMuch: false };
  const bits = new Bits();
  const lines = ['add chain inet wl subnets { type filter hook forward priority 10; }'];
  const numberOf = (subnet: Subnet) => subnets.indexOf(subnet) + 1;
  lines.push('add rule inet wl subnets meta mark set 0');
  // What the router itself sends is of no subnet.
  lines.push('add chain inet wl own { type filter hook output priority 10; }', 'add rule inet wl own meta mark set 0');
  for (const { subnet, device, address } of members)
    if (address === undefined)
      lines.push(`add rule inet wl subnets iifname ${device} meta mark set ${numberOf(subnet)}`);
  for (const { subnet, device, address } of members)
    if (address !== undefined)
      lines.push(
        `add rule inet wl subnets iifname ${device} ${ip(address)} saddr ${address} meta mark set ${numberOf(subnet)}`,
      );
  for (const subnet of held) {
    const n = numberOf(subnet);
    const own = `${ip(subnet.prefix)} daddr ${subnet.prefix}`;
    lines.push(
      `add chain inet wl out${n}`,
      `add chain inet wl in${n}`,
      `add chain inet wl leaving${n}`,
      `add chain inet wl entering${n}`,
    );
    for (const to of towards(members, subnet)) {
      // What is for the subnet itself does not go over its router; what is for pods behind its nodes does, and is held both ways.
      lines.push(`add rule inet wl leaving${n} ${to} ${own} return`);
      lines.push(`add rule inet wl subnets ${to} jump entering${n}`, `add rule inet wl own ${to} jump entering${n}`);
    }
    lines.push(
      `add rule inet wl leaving${n} jump out${n}`,
      `add rule inet wl entering${n} meta mark and ${SOURCE} == ${n} ${own} return`,
      `add rule inet wl entering${n} jump in${n}`,
      `add rule inet wl subnets meta mark and ${SOURCE} == ${n} jump leaving${n}`,
    );
    const filters = filtersOf(subnet);
    lines.push(...listsOf(filters, 'out', `out${n}`, subnet, bits), ...listsOf(filters, 'in', `in${n}`, subnet, bits));
  }
  return { lines, isTooMuch: bits.used > MAX_BITS };
}

/** What packets to a subnet have in common. */
function towards(members: readonly Member[], subnet: Subnet): string[] {
  return members
    .filter((each) => each.subnet.id === subnet.id)
    .map(({ device, address }) => {
      if (address !== undefined) return `oifname ${device} ${ip(address)} daddr ${address}`;
      const others = members.filter((each) => each.device === device && each.address !== undefined);
      const apart = others.map((each) => `${ip(each.address ?? '')} daddr != ${each.address ?? ''}`);
      return [`oifname ${device}`, ...apart].join(' ');
    });
}

class Bits {
  used = 0;
  private readonly known = new Map<string, number>();

  of(filterId: string, subnetId: string, direction: string): string {
    const key = `${filterId} ${subnetId} ${direction}`;
    const at = this.known.get(key) ?? this.used++;
    this.known.set(key, at);
    return `0x${(2 ** (at % MAX_BITS)).toString(16)}`;
  }
}

function listsOf(
  filters: readonly CompiledFilter[],
  direction: 'in' | 'out',
  chain: string,
  subnet: Subnet,
  bits: Bits,
): string[] {
  const lines: string[] = [];
  const one = (each: CompiledFilter, at: number, verdicts: { readonly allow: string; readonly deny: string }) => {
    const { filter } = each;
    const name = `${chain}f${at}`;
    lines.push(`add chain inet wl ${name}`);
    const rule = (text: string) => lines.push(`add rule inet wl ${name} ${text}`);
    const known = bits.of(filter.id, subnet.id, direction === 'in' ? 'out' : 'in');
    const own = bits.of(filter.id, subnet.id, direction);
    if (filter.isStateful) rule(`ct direction reply ct mark and ${known} == ${known} ${verdicts.allow}`);
    const allow = (match: string) => {
      if (filter.isStateful) rule(`${match} ct direction original ct mark set ct mark or ${own} ${verdicts.allow}`);
      rule(`${match} ${verdicts.allow}`);
    };
    for (const compiled of each[direction].rules)
      decided(compiled, allow, (match) => rule(`${match} ${verdicts.deny}`));
    const fallback = direction === 'in' ? filter.defaultIn : filter.defaultOut;
    if (fallback === 'allow') allow('');
    else rule(verdicts.deny);
    return `add rule inet wl ${chain} jump ${name}`;
  };
  const jumps: string[] = [];
  const union = filters.filter(({ filter }) => filter.mode === 'allow-only');
  union.forEach((each, at) =>
    jumps.push(one(each, at, { allow: `meta mark set meta mark or ${ALLOWED} return`, deny: 'return' })),
  );
  if (union.length > 0)
    jumps.push(
      `add rule inet wl ${chain} meta mark and ${ALLOWED} == 0 drop`,
      `add rule inet wl ${chain} meta mark set meta mark and ${SOURCE}`,
    );
  filters.forEach((each, at) => {
    if (each.filter.mode === 'ordered') jumps.push(one(each, union.length + at, { allow: 'return', deny: 'drop' }));
  });
  return [...lines, ...jumps];
}

function decided(rule: CompiledRule, allow: (match: string) => void, deny: (match: string) => void): void {
  for (const match of ruleMatches(rule)) (rule.action === 'allow' ? allow : deny)(match);
}

function ip(address: string): string {
  return address.includes(':') ? 'ip6' : 'ip';
}
