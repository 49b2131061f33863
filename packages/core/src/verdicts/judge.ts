import type { Domains } from '../domains/index.js';
import { isHolding } from './use.js';
import type { Use } from './use.js';

/** What an overlap means: conflict and shadowed break something; reuse is harmless until the two are joined. */
export type VerdictKind = 'conflict' | 'shadowed' | 'reuse';

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

/** One overlapping pair with its meaning. For shadowed, `a` is the cluster-internal range that hides `b`. */
export interface Verdict {
  readonly kind: Exclude<VerdictKind, 'reuse'>;
  readonly a: Use;
  readonly b: Use;
  /** True when it only comes about by a link that is planned. */
  readonly isPlanned: boolean;
}

/**
 * Judges one overlapping pair (handbook 2). Two ranges of one cluster always conflict. A range inside its own network's
 * block or subnet is where it belongs. Two destinations conflict when some network reaches both. A cluster-internal range
 * shadows a destination its cluster's network reaches. Everything else is reuse, and undefined here.
 */
export function judge(one: Use, other: Use, domains: Domains): Verdict | undefined {
  // One order however the pair was found, so that the same plan gives the same words.
  const [first, second] = isNamedFirst(one, other) ? [one, other] : [other, one];
  if (first.clusterId !== null && first.clusterId === second.clusterId) {
    return { kind: 'conflict', a: first, b: second, isPlanned: false };
  }
  if (first.isInternal && second.isInternal) return undefined;
  if (first.networkId === null || second.networkId === null) return undefined;
  if (isHolding(first, second) || isHolding(second, first)) return undefined;
  const both = first.prefix.length > second.prefix.length ? first.prefix : second.prefix;
  if (!first.isInternal && !second.isInternal) {
    const meeting = domains.meeting(first.networkId, second.networkId, both);
    return meeting === undefined ? undefined : { kind: 'conflict', a: first, b: second, isPlanned: meeting.isPlanned };
  }
  const [inner, outer] = first.isInternal ? [first, second] : [second, first];
  // Both ids are known from the check above; the pair was only put in order.
  const join = domains.join(inner.networkId as string, outer.networkId as string, both);
  return join === undefined ? undefined : { kind: 'shadowed', a: inner, b: outer, isPlanned: join.isPlanned };
}

const kindOrder: readonly Use['kind'][] = ['allocations', 'inUse', 'subnets', 'blocks'];

/** One order of two uses, however they were met: ranges of clusters first, then of others, then of the ground. */
export function isNamedFirst(one: Use, other: Use): boolean {
  if (one.kind !== other.kind) return kindOrder.indexOf(one.kind) < kindOrder.indexOf(other.kind);
  return one.id < other.id;
}
