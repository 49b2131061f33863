import { contains, subtract } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { prefixesOf, prefixList, rangeOf } from '../plan/index.js';
import type { Plan, PortRange } from '../plan/index.js';
import type { ForwardingState } from './forwardingState.js';
import { portRanges } from './ruleList.js';

type Parts = ForwardingState['parts'];

const namedIn = new WeakMap<object, readonly Prefix[]>();
const startsIn = new WeakMap<object, readonly number[]>();

/** The prefixes that the rows of a collection name; they are gathered once for as long as it is the same. */
function named<T extends object>(rows: readonly T[], of: (row: T) => readonly Prefix[]): readonly Prefix[] {
  const known = namedIn.get(rows) ?? rows.flatMap(of);
  namedIn.set(rows, known);
  return known;
}

function namedBy(parts: Parts): readonly (readonly Prefix[])[] {
  const own = (row: { readonly prefix: string }) => [rangeOf(row)];
  return [
    named(parts.routes, own),
    named(parts.subnets, own),
    named(parts.inUse, own),
    named(parts.blocks, own),
    named(parts.attachments, prefixesOf),
    named(parts.prefixSets, ({ prefixes }) => prefixList(prefixes)),
    named(parts.clusters, ({ untranslated }) => prefixList(untranslated)),
    named(parts.filterRules, ({ peers }) => prefixList(peers)),
    named(parts.firewallRules, ({ sources, destinations }) => prefixList([...sources, ...destinations])),
  ];
}

/**
 * A prefix for each part of another one that rules and routes may treat apart: one that lies in it and in none of the
 * smaller ones that they name.
 */
export function partsOfPrefix({ parts }: ForwardingState, whole: Prefix): Prefix[] {
  const inside = namedBy(parts).flatMap((prefixes) =>
    prefixes.filter((prefix) => prefix.length > whole.length && contains(whole, prefix)),
  );
  const distinct = [...new Map(inside.map((prefix) => [keyOf(prefix), prefix])).values()];
  return [whole, ...distinct].flatMap((part) => {
    const smaller = distinct.filter((each) => each.length > part.length && contains(part, each));
    // Where smaller ones fill it, they stand for it.
    return subtract(part, smaller).slice(0, 1);
  });
}

function keyOf({ family, length, w0, w1, w2, w3 }: Prefix): string {
  return `${family} ${length} ${w0} ${w1} ${w2} ${w3}`;
}

type Rules = Plan['filterRules'] | Plan['firewallRules'];

function starts(rules: Rules): readonly number[] {
  const known = startsIn.get(rules) ?? [...new Set(rules.flatMap(({ ports }) => portRanges(ports).flatMap(edgesOf)))];
  startsIn.set(rules, known);
  return known;
}

function edgesOf({ first, last }: PortRange): number[] {
  return [first, last + 1];
}

/** Ports of a range between which no rule changes: what holds for these holds for all. */
export function portsApart({ parts }: ForwardingState, { first, last }: PortRange): number[] {
  const inside = [...starts(parts.filterRules), ...starts(parts.firewallRules)].filter(
    (port) => port > first && port <= last,
  );
  return [first, ...new Set(inside)].sort((a, b) => a - b);
}
