import { ByCluster } from './byCluster.js';
import { Random } from './random.js';
import type { LoadMember } from './scenario.js';

const member = (name: string, cluster: string, clusterWeight: number, rank = 1): LoadMember => ({
  name,
  group: 'web',
  zone: '',
  cluster,
  clusterWeight,
  rank,
  weight: 1,
  serviceMs: 10,
  concurrency: 1,
  queue: 0,
});

/** Three pods in north, one in south, a third cluster that stands by. */
const members = [
  member('n1', 'north', 3),
  member('n2', 'north', 3),
  member('n3', 'north', 3),
  member('s1', 'south', 1),
  member('w1', 'west', 1, 2),
];

/** How often each member is chosen in so many calls. */
function chosen(live: readonly number[], calls = 40_000): number[] {
  const chooser = new ByCluster('round robin', members, new Random(7));
  chooser.serve(live, () => 0);
  const counts = members.map(() => 0);
  for (let call = 0; call < calls; call++) {
    const at = chooser.choose(call);
    if (at >= 0) counts[at] = (counts[at] ?? 0) + 1;
  }
  return counts;
}

test('a cluster is chosen by its weight whatever the number of its pods, then a pod in it', () => {
  // 3 of 4 calls go north, a third of those to each pod; five standard deviations of a share of 1/4 of 40,000 are 5 × √(40,000 × 3/16) = 433.
  const [n1 = 0, n2 = 0, n3 = 0, s1 = 0, w1] = chosen([0, 1, 2, 3, 4]);
  for (const each of [n1, n2, n3, s1]) expect(Math.abs(each - 10_000)).toBeLessThan(433);
  expect(w1).toBe(0);
});

test('pods that go leave the part of their cluster to the others there, and the last one leaves it to the next cluster', () => {
  const [n1 = 0, , , s1 = 0] = chosen([0, 3, 4]);
  expect(Math.abs(n1 - 30_000)).toBeLessThan(433);
  expect(n1 + s1).toBe(40_000);
  expect(chosen([3, 4])).toEqual([0, 0, 0, 40_000, 0]);
});

test('the next rank is called when nobody of the first is left, and nobody when none is', () => {
  expect(chosen([4])).toEqual([0, 0, 0, 0, 40_000]);
  expect(chosen([])).toEqual([0, 0, 0, 0, 0]);
});
