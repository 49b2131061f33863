import { create } from 'xmlbuilder2';
import { add, applied, cluster, ground, ownRanges, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { ingress } from '../ingress/index.js';
import { readQuestion } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { ask } from '../request/index.js';
import { finished } from '../working/index.js';
import { countTests, formatCounts, runTests, Suites, testsAsJunit, testsAsValues } from './index.js';
import type { SuiteName, TestResult } from './index.js';

const CLUSTER = testId('clusters', 1);

/** A cluster in three zones with a front and a back; only the front may call the back. */
function world(more: readonly Operation[] = []): Plan {
  const pods = (name: string) => ({
    clusterId: CLUSTER,
    namespace: 'shop',
    name,
    labels: [`app=${name}`],
    replicasNow: 2,
    replicasHorizon: 2,
    ports: ['http tcp 8080'],
  });
  return applied(ground(), [
    { op: 'set', kind: 'sites', id: testId('sites', 1), fields: { zones: ['a', 'b', 'c'] } },
    ...add('clusters', cluster('c', { nodesNow: 6, nodesHorizon: 6 })),
    ...ownRanges(),
    ...add('workloads', pods('front'), pods('back'), { ...pods('other'), namespace: 'else' }),
    ...add(
      'services',
      {
        clusterId: CLUSTER,
        namespace: 'shop',
        name: 'back',
        selector: ['app=back'],
        ports: ['web tcp 80 to http'],
      },
      {
        clusterId: CLUSTER,
        namespace: 'shop',
        name: 'front',
        type: 'NodePort',
        selector: ['app=front'],
        ports: ['web tcp 80 to http node 30080'],
      },
    ),
    ...add('networkPolicies', {
      clusterId: CLUSTER,
      namespace: 'shop',
      name: 'back',
      selector: ['app=back'],
      allowIn: ['pods app=front on tcp 8080'],
    }),
    ...more,
  ]);
}

function results(plan: Plan): readonly TestResult[] {
  return finished(runTests(evaluate(plan), new Suites(plan).of({ kind: 'plan' })));
}

const of = (all: readonly TestResult[], suite: SuiteName) => all.filter((each) => each.suite === suite);

test('suites follow from what the plan means, and pass where it holds', () => {
  const all = results(world());
  // Three zones: each with itself; each to the next and back; a packet of 1,280 bytes from the first to the last.
  expect(of(all, 'within a node').map(({ from, to }) => `${from} > ${to}`)).toEqual(
    ['a', 'b', 'c'].map(
      (zone) => `pod of c, zone ${zone}, workload shop/front > pod of c, workload shop/front, same node tcp 8080`,
    ),
  );
  expect(of(all, 'between nodes')).toHaveLength(3);
  expect(of(all, 'between zones')).toHaveLength(6);
  expect(of(all, 'packet size').map(({ bytes }) => bytes)).toEqual([1280]);
  // The one is called by the one workload that its policy names, the other by any that no policy selects.
  expect(of(all, 'services').map(({ from, to }) => `${from} > ${to}`)).toEqual([
    'pod of c, workload shop/front > service shop/back of c tcp 80',
    'pod of c, workload shop/front > service shop/front of c tcp 80',
  ]);
  // Before them the subnet's own address, at which no machine answers (RFC 1122 3.2.1.3).
  expect(of(all, 'NodePorts').map(({ to, verdict }) => `${to}, ${verdict}`)).toEqual([
    '10.0.0.0 tcp 30080, must be refused',
    ...['a', 'b', 'c'].map((zone) => `node of c, zone ${zone} tcp 30080, must pass`),
  ]);
  // Front may call back; the other namespace may not.
  expect(of(all, 'policies that block').map(({ from, to }) => `${from} > ${to}`)).toEqual([
    'pod of c, workload else/other > pod of c, workload shop/back tcp 8080',
  ]);
  expect(all.filter(({ result }) => result === 'failed')).toEqual([]);
  expect(of(all, 'policies that block')[0]).toMatchObject({ result: 'passed', asked: 'refused' });
});

// Kubernetes documentation, network policies (from memory): what a node and its own pods say to one another is always allowed.
test('a policy holds calls between pods of one node, and none between a pod and its own node', () => {
  const plan = world();
  const state = evaluate(plan).ask(ingress);
  const verdict = (from: string, to: string) => {
    const question = readQuestion(plan, from, to, 576);
    return question.ok ? ask(state, question.value).verdict : question.problem.message;
  };
  const back = 'pod of c, workload shop/back';
  expect(verdict('pod of c, workload shop/front', `${back}, same node tcp 8080`)).toBe('pass');
  expect(verdict('pod of c, workload else/other', `${back}, same node tcp 8080`)).toBe('refused');
  expect(verdict('node of c', `${back}, same node tcp 8080`)).toBe('pass');
  expect(verdict('node of c', `${back} tcp 8080`)).toBe('refused');
});

test('a NodePort whose pods let no node in fails, whatever lets packets come to the nodes', () => {
  const shut = world(
    add(
      'networkPolicies',
      {},
      {
        clusterId: CLUSTER,
        namespace: 'shop',
        name: 'front',
        selector: ['app=front'],
        allowIn: ['pods app=back on tcp 8080'],
      },
    ).slice(1),
  );
  expect(of(results(shut), 'NodePorts').map(({ asked, result }) => [asked, result])).toEqual([
    ['broken', 'passed'],
    ...['a', 'b', 'c'].map(() => ['refused', 'failed']),
  ]);
});

test('a policy that lets all callers in has nothing to block, and one that names none fails the service', () => {
  const set = (allowIn: readonly string[]): Operation => ({
    op: 'set',
    kind: 'networkPolicies',
    id: testId('networkPolicies', 1),
    fields: { allowIn },
  });
  expect(of(results(world([set(['anyone'])])), 'policies that block')).toEqual([]);
  // A rule for addresses is not told by labels: no test says that it blocks.
  expect(of(results(world([set(['10.9.0.0/16'])])), 'policies that block')).toEqual([]);
  const called: Operation = { op: 'set', kind: 'workloads', id: testId('workloads', 1), fields: { callsTo: ['back'] } };
  const own = of(results(world([set([]), called])), 'services').find(({ to }) => to.includes('shop/back'));
  expect(own).toMatchObject({ from: 'pod of c, workload shop/front', result: 'failed', asked: 'refused' });
});

test('what the plan does not say is skipped, with the reason', () => {
  const missing = results(world([{ op: 'remove', kind: 'allocations', id: testId('allocations', 1) }]));
  const pods = of(missing, 'between nodes');
  expect(pods.map(({ result }) => result)).toEqual(['skipped', 'skipped', 'skipped']);
  expect(pods[0]?.sentence).toMatch(/no IPv4 node range/);
});

test('every test of the demo says what the question bar says of the same question', () => {
  const plan = demoPlan();
  const evaluation = evaluate(plan);
  const all = finished(runTests(evaluation, new Suites(plan).of({ kind: 'plan' })));
  expect(all.length).toBeGreaterThan(500);
  for (const { from, to, bytes, asked, sentence, result, verdict } of all) {
    const question = readQuestion(plan, from, to, bytes);
    expect([from, to, question.ok]).toEqual([from, to, true]);
    if (!question.ok) continue;
    const answer = ask(evaluation.ask(ingress), question.value);
    expect(asked).toBe(answer.verdict);
    expect(sentence).toContain(answer.sentence);
    const isStopped = answer.verdict === 'refused' || answer.verdict === 'broken';
    if (result === 'passed') expect(verdict === 'must pass' ? answer.verdict === 'pass' : isStopped).toBe(true);
  }
});

test('counts read as practitioners read them, and reports hold every test', () => {
  const plan = demoPlan();
  const all = finished(runTests(evaluate(plan), new Suites(plan).of({ kind: 'plan' }), () => 0));
  const counts = countTests(all);
  expect(formatCounts({ run: 74, passed: 72, failed: 2, skipped: 9 })).toBe('74 run, 2 failed, 9 skipped');
  const xml = create(testsAsJunit(plan, all)).end({ format: 'object' }) as unknown as {
    testsuites: { '@tests': string; '@failures': string; '@skipped': string; testsuite: { testcase: unknown }[] };
  };
  expect(xml.testsuites).toMatchObject({
    '@tests': String(all.length),
    '@failures': String(counts.failed),
    '@skipped': String(counts.skipped),
  });
  const cases = xml.testsuites.testsuite.flatMap(({ testcase }) => testcase);
  expect(cases).toHaveLength(all.length);
  const values = testsAsValues(plan, all) as { readonly tests: readonly unknown[] };
  expect(values).toMatchObject(counts);
  expect(values.tests).toHaveLength(all.length);
});

test('one cluster is tested alone, without the expectations of the plan', () => {
  const plan = demoPlan();
  const [first] = plan.clusters;
  const own = new Suites(plan).of({ kind: 'cluster', id: first?.id ?? '' });
  expect(new Set(own.map(({ clusterId }) => clusterId))).toEqual(new Set([first?.id]));
});
