import { contains, formatPrefix, parent } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { changedLists, coversIcmp, coversPorts, forwarding as compiled, nameFilters } from '../forwarding/index.js';
import type { CompiledRule } from '../forwarding/index.js';
import { addTo, grouped } from '../plan/index.js';
import { bySubject, ownersIn, together, unless } from '../section/index.js';
import type { RuleFact } from '../english/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

type RuleKind = 'filterRules' | 'firewallRules';

/** Rules of firewalls that never decide since another one covers them, that repeat another, or that allow anything from anywhere. */
export const uselessInFirewalls = bySubject({
  name: 'rules by firewall',
  reads: ['firewalls', 'firewallRules'],
  needs: { forwarding: compiled },
  subjects: ({ firewalls }) => firewalls,
  dependsOn: (firewall, _, { forwarding }) => [firewall, forwarding.lists.rulesOf(firewall)],
  near: ({ needed: { forwarding: was } }, { needed: { forwarding: is } }) => changedLists(was, is),
  look: (firewall, { firewallRules }, { forwarding }) => [
    ...inList('firewallRules', firewall.name, forwarding.lists.rulesOf(firewall).rules, true),
    ...(grouped(firewallRules, 'firewallId').get(firewall.id) ?? [])
      .filter((rule) => isOpen(rule) && rule.sources.length + rule.sourceSetIds.length === 0)
      .filter(({ destinations, destinationSetIds }) => destinations.length + destinationSetIds.length === 0)
      .map((rule) => anyToAny('firewallRules', firewall.name, rule)),
  ],
});

/** The same of filters. */
export const uselessInFilters = bySubject({
  name: 'rules by filter',
  reads: ['filters', 'filterRules'],
  needs: { forwarding: compiled },
  subjects: ({ filters }) => filters,
  dependsOn: (filter, _, { forwarding }) => [forwarding.lists.compiled(filter)],
  near: ({ needed: { forwarding: was } }, { needed: { forwarding: is } }) =>
    changedLists(was, is) ??
    together(
      unless([was.parts.filters, is.parts.filters], [was.parts.prefixSets, is.parts.prefixSets]),
      // Rules that name other filters follow what these are attached to.
      unless([nameFilters(is.parts.filterRules), false]),
      ownersIn(was.parts, is.parts, ['filterRules'], 'filterId'),
    ),
  look: (filter, { filterRules }, { forwarding }) => {
    const lists = forwarding.lists.compiled(filter);
    const isOrdered = filter.mode === 'ordered';
    return [
      ...inList('filterRules', `${filter.name} in`, lists.in.rules, isOrdered),
      ...inList('filterRules', `${filter.name} out`, lists.out.rules, isOrdered),
      ...(grouped(filterRules, 'filterId').get(filter.id) ?? [])
        .filter((rule) => isOpen(rule) && rule.direction === 'in')
        .filter(({ peers, peerSetIds, peerFilterIds }) => peers.length + peerSetIds.length + peerFilterIds.length === 0)
        .map((rule) => anyToAny('filterRules', filter.name, rule)),
    ];
  },
});

function inList(kind: RuleKind, name: string, rules: readonly CompiledRule[], isOrdered: boolean): Finding[] {
  const index = rules.length > FEW_RULES ? new Covering(rules) : undefined;
  return rules.flatMap((rule, at): Finding[] => {
    const by = index === undefined ? firstAround(rules, rule, at, isOrdered) : index.around(rule, at, isOrdered);
    if (by === undefined) return [];
    const subjects = [
      { kind, id: rule.id },
      { kind, id: by.id },
    ] as const;
    if (covers(rule, by) && rule.action === by.action)
      return [finding('rule.repeats', 'note', subjects, { list: name, rule: ruleFact(rule), by: ruleFact(by) })];
    return [finding('rule.never', 'warning', subjects, { list: name, rule: ruleFact(rule), by: ruleFact(by) })];
  });
}

/** Up to this many rules each is held against all others, which is quicker than an index. */
const FEW_RULES = 24;

/** Whether a rule of a list covers another for good: in a list the earlier decides; in a union either does, and of two alike the second is told. */
function isCovering(other: CompiledRule, place: number, rule: CompiledRule, at: number, isOrdered: boolean): boolean {
  if (place === at || other.isEmpty || !covers(other, rule)) return false;
  return isOrdered || covers(rule, other) ? place < at : true;
}

function firstAround(
  rules: readonly CompiledRule[],
  rule: CompiledRule,
  at: number,
  isOrdered: boolean,
): CompiledRule | undefined {
  if (rule.isEmpty) return undefined;
  return rules.find((other, place) => isCovering(other, place, rule, at, isOrdered));
}

/** Finds the first rule that matches all that another one matches, without holding every pair against each other. */
class Covering {
  private readonly byPrefix = new Map<string, number[]>();
  private readonly side: 'sources' | 'destinations';

  constructor(private readonly rules: readonly CompiledRule[]) {
    const count = (side: 'sources' | 'destinations') => rules.reduce((n, rule) => n + rule[side].length, 0);
    this.side = count('destinations') >= count('sources') ? 'destinations' : 'sources';
    rules.forEach((rule, at) => {
      const keys = rule[this.side].length === 0 ? [''] : rule[this.side].map(formatPrefix);
      for (const key of keys) {
        addTo(this.byPrefix, key, at);
      }
    });
  }

  around(rule: CompiledRule, at: number, isOrdered: boolean): CompiledRule | undefined {
    if (rule.isEmpty) return undefined;
    const candidates = new Set(this.byPrefix.get('') ?? []);
    for (let prefix = rule[this.side][0]; prefix !== undefined; prefix = parent(prefix))
      for (const place of this.byPrefix.get(formatPrefix(prefix)) ?? []) candidates.add(place);
    const place = [...candidates]
      .sort((a, b) => a - b)
      .find((each) => isCovering(this.rules[each] as CompiledRule, each, rule, at, isOrdered));
    return place === undefined ? undefined : this.rules[place];
  }
}

function covers(outer: CompiledRule, inner: CompiledRule): boolean {
  if (outer.protocol !== 'any' && outer.protocol !== inner.protocol) return false;
  const ports = inner.ports.length === 0 ? [{ first: 1, last: 65_535 }] : inner.ports;
  if (outer.ports.length > 0 && !ports.every((range) => coversPorts(outer.ports, range))) return false;
  if (!coversIcmp(outer.icmp, inner.icmp)) return false;
  return coversAll(outer.sources, inner.sources) && coversAll(outer.destinations, inner.destinations);
}

function coversAll(outer: readonly Prefix[], inner: readonly Prefix[]): boolean {
  if (outer.length === 0) return true;
  return inner.length > 0 && inner.every((prefix) => outer.some((each) => contains(each, prefix)));
}

function ruleFact({ position, action, protocol, ports, icmp, sources, destinations }: CompiledRule): RuleFact {
  return {
    position,
    action,
    protocol,
    ports: ports.map(({ first, last }) => (first === last ? String(first) : `${first}-${last}`)),
    icmp: [...icmp],
    sources: sources.map(formatPrefix),
    destinations: destinations.map(formatPrefix),
  };
}

function isOpen({ action, protocol }: { readonly action: string; readonly protocol: string }): boolean {
  return action === 'allow' && protocol === 'any';
}

function anyToAny(
  kind: RuleKind,
  name: string,
  { id, position }: { readonly id: string; readonly position: number },
): Finding {
  return finding('rule.any', 'warning', [{ kind, id }], { list: name, position });
}
