import type { Prefix } from '../address/index.js';
import { byId, grouped, prefixList, rangeOf } from '../plan/index.js';
import type { Allocation, Filter, FilterRule, Firewall, FirewallRule, PrefixSet } from '../plan/index.js';
import { isSameList } from '../section/index.js';
import { attachmentsOf, compiledRule, inPlace } from './compiledLists.js';
import type { CompiledFilter } from './compiledLists.js';
import type { ForwardingParts, RangesOf } from './forwardingParts.js';
import { RuleList } from './ruleList.js';
import type { CompiledRule } from './ruleList.js';

/** A filter as it was compiled last, and from what. */
interface LastFilter {
  readonly rules: readonly FilterRule[];
  readonly members: readonly Prefix[];
  readonly sets: readonly PrefixSet[];
  readonly compiled: CompiledFilter;
}

/** The same of a firewall. */
interface LastFirewall {
  readonly rules: readonly FirewallRule[];
  readonly sets: readonly PrefixSet[];
  readonly list: RuleList;
}

// By the entity: what was not asked for in one state is still known in the next.
const compiledFilters = new WeakMap<Filter, LastFilter>();
const compiledFirewalls = new WeakMap<Firewall, LastFirewall>();

const none: readonly never[] = [];

type Parts = Pick<
  ForwardingParts,
  | 'filters'
  | 'filterRules'
  | 'firewalls'
  | 'firewallRules'
  | 'prefixSets'
  | 'clusters'
  | 'nodePools'
  | 'subnets'
  | 'endpoints'
>;

/** Filters and firewalls with their rules compiled, each when it is first asked for. */
export class Lists {
  private readonly filters: Map<string, LastFilter>;
  private readonly firewalls: Map<string, LastFirewall>;
  private attachedTo: ReadonlyMap<string, readonly Filter[]> | undefined;
  /** Of what is being asked, the lists it was held against; undefined while nobody wants to know. */
  private heldAgainst: Set<string> | undefined;

  /** `changed` are the lists of which an edit met the rules; undefined where it may have met anything. */
  constructor(
    private readonly parts: Parts,
    private readonly rangesOf: RangesOf,
    before?: Lists,
    changed?: ReadonlySet<string>,
  ) {
    const same = changed === undefined ? undefined : before;
    const isKept = ([id]: readonly [string, unknown]) => changed?.has(id) === false;
    this.filters = new Map([...(same?.filters ?? [])].filter(isKept));
    this.firewalls = new Map([...(same?.firewalls ?? [])].filter(isKept));
    this.attachedTo = before?.parts.filters === parts.filters ? before.attachedTo : undefined;
  }

  /** The filters attached to an entity, in the order of the plan. */
  at(...ids: readonly (string | undefined)[]): readonly CompiledFilter[] {
    this.attachedTo ??= attachmentsOf(this.parts.filters);
    const attached = new Set<Filter>();
    for (const id of ids) for (const filter of this.attachedTo.get(id ?? '') ?? none) attached.add(filter);
    if (attached.size === 0) return none;
    for (const { id } of attached) this.heldAgainst?.add(id);
    return [...attached].map((filter) => this.compiled(filter));
  }

  /** What is answered, and the filters and firewalls that anything of it was held against. */
  meeting<T>(ask: () => T): { readonly answer: T; readonly lists: readonly string[] } {
    const [around, met] = [this.heldAgainst, new Set<string>()];
    this.heldAgainst = met;
    try {
      return { answer: ask(), lists: [...met].filter((id) => this.of(id) !== undefined) };
    } finally {
      this.heldAgainst = around;
      for (const id of met) around?.add(id);
    }
  }

  /** Whether somebody wants to know what is being asked was held against. */
  get isWatched(): boolean {
    return this.heldAgainst !== undefined;
  }

  /** Notes what an answer that was kept rests on. */
  note(ids: Iterable<string>): void {
    if (this.heldAgainst !== undefined) for (const id of ids) this.heldAgainst.add(id);
  }

  /** Notes the filters attached to entities that an answer for something like them stands for. */
  noteAt(...ids: readonly (string | undefined)[]): void {
    if (this.heldAgainst !== undefined) this.at(...ids);
  }

  /** A filter or firewall as it is compiled: the same object while its rules say the same. */
  of(id: string): CompiledFilter | RuleList | undefined {
    const filter = byId(this.parts.filters, id);
    if (filter !== undefined) return this.compiled(filter);
    const firewall = byId(this.parts.firewalls, id);
    return firewall === undefined ? undefined : this.rulesOf(firewall);
  }

