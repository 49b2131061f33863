import { add, applied, cluster, ground, pool, testId } from '../../test/worlds.js';
import {
  addressFurther,
  contains,
  merge,
  overlaps,
  prefix,
  prefixAround,
  prefixSize,
  subtract,
} from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { addOperation, byId, rangeOf, withFallbacks } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { propose } from './index.js';

const SITES = 10;
const whole = prefix('10.0.0.0/13');

/** The same row of numbers from 0 to 1 for the same seed (mulberry32). */
function seeded(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** Clusters that arrive over time, each at a site by chance: the demand that all three allocators see in the same order. */
function waves(seed: number): { ground: Plan; arrivals: Operation[][] } {
  const random = seeded(seed);
  const sites = Array.from({ length: SITES }, (_, i) =>
    addOperation(
      'sites',
      withFallbacks('sites', {
        id: testId('sites', 10 + i),
        name: `site ${i}`,
        kind: 'region',
        profileId: testId('profiles', 1),
        zones: ['a'],
      }),
    ),
  );
  let n = 0;
  const arrivals = Array.from({ length: 6 }, () =>
    Array.from({ length: 12 }, () => {
      n++;
      const nodesHorizon = 4 + Math.floor(random() * 60);
      const siteId = testId('sites', 10 + Math.floor(random() * SITES));
      const fields = cluster(`c${n}`, { siteId, nodesHorizon, podMode: 'routed', podsPerNode: 30, services: 10 });
      return addOperation('clusters', { id: testId('clusters', n), ...fields });
    }),
  );
  const start = applied(ground(1), [
    ...sites,
    ...add(
      'pools',
      pool('p', '10.0.0.0/13', { purposes: ['node', 'pod'] }),
      pool('s', '100.64.0.0/10', { purposes: ['service'], isShared: true }),
    ),
  ]);
  return { ground: start, arrivals };
}

interface Taken {
  readonly group: string;
  readonly range: Prefix;
}

/** What the allocator gives, wave by wave. */
function byProposal(seed: number): { taken: Taken[]; wanted: { group: string; length: number }[] } {
  const { ground: start, arrivals } = waves(seed);
  let plan = start;
  const wanted: { group: string; length: number }[] = [];
  for (const arrival of arrivals) {
    plan = applied(plan, arrival);
    const proposal = propose(plan);
    expect(proposal.refusals).toEqual([]);
    const next = applied(plan, proposal.operations);
    for (const range of next.allocations.filter(({ id }) => byId(plan.allocations, id) === undefined))
      if (range.purpose !== 'service') wanted.push({ group: groupOf(next, range), length: rangeOf(range).length });
    plan = next;
  }
  const ranges = plan.allocations.filter(({ purpose }) => purpose !== 'service');
  return { taken: ranges.map((range) => ({ group: groupOf(plan, range), range: rangeOf(range) })), wanted };
}

function groupOf(plan: Plan, range: Plan['allocations'][number]): string {
  return `${byId(plan.clusters, range.clusterId)?.siteId ?? ''} ${range.purpose}`;
}

/** First fit: the lowest aligned place. Random fit: any aligned place in any free block that is large enough. */
function byBaseline(wanted: readonly { group: string; length: number }[], random: (() => number) | undefined): Taken[] {
  const taken: Taken[] = [];
  for (const { group, length } of wanted) {
    const free = subtract(
      whole,
      taken.map(({ range }) => range),
    ).filter((block) => block.length <= length);
    const block = free[random === undefined ? 0 : Math.floor(random() * free.length)];
    if (block === undefined) throw new Error('the baseline found no place');
    const places = 2 ** (length - block.length);
    const at = random === undefined ? 0 : Math.floor(random() * places);
    taken.push({ group, range: prefixAround(addressFurther(block, at * 2 ** (32 - length)), length) });
  }
  return taken;
}

function routes(taken: readonly Taken[]): number {
  const groups = new Map<string, Prefix[]>();
  for (const { group, range } of taken) groups.set(group, [...(groups.get(group) ?? []), range]);
  return [...groups.values()].reduce((sum, ranges) => sum + merge(ranges).length, 0);
}

function largestFree(taken: readonly Taken[]): bigint {
  const free = subtract(
    whole,
    taken.map(({ range }) => range),
  );
  return free.map(prefixSize).reduce((most, size) => (size > most ? size : most), 0n);
}

test.each([1, 2, 3, 4, 5])(
  'fewer routes than first fit and random fit, and no smaller largest free block: seed %d',
  (seed) => {
    const { taken, wanted } = byProposal(seed);
    taken.forEach(({ range }, i) => {
      expect(contains(whole, range)).toBe(true);
      expect(taken.slice(i + 1).some((other) => overlaps(range, other.range))).toBe(false);
    });
    const first = byBaseline(wanted, undefined);
    const random = byBaseline(wanted, seeded(seed + 100));
    expect(routes(taken)).toBeLessThan(routes(first));
    expect(routes(taken)).toBeLessThan(routes(random));
    expect(largestFree(taken)).toBeGreaterThanOrEqual(largestFree(random));
    expect(largestFree(taken)).toBeGreaterThanOrEqual(largestFree(first));
  },
);
