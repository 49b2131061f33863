import type { Prefix } from '../address/index.js';
import type { Domains, Join } from '../domains/index.js';
import { isHolding, isSharing, isSummaryOf } from './use.js';
import type { Use } from './use.js';

/**
 * What an overlap means: conflict and shadowed break something; hidden leaves a part of an advertised summary out of
 * reach; reuse is harmless until the two are joined.
 */
export type VerdictKind = 'conflict' | 'shadowed' | 'hidden' | 'reuse';

/** The worst that holds of a range; "planned" when it only comes about by a planned link. */
export type VerdictState = 'conflict' | 'shadowed' | 'planned conflict' | 'planned shadow' | 'clear';

/** Sums up a range's verdicts in one word. */
export function worstVerdict(verdicts: readonly Verdict[]): VerdictState {
  const has = (kind: Verdict['kind'], isPlanned: boolean) =>
    verdicts.some((each) => each.kind === kind && each.isPlanned === isPlanned);
  if (has('conflict', false)) return 'conflict';
  if (has('shadowed', false)) return 'shadowed';
  if (has('conflict', true)) return 'planned conflict';
  return has('shadowed', true) ? 'planned shadow' : 'clear';
}

/**
 * One overlapping pair with its meaning. For shadowed, `a` is the cluster-internal range that hides `b`; for hidden, the
 * longer prefix that wins over the advertised summary `b`.
 */
export interface Verdict {
  readonly kind: Exclude<VerdictKind, 'reuse'>;
  readonly a: Use;
  readonly b: Use;
  /** True when it only comes about by a link that is planned. */
  readonly isPlanned: boolean;
}

/** Whether a verdict is said and counted by itself; all that hides parts of one summary is said of the summary. */
export function isPairwise({ kind }: Verdict): boolean {
  return kind !== 'hidden';
}

/**
 * Judges one overlapping pair (handbook 2). Equal places in one network are one subnet that both share. Else two ranges of
 * one cluster always conflict. A range inside its own network's
 * block or subnet is where it belongs. Two destinations conflict when some network reaches both. A cluster-internal range
 * shadows a destination its cluster's network reaches. What a network advertises is a destination too; a summary around
 * more specific ranges of others conflicts with none of them, but hides what it has there. Everything else is reuse, and
 * undefined here.
 */
export function judge(one: Use, other: Use, domains: Domains): Verdict | undefined {
  // One order however the pair was found, so that the same plan gives the same words.
  const [first, second] = isNamedFirst(one, other) ? [one, other] : [other, one];
  if (isSharing(first, second)) return undefined;
  if (first.clusterId !== null && first.clusterId === second.clusterId) {
    return { kind: 'conflict', a: first, b: second, isPlanned: false };
  }
  if (first.isInternal && second.isInternal) return undefined;
  if (first.networkId === null || second.networkId === null) return undefined;
  if (isHolding(first, second) || isHolding(second, first)) return undefined;
  if (isAdvertisedFor(first, second, domains) || isAdvertisedFor(second, first, domains)) return undefined;
  const both = first.prefix.length > second.prefix.length ? first.prefix : second.prefix;
  if (!first.isInternal && !second.isInternal) {
    const meeting = domains.meeting(first.networkId, second.networkId, both);
    // What stands on a node already is not put off because networks meet later too.
    const met = meeting?.isPlanned === false ? undefined : metByNodes(first, second, both, domains);
    if (meeting === undefined && met === undefined) return undefined;
    const isPlanned = meeting?.isPlanned !== false && met?.isPlanned !== false;
    if (isSummaryOf(second, first)) return { kind: 'hidden', a: first, b: second, isPlanned };
    if (isSummaryOf(first, second)) return { kind: 'hidden', a: second, b: first, isPlanned };
    return { kind: 'conflict', a: first, b: second, isPlanned };
  }
  const [inner, outer] = first.isInternal ? [first, second] : [second, first];
  const way = wayOfNodes(inner, outer, both, domains);
  return way === undefined ? undefined : { kind: 'shadowed', a: inner, b: outer, isPlanned: way.join.isPlanned };
}

/** How the nodes of a range's cluster reach another range: from their network, or by an additional interface in another. */
export interface WayOfNodes {
  readonly fromId: string;
  readonly join: Join;
}

/** The way by which the nodes of a range's cluster reach another range's network, one that stands before a planned one. */
export function wayOfNodes(use: Use, other: Use, range: Prefix, domains: Domains): WayOfNodes | undefined {
  let planned: WayOfNodes | undefined;
  for (const fromId of [use.networkId, ...(use.furtherIds ?? [])]) {
    const join = fromId === null || other.networkId === null ? undefined : domains.join(fromId, other.networkId, range);
    if (fromId === null || join === undefined) continue;
    if (!join.isPlanned) return { fromId, join };
    planned ??= { fromId, join };
  }
  return planned;
}

/** Nodes that have an additional interface see their own range and what they reach by it, though the networks are not joined. */
function metByNodes(one: Use, other: Use, range: Prefix, domains: Domains): Join | undefined {
  const ways = [
    one.furtherIds === undefined ? undefined : wayOfNodes(one, other, range, domains),
    other.furtherIds === undefined ? undefined : wayOfNodes(other, one, range, domains),
  ].flatMap((way) => way?.join ?? []);
  return ways.find(({ isPlanned }) => !isPlanned) ?? ways[0];
}

/** Whether an advertised prefix means the same addresses as the other range: its network's own, or one that it passes on. */
function isAdvertisedFor({ advertised, networkId, prefix }: Use, other: Use, domains: Domains): boolean {
  if (advertised === undefined || networkId === null || other.networkId === null) return false;
  if (networkId === other.networkId) return !other.isInternal;
  const both = prefix.length > other.prefix.length ? prefix : other.prefix;
  return domains.passesOn(advertised.linkIds, networkId, other.networkId, both);
}

const kindOrder: readonly Use['kind'][] = ['allocations', 'inUse', 'subnets', 'blocks', 'attachments', 'members'];

/** One order of two uses, however they were met: ranges of clusters first, then of others, then of the ground. */
export function isNamedFirst(one: Use, other: Use): boolean {
  if (one.kind !== other.kind) return kindOrder.indexOf(one.kind) < kindOrder.indexOf(other.kind);
  return one.id < other.id;
}
