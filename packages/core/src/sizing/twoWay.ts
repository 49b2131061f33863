import { MAX_NODE_BITS } from './podRange.js';
import { withSurge } from './surge.js';
import type { Surge } from './surge.js';

/** Four figures of a cluster's IPv4 pods that hang together. */
export interface PodSizes {
  /** Worker nodes at rest. */
  readonly nodes: number;
  readonly podsPerNode: number;
  /** Length of each node's prefix, such as 24. */
  readonly perNodeLength: number;
  /** Length of the pod range, such as 16. */
  readonly podRangeLength: number;
}

/** What else takes a prefix of the pod range. */
export interface PodSizesContext {
  readonly surge: Surge;
  /** Control nodes with their spare. */
  readonly besides: number;
}

/** The figures after a move, or why none can follow. */
export type Followed =
  | { readonly ok: true; readonly sizes: PodSizes }
  | { readonly ok: false; readonly reason: string; readonly fix: string };

/** The bounds of each figure. */
export const podSizeBounds: { readonly [F in keyof PodSizes]: readonly [number, number] } = {
  nodes: [1, 20_000],
  podsPerNode: [1, 1000],
  perNodeLength: [16, 30],
  podRangeLength: [4, 30],
};

const names: Readonly<Record<keyof PodSizes, string>> = {
  nodes: 'the nodes',
  podsPerNode: 'the pods per node',
  perNodeLength: 'the per-node prefix',
  podRangeLength: 'the pod range',
};

/** Whether the figures hold together: each node's prefix has twice its pods, and the range a prefix for every node at once (handbook 3). */
export function holdTogether(sizes: PodSizes, context: PodSizesContext): boolean {
  const { nodes, podsPerNode, perNodeLength: q, podRangeLength: p } = sizes;
  const isWithin = (Object.keys(podSizeBounds) as (keyof PodSizes)[]).every(
    (field) => sizes[field] >= podSizeBounds[field][0] && sizes[field] <= podSizeBounds[field][1],
  );
  const bits = q - p;
  return (
    isWithin &&
    2 ** (32 - q) >= 2 * podsPerNode &&
    bits >= 0 &&
    bits <= MAX_NODE_BITS &&
    withSurge(nodes, context.surge) + context.besides <= 2 ** bits
  );
}

/**
 * One figure has moved: the others follow, those that are pinned stay. Lengths follow to the tightest that hold; nodes and
 * pods per node stay unless a length or a pin leaves them no room, and then become the most that fits.
 */
export function follow(
  sizes: PodSizes,
  moved: keyof PodSizes,
  pinned: ReadonlySet<keyof PodSizes>,
  context: PodSizesContext,
): Followed {
  const isHeld = (field: keyof PodSizes) => field === moved || pinned.has(field);
  const [low, high] = podSizeBounds[moved];
  if (!Number.isInteger(sizes[moved]) || sizes[moved] < low || sizes[moved] > high)
    return {
      ok: false,
      reason: `${names[moved]} cannot be ${sizes[moved]}`,
      fix: `Choose a whole number from ${low} to ${high}.`,
    };
  let best: { sizes: PodSizes; cost: readonly number[] } | undefined;
  for (const q of isHeld('perNodeLength') ? [sizes.perNodeLength] : lengths('perNodeLength')) {
    const podsPerNode = isHeld('podsPerNode') ? sizes.podsPerNode : podsFor(sizes, q, moved);
    for (const p of isHeld('podRangeLength') ? [sizes.podRangeLength] : lengths('podRangeLength')) {
      const most = mostNodes(q - p, context);
      const nodes = isHeld('nodes') ? sizes.nodes : moved === 'podRangeLength' ? most : Math.min(sizes.nodes, most);
      const found = { nodes, podsPerNode, perNodeLength: q, podRangeLength: p };
      if (!holdTogether(found, context)) continue;
      const cost = costOf(sizes, found, moved);
      if (best === undefined || isLess(cost, best.cost)) best = { sizes: found, cost };
    }
  }
  return best === undefined ? refusal(sizes, moved, pinned) : { ok: true, sizes: best.sizes };
}

/** A per-node prefix that was moved takes the pods along; one that follows the pods leaves them, as far as they fit. */
function podsFor({ podsPerNode }: PodSizes, q: number, moved: keyof PodSizes): number {
  const most = Math.min(podSizeBounds.podsPerNode[1], 2 ** (31 - q));
  return moved === 'perNodeLength' ? most : Math.min(podsPerNode, most);
}

/** The most nodes at rest whose surge fits in this many prefixes. */
function mostNodes(bits: number, { surge, besides }: PodSizesContext): number {
  if (bits < 0) return 0;
  const room = 2 ** Math.min(bits, MAX_NODE_BITS) - besides;
  const near = Math.floor((room * 100) / (100 + surge.percent));
  for (let nodes = near; nodes > 0; nodes--)
    if (withSurge(nodes, surge) <= room) return Math.min(nodes, podSizeBounds.nodes[1]);
  return 0;
}

/** First keep the nodes and pods as they are, then take the fewest addresses, then the longest node prefix. */
function costOf(before: PodSizes, after: PodSizes, moved: keyof PodSizes): readonly number[] {
  return [
    moved === 'perNodeLength' ? 0 : Math.abs(after.podsPerNode - before.podsPerNode),
    moved === 'podRangeLength' ? 0 : Math.abs(after.nodes - before.nodes),
    -after.podRangeLength,
    -after.perNodeLength,
  ];
}

function isLess(a: readonly number[], b: readonly number[]): boolean {
  const at = a.findIndex((value, i) => value !== b[i]);
  return at >= 0 && (a[at] ?? 0) < (b[at] ?? 0);
}

function lengths(field: 'perNodeLength' | 'podRangeLength'): number[] {
  const [low, high] = podSizeBounds[field];
  return Array.from({ length: high - low + 1 }, (_, i) => high - i);
}

function refusal(sizes: PodSizes, moved: keyof PodSizes, pinned: ReadonlySet<keyof PodSizes>): Followed {
  const held = [...pinned].filter((field) => field !== moved).map((field) => names[field]);
  return {
    ok: false,
    reason:
      held.length === 0
        ? `nothing can follow ${names[moved]} of ${sizes[moved]}`
        : `${names[moved]} of ${sizes[moved]} cannot be while ${held.join(', ')} ${held.length === 1 ? 'is' : 'are'} pinned`,
    fix: held.length === 0 ? 'Choose another value.' : 'Take a pin off, or choose another value.',
  };
}
