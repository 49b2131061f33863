import { add, applied, cluster, ground, testId } from '../../../test/worlds.js';
import { demoPlan } from '../../demo/index.js';
import { emptyPlan, readQuestion, USUAL_BYTES, worthAsking } from '../index.js';
import type { AskingStop } from '../index.js';

const stops: readonly AskingStop[] = ['egress', 'ingress', 'dns', 'cross-cluster'];

test.each(stops)('at %s the demo has three questions of its own names, each of which can be asked', (stop) => {
  const plan = demoPlan();
  const found = worthAsking(plan, stop);
  expect(found).toHaveLength(3);
  expect(new Set(found.map(({ from, to }) => `${from} ${to}`)).size).toBe(3);
  for (const { from, to } of found) expect(readQuestion(plan, from, to, USUAL_BYTES)).toMatchObject({ ok: true });
});

test('an empty plan has none, and one with a cluster alone asks about that', () => {
  for (const stop of stops) expect(worthAsking(emptyPlan({ name: 'empty' }), stop)).toEqual([]);
  const plan = applied(ground(1), add('clusters', cluster('alone')));
  expect(worthAsking(plan, 'egress')).toEqual([
    { from: 'pod of alone', to: 'the internet tcp 443' },
    { from: 'the internet', to: 'node of alone tcp 22' },
  ]);
  expect(worthAsking(plan, 'ingress')).toEqual([]);
  expect(worthAsking(plan, 'dns')).toEqual([{ from: 'pod of alone', to: 'name kubernetes.default type A' }]);
  expect(worthAsking(plan, 'cross-cluster')).toEqual([]);
});

test('a name that reads as something else is left out rather than asked wrongly', () => {
  const plan = applied(ground(1), add('clusters', cluster('a, zone nowhere')));
  for (const { from } of worthAsking(plan, 'egress')) expect(from).not.toContain('nowhere');
});

test('of records, one whose name a route answers comes before those of name servers', () => {
  const at = { siteId: testId('sites', 1) };
  const plan = applied(ground(1), [
    ...add('clusters', cluster('c', at)),
    ...add('zones', { name: 'z', apex: 'shop.test', side: 'public' }),
    ...add(
      'records',
      { zoneId: testId('zones', 1), name: 'ns1', type: 'A', value: '203.0.113.1' },
      { zoneId: testId('zones', 1), name: 'www', type: 'A', value: '203.0.113.2' },
    ),
    ...add('ingressRoutes', {
      name: 'r',
      clusterId: testId('clusters', 1),
      namespace: 'web',
      className: 'k',
      hosts: ['www.shop.test'],
      backends: ['s 80'],
    }),
  ]);
  expect(worthAsking(plan, 'dns')[0]).toEqual({ from: 'the internet', to: 'name www.shop.test type A' });
});
