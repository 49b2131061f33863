import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { askExpectation } from '../findings/index.js';
import { byId, readQuestion, setOperation, withFallbacks } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { expectGood } from '../result.js';
import { ask } from '../request/index.js';
import { IngressState } from './index.js';

/** A cluster with an entry point, in a network that forwards far.test to a resolver of another one. */
const world = (...more: Operation[][]): Plan => {
  const inCluster = { clusterId: testId('clusters', 1), namespace: 'shop' };
  const network = (n: number) => testId('networks', n);
  return applied(ground(2), [
    ...add('links', { name: 'hub', kind: 'hub', networkIds: [network(1), network(2)] }),
    ...add('clusters', cluster('c', { podMode: 'routed' })),
    ...add(
      'allocations',
      { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.9.0.0/24' },
      { clusterId: testId('clusters', 1), purpose: 'pod', prefix: '10.10.0.0/20' },
    ),
    ...add(
      'subnets',
      { name: 'front', networkId: network(1), siteId: testId('sites', 1), purpose: 'entry', prefix: '10.8.0.0/24' },
      { name: 'far', networkId: network(2), siteId: testId('sites', 1), purpose: 'other', prefix: '10.20.0.0/24' },
    ),
    ...add('workloads', {
      ...inCluster,
      name: 'w',
      labels: ['app=w'],
      ports: ['http tcp 8080'],
      replicasNow: 3,
      replicasHorizon: 3,
    }),
    ...add('services', {
      ...inCluster,
      name: 's',
      type: 'NodePort',
      selector: ['app=w'],
      ports: ['tcp 80 to http node 30080'],
    }),
    ...add('balancers', {
      name: 'front',
      subnetId: testId('subnets', 1),
      side: 'internal',
      address: '10.8.0.9',
      layer: '7',
    }),
    ...add('backends', {
      name: 'nodes',
      balancerId: testId('balancers', 1),
      members: 'nodes',
      serviceId: testId('services', 1),
      port: 80,
    }),
    ...add('listeners', {
      name: 'plain',
      balancerId: testId('balancers', 1),
      protocol: 'http',
      port: 80,
      backendId: testId('backends', 1),
    }),
    ...add(
      'zones',
      { name: 'near.test', apex: 'near.test', side: 'private', networkIds: [network(1)], minimum: 45 },
      { name: 'far.test', apex: 'far.test', side: 'private', networkIds: [network(2)] },
    ),
    ...add(
      'records',
      { zoneId: testId('zones', 1), name: 'www', type: 'A', value: '10.8.0.9' },
      { zoneId: testId('zones', 1), name: 'gone', type: 'A', value: '10.8.0.77' },
      { zoneId: testId('zones', 2), name: 'x', type: 'A', value: '10.20.0.7' },
    ),
    ...add('resolvers', { name: 'there', networkId: network(2), addresses: ['10.20.0.53'] }),
    ...add('forwardingRules', { name: 'on', domain: 'far.test', networkIds: [network(1)], targets: ['10.20.0.53'] }),
    ...more.flat(),
  ]);
};
const answer = (plan: Plan, from: string, to: string) =>
  ask(IngressState.of(plan), expectGood(readQuestion(plan, from, to, 576)));

test('a name is answered with its road, from who asks over each resolver', () => {
  const { verdict, sentence, flows, stages } = answer(world(), 'node of c', 'name x.far.test');
  expect([verdict, sentence.includes('10.20.0.7')]).toEqual(['pass', true]);
  const [road] = flows;
  expect(road?.forth.map(({ event }) => event)).toEqual([
    'sent',
    'resolved',
    'sent',
    'routed',
    'crossed',
    'routed',
    'delivered',
    'resolved',
    'resolved',
  ]);
  expect(stages.map(({ about, outcome }) => `${about} ${outcome}`)).toEqual(['query ok', 'query ok', 'query ok']);
});

test('a filter that stops the question refuses it, and a name that does not exist is broken', () => {
  const shut = add('filters', { name: 'shut', subnetIds: [testId('subnets', 2)], mode: 'allow-only' });
  const refused = answer(world(shut), 'node of c', 'name x.far.test');
  expect([refused.verdict, refused.resolution?.outcome]).toEqual(['refused', 'time-out']);
  const broken = answer(world(), 'node of c', 'name none.near.test');
  expect([broken.verdict, broken.sentence.includes('NXDOMAIN'), broken.sentence.includes('Negative TTL 45 s')]).toEqual(
    ['broken', true, true],
  );
  // A road that ends without an answer is cut there.
  expect(broken.flows[0]?.forth.at(-1)).toMatchObject({ event: 'dropped', spot: { kind: 'resolver' } });
  expect(answer(world(), 'node of c', 'name www.else.test').verdict).toBe('unknown');
});

test('a URL goes on to its entry point; a name that leads to nobody, or nowhere, ends it with the reason', () => {
  const plan = world();
  expect(answer(plan, 'node of c', 'http://www.near.test/').members.map(({ workload }) => workload.name)).toEqual([
    'w',
  ]);
  expect(answer(plan, 'node of c', 'http://gone.near.test/')).toMatchObject({ verdict: 'broken', members: [] });
  expect(answer(plan, 'node of c', 'http://gone.near.test/').sentence).toContain('10.8.0.77, where no load balancer');
  expect(answer(plan, 'node of c', 'http://none.near.test/').sentence).toContain('NXDOMAIN');
  // Nothing is assumed once the plan holds zones.
  expect(answer(plan, 'node of c', 'http://www.else.test/').verdict).toBe('unknown');
});

test('a pod that network policies let ask nobody finds nothing', () => {
  const held = add('networkPolicies', {
    clusterId: testId('clusters', 1),
    namespace: 'shop',
    name: 'p',
    directions: ['egress'],
  });
  const pod = 'pod of c, workload shop/w';
  expect(answer(world(), pod, 'name www.near.test').verdict).toBe('pass');
  expect(answer(world(held), pod, 'name www.near.test').sentence).toContain(
    'No network policy lets shop/w ask for names',
  );
  expect(answer(world(held), pod, 'http://www.near.test/').verdict).toBe('broken');
});

test('expectations of names: an address, a code, and what must not be found', () => {
  const state = (to: string, verdict: 'must pass' | 'must be refused', wanted: string) => {
    const plan = world();
    const expectation = withFallbacks('expectations', {
      id: 'e',
      name: 'e',
      from: 'node of c',
      to,
      verdict,
      answer: wanted,
    });
    return askExpectation(plan, IngressState.of(plan), expectation).state;
  };
  expect(state('name www.near.test', 'must pass', '10.8.0.9')).toBe('kept');
  expect(state('name www.near.test', 'must pass', '10.8.0.8')).toBe('broken');
  expect(state('name none.near.test', 'must be refused', 'NXDOMAIN')).toBe('kept');
  expect(state('name none.near.test', 'must be refused', 'SERVFAIL')).toBe('broken');
  // What the plan does not know keeps no expectation.
  expect(state('name www.else.test', 'must be refused', '')).toBe('broken');
  expect(state('name www.near.test type XX', 'must pass', '')).toBe('unreadable');
});

test('a certificate of the plan decides over the names that a listener lists itself', () => {
  const tls = setOperation('listeners', testId('listeners', 1), {
    protocol: 'https',
    port: 443,
    certificate: 'web',
    certificateHosts: ['www.near.test'],
  });
  const certificate = (names: string[]) => add('certificates', { name: 'web', names, validFrom: '2026-11-01' });
  const at = (plan: Plan) => answer(plan, 'node of c', 'https://www.near.test/').verdict;
  expect(at(world([tls]))).toBe('pass');
  expect(at(world([tls], certificate(['other.near.test'])))).toBe('refused');
  expect(at(world([tls], certificate(['*.near.test'])))).toBe('pass');
  expect(byId(world([tls]).listeners, testId('listeners', 1))?.certificate).toBe('web');
});
