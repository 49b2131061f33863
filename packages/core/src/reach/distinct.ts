import { formatAddress, formatPrefix, isSamePrefix } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { prefixesOf, prefixList, rangeOf } from '../plan/index.js';
import { RowLookup } from '../forwarding/index.js';
import type { CompiledFilter, Forwarding, Host, RuleList } from '../forwarding/index.js';

/** Tells hosts apart as far as forwarding can: by where they are, what is attached to them, and every prefix that rules and routes name. */
export class Distinct {
  private readonly lookup: RowLookup;
  private readonly rows: readonly Prefix[];
  private readonly ranges: RowLookup;
  /** A number for everything that hosts are told apart by, since they are put together and looked up often. */
  private readonly numbers: Map<string, number>;

  /** Of a state before, when nothing but rules was edited and they name no prefix that it did not know, what it knows is enough. */
  constructor(
    private readonly forwarding: Forwarding,
    before?: Distinct,
  ) {
    if (before !== undefined) {
      this.rows = before.rows;
      this.lookup = before.lookup;
      this.ranges = before.ranges;
      this.numbers = before.numbers;
      return;
    }
    this.numbers = new Map();
    const { parts } = forwarding;
    const routes = parts.routes.map(rangeOf);
    const rules = [
      ...parts.filterRules.flatMap(({ peers }) => prefixList(peers)),
      ...parts.firewallRules.flatMap(({ sources, destinations }) => prefixList([...sources, ...destinations])),
      ...parts.prefixSets.flatMap(({ prefixes }) => prefixList(prefixes)),
    ];
    const lists = [
      ...parts.attachments.flatMap(prefixesOf),
      ...parts.clusters.flatMap(({ untranslated }) => prefixList(untranslated)),
    ];
    const spaces = [...parts.inUse, ...parts.subnets, ...parts.blocks].map(rangeOf);
    const members = parts.filterRules.flatMap(({ peerFilterIds }) =>
      peerFilterIds.flatMap((id) => [...forwarding.lists.membersOf(id)]),
    );
    this.rows = unique([...routes, ...rules, ...lists, ...spaces, ...members]);
    this.lookup = new RowLookup(this.rows);
    // A cluster's range that lies on another's can draw its packets away.
    const ranges = parts.clusters.flatMap(({ id, podMode }) =>
      forwarding
        .rangesOf(id)
        .filter(({ purpose }) => purpose !== 'service' && (purpose !== 'pod' || podMode !== 'overlay')),
    );
    this.ranges = new RowLookup(ranges.map(rangeOf));
  }

  /** Whether every one of these prefixes is told apart already. */
  knows(prefixes: readonly Prefix[]): boolean {
    return prefixes.every((prefix) =>
      this.lookup.all(prefix).some((at) => isSamePrefix(this.rows[at] as Prefix, prefix)),
    );
  }

  /** The number that a host shares with those that are like it, as one that asks or as one that is asked. */
  numberOf(host: Host, role: Role): number {
    const node = host.node ?? host;
    const table = this.forwarding.routes.tableOf({
      routeTableId: node.subnet?.routeTableId ?? null,
      networkId: host.networkId,
      zone: node.subnet?.zone ?? node.zone,
    });
    // Others never reach overlay pods by their address, so what holds at their nodes is never asked.
    const isHidden =
      role === 'asked' &&
      host.kind === 'pod' &&
      host.cluster?.podMode === 'overlay' &&
      !this.forwarding.crossings.hasTunnels(host.cluster.id);
    const attached = isHidden ? [] : this.forwarding.lists.at(...host.attachable);
    // What stateful filters let through once, they let back: the rules for the other way say nothing.
    const ways = attached.every(({ filter }) => filter.isStateful) ? waysOf[role] : bothWays;
    const filters = attached.map((each) => contentOf(each, ways));
    const { podMode = '', encapsulation = '', encryption = '' } = host.cluster ?? {};
    const whole = [
      host.kind,
      host.networkId,
      table?.id ?? '',
      node.subnet?.id ?? '',
      String(node.isPublic),
      podMode,
      podMode === 'overlay' ? encapsulation : '',
      encryption,
      host.cluster?.untranslated.join() ?? '',
      // Pods of a cluster that tunnels join reach others in a way of their own.
      host.kind === 'pod' && host.cluster !== undefined && this.forwarding.crossings.hasTunnels(host.cluster.id)
        ? host.cluster.id
        : '',
      ...filters,
      this.around(host.address),
      this.around(node.address),
    ].join(' ');
    const known = this.numbers.get(whole) ?? this.numbers.size;
    this.numbers.set(whole, known);
    return known;
  }

  private around(address: Address): string {
    const at = this.lookup.best(address);
    const isShared = this.ranges.all(address).length > 1;
    return `${at < 0 ? '' : formatPrefix(this.rows[at] as Prefix)}${isShared ? ` ${formatAddress(address)}` : ''}`;
  }
}

type Role = 'asking' | 'asked';
type Ways = 'both' | 'in' | 'out';

const waysOf: Readonly<Record<Role, Ways>> = { asking: 'out', asked: 'in' };
const bothWays: Ways = 'both';

const contents = new WeakMap<CompiledFilter, Map<Ways, string>>();

/** What a filter does, whatever it is called: filters that do the same cannot be told apart by a packet. */
function contentOf(compiled: CompiledFilter, ways: Ways): string {
  const known = contents.get(compiled) ?? new Map<Ways, string>();
  contents.set(compiled, known);
  const last = known.get(ways);
  if (last !== undefined) return last;
  const { mode, isStateful, defaultIn, defaultOut } = compiled.filter;
  const rulesOf = ({ rules }: RuleList) =>
    rules.map(({ action, protocol, ports, sources, destinations, isEmpty }) => [
      action,
      protocol,
      ports,
      sources.map(formatPrefix),
      destinations.map(formatPrefix),
      isEmpty,
    ]);
  const content = JSON.stringify([
    mode,
    isStateful,
    ways === 'out' ? [] : [defaultIn, rulesOf(compiled.in)],
    ways === 'in' ? [] : [defaultOut, rulesOf(compiled.out)],
  ]);
  known.set(ways, content);
  return content;
}

function unique(prefixes: readonly Prefix[]): Prefix[] {
  return [...new Map(prefixes.map((prefix) => [formatPrefix(prefix), prefix])).values()];
}
