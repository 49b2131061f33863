/** What a number of replicas can carry. */
export interface Capacity {
  /** Requests in service at once that the rate keeps busy (Little: rate times time). */
  readonly asked: number;
  /** Requests that all replicas can work on at once. */
  readonly held: number;
  /** Replicas that carry the rate at all, with every zone there. */
  readonly needed: number;
  /** Replicas, spread evenly over the zones, that carry the rate with any one zone lost; undefined with a single zone. */
  readonly neededWithoutZone: number | undefined;
}

/**
 * Replicas that carry a rate, from Little's law: requests in service = rate times service time. Working at no more than `most` of their
 * capacity, 0 to 1, since waiting grows without bound towards 1.
 */
export function capacityFor(
  perSecond: number,
  serviceMs: number,
  concurrency: number,
  replicas: number,
  zones: number,
  most: number,
): Capacity {
  const asked = (perSecond * serviceMs) / 1000;
  const needed = Math.ceil(asked / (concurrency * most) - 1e-9);
  let survive = needed;
  // Spread evenly, the fullest zone holds one more than the others where they do not part evenly.
  while (zones > 1 && survive - Math.ceil(survive / zones) < needed) survive++;
  return { asked, held: replicas * concurrency, needed, neededWithoutZone: zones > 1 ? survive : undefined };
}

/**
 * By how much the busiest pod gets more than its even share where traffic is shared by node, not by pod (external traffic policy Local).
 * Pods by node, nodes without any left out, since health checks take them out; 1 when all are even or there is none.
 */
export function unevenness(podsByNode: readonly number[]): number {
  const nodes = podsByNode.filter((pods) => pods > 0);
  const pods = nodes.reduce((sum, each) => sum + each, 0);
  return nodes.length === 0 ? 1 : pods / (nodes.length * Math.min(...nodes));
}
