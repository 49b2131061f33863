import { containsAddress } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import { readPorts } from '../plan/index.js';
import type { IcmpMessage, PortRange, Protocol } from '../plan/index.js';
import { destinationPorts, messageOf } from '../road/index.js';
import type { Packet } from '../road/index.js';
import { RowLookup } from './rowLookup.js';

/** A rule as it is compiled: what it matches, by source and destination. Empty lists match everything. */
export interface CompiledRule {
  readonly id: string;
  readonly position: number;
  readonly action: 'allow' | 'deny';
  readonly protocol: Protocol;
  readonly ports: readonly PortRange[];
  /** The messages of ICMP that it is about; none for all. */
  readonly icmp: readonly IcmpMessage[];
  readonly sources: readonly Prefix[];
  readonly destinations: readonly Prefix[];
  /** Names peers, though none of them has an address: it matches nothing. */
  readonly isEmpty: boolean;
}

/** The ports of a rule, in order. */
export function portRanges(texts: readonly string[]): PortRange[] {
  return texts.flatMap((text) => readPorts(text) ?? []);
}

/**
 * Rules in their order, of which the first that matches a packet is found. They are indexed by destination and source, whichever
 * tells more of them apart: a packet is held against the rules of the prefixes that hold its address, in their order.
 */
export class RuleList {
  private readonly side: 'source' | 'destination';
  private readonly lookup: RowLookup;
  /** For each prefix of the index, the rules that name it, by their places. */
  private readonly rulesOf: number[][] = [];
  /** The rules without a prefix on the side of the index. */
  private readonly anywhere: number[] = [];
  /** The rules to try for each innermost prefix, in order: made when a packet first asks. */
  private readonly tried = new Map<number, readonly number[]>();

  constructor(readonly rules: readonly CompiledRule[]) {
    const count = (of: (rule: CompiledRule) => readonly Prefix[]) => rules.reduce((n, rule) => n + of(rule).length, 0);
    this.side = count(({ destinations }) => destinations) >= count(({ sources }) => sources) ? 'destination' : 'source';
    const rows: Prefix[] = [];
    rules.forEach((rule, at) => {
      if (rule.isEmpty) return;
      const prefixes = this.side === 'source' ? rule.sources : rule.destinations;
      if (prefixes.length === 0) this.anywhere.push(at);
      for (const prefix of prefixes) {
        rows.push(prefix);
        this.rulesOf.push([at]);
      }
    });
    this.lookup = new RowLookup(rows);
  }

  /**
   * What the list decides: the first rule that matches, or the default. A packet that may go to any of several ports is
   * allowed only if each of them is; otherwise the first port that is not decides.
   */
  decide(packet: Packet, fallback: 'allow' | 'deny'): Decision {
    const candidates = this.candidates(packet).map((at) => this.rules[at] as CompiledRule);
    let decided: Decision | undefined;
    for (const port of criticalPorts(candidates, destinationPorts(packet))) {
      const rule = candidates.find((each) => matches(each, packet, port));
      const decision = { action: rule?.action ?? fallback, rule, port };
      if (decision.action === 'deny') return decision;
      decided ??= decision;
    }
    return decided ?? { action: fallback, rule: undefined, port: packet.port };
  }

  /** Every rule that matches at one port, in order. */
  all(packet: Packet, port: number): CompiledRule[] {
    return this.candidates(packet)
      .map((at) => this.rules[at] as CompiledRule)
      .filter((rule) => matches(rule, packet, port));
  }

  private candidates(packet: Packet): readonly number[] {
    const address: Address = this.side === 'source' ? packet.source : packet.destination;
    const innermost = this.lookup.best(address);
    const known = this.tried.get(innermost);
    if (known !== undefined) return known;
    const places = this.lookup.all(address).flatMap((row) => this.rulesOf[row] ?? []);
    const found = [...new Set([...this.anywhere, ...places])].sort((a, b) => a - b);
    this.tried.set(innermost, found);
    return found;
  }
}

/** What a list of rules says of a packet, by which rule (the default when undefined), for which destination port. */
export interface Decision {
  readonly action: 'allow' | 'deny';
  readonly rule: CompiledRule | undefined;
  readonly port: number;
}

/** Whether a rule matches a packet to this destination port. */
function matches(rule: CompiledRule, packet: Packet, port: number): boolean {
  if (rule.protocol !== 'any' && rule.protocol !== packet.protocol) return false;
  if (rule.ports.length > 0 && !rule.ports.some(({ first, last }) => port >= first && port <= last)) return false;
  if (rule.icmp.length > 0 && !rule.icmp.some((each) => holds(each, packet))) return false;
  return isWithin(rule.sources, packet.source) && isWithin(rule.destinations, packet.destination);
}

/** Whether a packet is of a kind of message: to IPv4 too big is a code of unreachable, to IPv6 a type of its own (RFC 4443 3.2). */
function holds(kind: IcmpMessage, packet: Packet): boolean {
  const message = messageOf(packet);
  return kind === message || (kind === 'unreachable' && message === 'too big' && packet.destination.family === 4);
}

/** Whether messages of ICMP hold all of others; none stands for every one. */
export function coversIcmp(outer: readonly IcmpMessage[], inner: readonly IcmpMessage[]): boolean {
  return outer.length === 0 || (inner.length > 0 && inner.every((each) => outer.includes(each)));
}

function isWithin(prefixes: readonly Prefix[], address: Address): boolean {
  return prefixes.length === 0 || prefixes.some((prefix) => containsAddress(prefix, address));
}

/** Ports of a range between which no rule changes: what holds for these holds for all. */
function criticalPorts(rules: readonly CompiledRule[], { first, last }: PortRange): number[] {
  if (first === last) return [first];
  const starts = rules.flatMap(({ ports }) => ports.flatMap((range) => [range.first, range.last + 1]));
  return [first, ...new Set(starts.filter((port) => port > first && port <= last))].sort((a, b) => a - b);
}

/** Whether ranges together hold every port of another one. */
export function coversPorts(ranges: readonly PortRange[], wanted: PortRange): boolean {
  let next = wanted.first;
  for (const { first, last } of [...ranges].sort((a, b) => a.first - b.first)) {
    if (first > next) return false;
    if (last >= next) next = last + 1;
    if (next > wanted.last) return true;
  }
  return false;
}