  /** The rules of a firewall. */
  rulesOf(firewall: Firewall): RuleList {
    this.heldAgainst?.add(firewall.id);
    const known = this.firewalls.get(firewall.id);
    if (known !== undefined) return known.list;
    const rules = inPlace(grouped(this.parts.firewallRules, 'firewallId').get(firewall.id) ?? none);
    const last = compiledFirewalls.get(firewall);
    const sets = this.parts.prefixSets;
    const isSame = last?.sets === sets && isSameList(last.rules, rules);
    const made = isSame ? last : { rules, sets, list: new RuleList(rules.map((rule) => this.ofFirewall(rule))) };
    compiledFirewalls.set(firewall, made);
    this.firewalls.set(firewall.id, made);
    return made.list;
  }

  /** The prefixes of a filter's members: where rules that name the filter find their peers. */
  membersOf(filterId: string): readonly Prefix[] {
    const filter = byId(this.parts.filters, filterId);
    if (filter === undefined) return none;
    const nodes = (clusterId: string) =>
      this.rangesOf(clusterId)
        .filter(({ purpose }) => purpose === 'node' || this.isRoutable(clusterId, purpose))
        .map(rangeOf);
    return [
      ...filter.clusterIds.flatMap(nodes),
      ...filter.nodePoolIds.flatMap((id) => nodes(byId(this.parts.nodePools, id)?.clusterId ?? '')),
      ...filter.subnetIds.flatMap((id) => byId(this.parts.subnets, id) ?? []).map(rangeOf),
      ...filter.endpointIds
        .flatMap((id) => byId(this.parts.endpoints, id) ?? [])
        .flatMap(({ address }) => prefixList([`${address}/${address.includes(':') ? 128 : 32}`])),
    ];
  }

  /** A filter with its rules. */
  compiled(filter: Filter): CompiledFilter {
    const known = this.filters.get(filter.id);
    if (known !== undefined) return known.compiled;
    const rules = inPlace(grouped(this.parts.filterRules, 'filterId').get(filter.id) ?? none);
    const last = compiledFilters.get(filter);
    const sets = this.parts.prefixSets;
    // Rules that name other filters follow their members; equal prefixes are one object.
    const members = rules.flatMap(({ peerFilterIds }) => peerFilterIds.flatMap((id) => this.membersOf(id)));
    const isSame = last?.sets === sets && isSameList(last.rules, rules) && isSameList(last.members, members);
    const list = (direction: 'in' | 'out') =>
      new RuleList(rules.filter((rule) => rule.direction === direction).map((rule) => this.ofFilter(rule)));
    const made = isSame ? last : { rules, members, sets, compiled: { filter, in: list('in'), out: list('out') } };
    compiledFilters.set(filter, made);
    this.filters.set(filter.id, made);
    return made.compiled;
  }

  private ofFilter(rule: FilterRule): CompiledRule {
    const named = rule.peerSetIds.length + rule.peerFilterIds.length;
    const listed = prefixList(rule.peers);
    const peers =
      named === 0
        ? listed
        : [...listed, ...this.setPrefixes(rule.peerSetIds), ...rule.peerFilterIds.flatMap((id) => this.membersOf(id))];
    const isNamed = rule.peers.length + named > 0;
    return {
      ...compiledRule(rule),
      sources: rule.direction === 'in' ? peers : [],
      destinations: rule.direction === 'in' ? [] : peers,
      isEmpty: isNamed && peers.length === 0,
    };
  }

  private ofFirewall(rule: FirewallRule): CompiledRule {
    return {
      ...compiledRule(rule),
      sources: [...prefixList(rule.sources), ...this.setPrefixes(rule.sourceSetIds)],
      destinations: [...prefixList(rule.destinations), ...this.setPrefixes(rule.destinationSetIds)],
      isEmpty: false,
    };
  }

  private setPrefixes(ids: readonly string[]): readonly Prefix[] {
    return ids.flatMap((id) => prefixList(byId(this.parts.prefixSets, id)?.prefixes ?? []));
  }

  private isRoutable(clusterId: string, purpose: Allocation['purpose']): boolean {
    return purpose === 'pod' && byId(this.parts.clusters, clusterId)?.podMode !== 'overlay';
  }
}
