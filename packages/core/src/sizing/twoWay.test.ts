import fc from 'fast-check';
import { follow, holdTogether, podSizeBounds } from './index.js';
import type { PodSizes, PodSizesContext } from './index.js';

const fields = Object.keys(podSizeBounds) as (keyof PodSizes)[];
const context: PodSizesContext = { surge: { percent: 10, least: 1 }, besides: 0 };
const start: PodSizes = { nodes: 100, podsPerNode: 110, perNodeLength: 24, podRangeLength: 17 };
const none = new Set<keyof PodSizes>();
const followed = (sizes: PodSizes, moved: keyof PodSizes, pinned: ReadonlySet<keyof PodSizes> = none) => {
  const found = follow(sizes, moved, pinned, context);
  return found.ok ? found.sizes : found.reason;
};

test.each<[string, Partial<PodSizes>, keyof PodSizes, (keyof PodSizes)[], Partial<PodSizes>]>([
  ['more nodes: the range follows', { nodes: 200 }, 'nodes', [], { podRangeLength: 16 }],
  [
    'more nodes in a pinned range: the node prefix and its pods follow',
    { nodes: 200 },
    'nodes',
    ['podRangeLength'],
    { perNodeLength: 25, podsPerNode: 64 },
  ],
  [
    'fewer pods: node prefix and range follow',
    { podsPerNode: 60 },
    'podsPerNode',
    [],
    { perNodeLength: 25, podRangeLength: 18 },
  ],
  [
    'a longer node prefix takes the pods along',
    { perNodeLength: 26 },
    'perNodeLength',
    [],
    { podsPerNode: 32, podRangeLength: 19 },
  ],
  [
    'a smaller range leaves fewer nodes',
    { podRangeLength: 19 },
    'podRangeLength',
    [],
    { nodes: 29, podsPerNode: 110, perNodeLength: 24 },
  ],
  [
    'a smaller range with the nodes pinned leaves fewer pods',
    { podRangeLength: 19 },
    'podRangeLength',
    ['nodes'],
    { perNodeLength: 26, podsPerNode: 32 },
  ],
])('%s', (_, change, moved, pinned, expected) => {
  expect(followed({ ...start, ...change }, moved, new Set(pinned))).toMatchObject(expected);
});

test('what cannot follow says which pins stand in the way', () => {
  const found = follow({ ...start, nodes: 500 }, 'nodes', new Set(['podRangeLength', 'perNodeLength']), context);
  expect(found).toMatchObject({ ok: false, reason: expect.stringContaining('the pod range') as string });
  expect(follow({ ...start, nodes: 0 }, 'nodes', none, context)).toMatchObject({ ok: false });
});

const anySizes: fc.Arbitrary<PodSizes> = fc.record({
  nodes: fc.integer({ min: 1, max: 3000 }),
  podsPerNode: fc.integer({ min: 1, max: 250 }),
  perNodeLength: fc.integer({ min: 20, max: 29 }),
  podRangeLength: fc.integer({ min: 8, max: 28 }),
});

test('what follows holds together, pins and the moved figure stay; a refusal is right by trying everything', () => {
  fc.assert(
    fc.property(anySizes, fc.constantFrom(...fields), fc.subarray(fields), (sizes, moved, pins) => {
      const pinned = new Set(pins);
      const found = follow(sizes, moved, pinned, context);
      if (found.ok) {
        expect(holdTogether(found.sizes, context)).toBe(true);
        for (const field of [...pins, moved]) expect(found.sizes[field]).toBe(sizes[field]);
        return;
      }
      // With the counts at their least, some lengths hold together if anything does.
      const isHeld = (field: keyof PodSizes) => field === moved || pinned.has(field);
      const tries = (field: 'perNodeLength' | 'podRangeLength') =>
        isHeld(field) ? [sizes[field]] : Array.from({ length: 31 }, (_, i) => i);
      for (const perNodeLength of tries('perNodeLength'))
        for (const podRangeLength of tries('podRangeLength')) {
          const least = {
            nodes: isHeld('nodes') ? sizes.nodes : 1,
            podsPerNode: isHeld('podsPerNode') ? sizes.podsPerNode : 1,
            perNodeLength,
            podRangeLength,
          };
          expect(holdTogether(least, context)).toBe(false);
        }
    }),
    { numRuns: 1500, seed: 3 },
  );
});
