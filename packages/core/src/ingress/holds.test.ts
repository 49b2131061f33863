import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { byId, setOperation } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { demand } from '../sizing/index.js';
import { entryPointCounts, entryPointsOf, heldBy, heldDifference, ingress, IngressState } from './index.js';
import type { HoldCase } from './index.js';

const own = testId('clusters', 1);
const world = (...more: Operation[][]): Plan =>
  applied(ground(1), [
    ...add('clusters', cluster('c', { podMode: 'routed', nodesNow: 3, nodesHorizon: 5 })),
    ...add('subnets', {
      name: 'front',
      networkId: testId('networks', 1),
      siteId: testId('sites', 1),
      purpose: 'entry',
      prefix: '10.8.0.0/24',
    }),
    ...add('workloads', {
      clusterId: own,
      namespace: 'web',
      name: 'w',
      labels: ['app=w'],
      ports: ['http tcp 8080'],
      replicasNow: 2,
      replicasHorizon: 4,
    }),
    ...add('services', {
      clusterId: own,
      namespace: 'web',
      name: 's',
      type: 'NodePort',
      selector: ['app=w'],
      ports: ['tcp 80 to http node 30080'],
    }),
    ...add('balancers', { name: 'lb', subnetId: testId('subnets', 1), layer: '7', address: '10.8.0.9' }),
    ...add(
      'backends',
      {
        name: 'n',
        balancerId: testId('balancers', 1),
        members: 'nodes',
        serviceId: testId('services', 1),
        port: 80,
        healthPort: 9000,
        healthPath: '/ok',
      },
      { name: 'p', balancerId: testId('balancers', 1), members: 'pods', serviceId: testId('services', 1), port: 80 },
      { name: 'a', balancerId: testId('balancers', 1), members: 'addresses', addresses: ['192.0.2.1'], port: 81 },
    ),
    ...add('listeners', {
      name: 'l',
      balancerId: testId('balancers', 1),
      protocol: 'https',
      port: 443,
      certificate: 'cert',
      certificateHosts: ['a.example'],
      backendId: testId('backends', 1),
    }),
    ...add('controllers', {
      name: 'k',
      clusterId: own,
      classes: ['k'],
      tier: 'on a load balancer',
      balancerId: testId('balancers', 1),
    }),
    ...add('ingressRoutes', {
      clusterId: own,
      namespace: 'web',
      name: 'r',
      className: 'k',
      hosts: ['a.example'],
      path: '/x',
      backends: ['s 80'],
    }),
    ...more.flat(),
  ]);
const held = (plan: Plan, when: HoldCase = 'now') => {
  const evaluation = evaluate(plan);
  const balancer = byId(plan.balancers, testId('balancers', 1));
  if (balancer === undefined) throw new Error('gone');
  return heldBy(evaluation.ask(ingress), balancer, (id) => evaluation.ask(demand).of(id), when);
};
const texts = (plan: Plan, part: string, when: HoldCase = 'now') =>
  held(plan, when)
    .filter((each) => each.part === part)
    .map(({ text }) => text);

test('address, match rules, backends and members follow from the plan', () => {
  const plan = world();
  expect(texts(plan, 'address')).toEqual(['10.8.0.9']);
  expect(texts(plan, 'match rule')).toEqual(['https 443 with cert to n', 'a.example/x to s 80']);
  expect(texts(plan, 'backend')[0]).toBe('n: tcp, round robin, health by port 9000/ok');
  // Three nodes by NodePort, two pods by container port, one address.
  expect(texts(plan, 'member')).toEqual(
    [
      'n: c main node 1 in a:30080',
      'n: c main node 2 in a:30080',
      'n: c main node 3 in a:30080',
      'p: pod 1 of w:8080',
      'p: pod 2 of w:8080',
      'a: 192.0.2.1:81',
    ].map((text) =>
      text.replace(
        ' in a',
        text.startsWith('n') && plan.sites[0]?.zones.length === 0 ? '' : ` in ${plan.sites[0]?.zones[0] ?? ''}`,
      ),
    ),
  );
});

test('behind routes that a controller keeps on it, NodePort services are called at nodes and others at their pods, where these can be called', () => {
  const bare = (...more: Operation[][]) =>
    world(
      [
        { op: 'set', kind: 'listeners', id: testId('listeners', 1), fields: { backendId: null } },
        ...[1, 2, 3].map((n) => ({ op: 'remove', kind: 'backends', id: testId('backends', n) }) as const),
      ],
      ...more,
    );
  const zone = world().sites[0]?.zones[0] ?? '';
  const nodes = [1, 2, 3].map((n) => `web/s: c main node ${n}${zone === '' ? '' : ` in ${zone}`}:30080`);
  expect(texts(bare(), 'backend')).toEqual(['web/s on 80: nodes, kept by k']);
  expect(texts(bare(), 'member')).toEqual(nodes);
  // With a node gone one member less; at the horizon five nodes (their number is said above).
  expect([texts(bare(), 'member', 'node gone').length, texts(bare(), 'member', 'horizon').length]).toEqual([2, 5]);
  const plain = setOperation('services', testId('services', 1), { type: 'ClusterIP', ports: ['tcp 80 to http'] });
  expect(texts(bare([plain]), 'member')).toEqual(['web/s: pod 1 of w:8080', 'web/s: pod 2 of w:8080']);
  const overlay = setOperation('clusters', own, { podMode: 'overlay' });
  expect(texts(bare([plain, overlay]), 'member')).toEqual([
    'web/s: none, since its pods are in an overlay and it has no NodePort',
  ]);
  expect(texts(bare([overlay]), 'member')).toEqual(nodes);
});

test('what differs at the horizon, without a node, and after a change', () => {
  const plan = world();
  const differs = (when: HoldCase) => heldDifference(held(plan), held(plan, when));
  // Two nodes and two pods more; one node less.
  expect([differs('horizon').come.length, differs('horizon').gone.length]).toEqual([4, 0]);
  expect([differs('node gone').come.length, differs('node gone').gone.length]).toEqual([0, 1]);
  const changed = applied(plan, [setOperation('ingressRoutes', testId('ingressRoutes', 1), { path: '/y' })]);
  expect(heldDifference(held(plan), held(changed))).toEqual({
    gone: [{ part: 'match rule', text: 'a.example/x to s 80' }],
    come: [{ part: 'match rule', text: 'a.example/y to s 80' }],
  });
});

test('what is not there yet is said', () => {
  const plan = world([
    setOperation('balancers', testId('balancers', 1), { address: null }),
    setOperation('listeners', testId('listeners', 1), { backendId: null }),
  ]);
  expect(texts(plan, 'address')[0]).toContain('not decided, of 10.8.0.0/24');
  expect(texts(plan, 'match rule')[0]).toContain('to nothing yet');
});

test('entry points are counted by cluster: hosts that are answered, of all that routes name', () => {
  const plan = demoPlan();
  const state = IngressState.of(plan);
  const counts = new Map(
    [...entryPointCounts(state, entryPointsOf(state))].map(([id, count]) => [byId(plan.clusters, id)?.name, count]),
  );
  // Tickets and seats are answered; nobody serves the class of the offers.
  expect(counts.get('booking-north')).toEqual({ open: 2, all: 3 });
  expect(counts.get('tide-models')).toEqual({ open: 1, all: 1 });
  expect(counts.has('booking-south')).toBe(false);
});
