import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { nodePoolsOf, removalOf } from './index.js';

const pool = (clusterId: string, name: string) => ({ clusterId, name, nodesNow: 1, nodesMax: 2, nodesHorizon: 3 });
const [one, two] = [testId('clusters', 1), testId('clusters', 2)] as const;
const plan = applied(ground(1), [
  ...add('clusters', cluster('one'), cluster('two')),
  ...add('nodePools', pool(one, 'a'), pool(two, 'b'), pool(one, 'c')),
]);

test('each cluster has its own, in the order of the plan, and none is an empty list', () => {
  expect(nodePoolsOf(plan, one).map(({ name }) => name)).toEqual(['a', 'c']);
  expect(nodePoolsOf(plan, two).map(({ name }) => name)).toEqual(['b']);
  expect(nodePoolsOf(plan, 'none')).toEqual([]);
});

test('after a change they are those of the new state; a cluster that goes takes its own along', () => {
  const after = applied(plan, removalOf(plan, 'clusters', one));
  expect(nodePoolsOf(after, one)).toEqual([]);
  expect(after.nodePools.map(({ name }) => name)).toEqual(['b']);
  expect(nodePoolsOf(plan, one)).toHaveLength(2);
});
