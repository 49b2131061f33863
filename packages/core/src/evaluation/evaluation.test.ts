import fc from 'fast-check';
import { crowdedPrefix } from '../../test/arbitraries.js';
import { add, anyWorld, applied, cluster, ground, testId } from '../../test/worlds.js';
import { formatPrefix } from '../address/index.js';
import { demoPlan } from '../demo/index.js';
import { newId, removalOf, setOperation } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { evaluate, Evaluator } from './index.js';
import type { Evaluation } from './index.js';

function picture(evaluation: Evaluation) {
  return {
    findings: evaluation
      .findings()
      .map(({ key, severity, title, detail }) => `${severity} ${key} ${title} ${detail}`)
      .sort(),
    limits: evaluation.clusters.map(({ cluster, figures }) => [
      cluster.name,
      ...figures.limits.map(({ name, nodes, month }) => `${name} ${nodes.value} ${month.value}`),
    ]),
    verdicts: evaluation
      .verdicts()
      .map(({ kind, a, b }) => `${kind} ${a.id} ${b.id}`)
      .sort(),
    count: evaluation.verdictCount,
    reuse: evaluation.reuseGroups
      .map(({ outermost, pairs, count }) => `${formatPrefix(outermost)} ${pairs} ${count}`)
      .sort(),
  };
}

const anyEdit = fc.record({
  pick: fc.nat(),
  what: fc.constantFrom('range', 'mode', 'remove', 'network', 'inUse', 'nodes', 'rename', 'pool', 'public', 'nat'),
  prefix: crowdedPrefix(4),
  network: fc.nat(),
});

function edit(
  plan: Plan,
  {
    pick,
    what,
    prefix,
    network,
  }: { pick: number; what: string; prefix: Parameters<typeof formatPrefix>[0]; network: number },
): Operation[] {
  const text = formatPrefix(prefix);
  const allocation = plan.allocations[pick % Math.max(1, plan.allocations.length)];
  const cluster = plan.clusters[pick % Math.max(1, plan.clusters.length)];
  const inUse = plan.inUse[pick % Math.max(1, plan.inUse.length)];
  const networkId = plan.networks[network % plan.networks.length]?.id as string;
  if (what === 'range' && allocation !== undefined)
    return [setOperation('allocations', allocation.id, { prefix: text })];
  if (what === 'inUse' && inUse !== undefined) return [setOperation('inUse', inUse.id, { prefix: text, networkId })];
  if (cluster === undefined) return [];
  if (what === 'mode')
    return [setOperation('clusters', cluster.id, { podMode: pick % 2 === 0 ? 'overlay' : 'native' })];
  if (what === 'network') return [setOperation('clusters', cluster.id, { networkId })];
  if (what === 'nodes') return [setOperation('clusters', cluster.id, { nodesHorizon: 1 + (pick % 500) })];
  const pool = plan.nodePools[pick % Math.max(1, plan.nodePools.length)];
  if (what === 'pool') {
    if (pool !== undefined && pick % 3 === 0) return removalOf(plan, 'nodePools', pool.id);
    const fields = {
      name: `p${plan.nodePools.length}-${pick}`,
      nodesNow: 1,
      nodesMax: 1,
      nodesHorizon: 1 + (pick % 40),
    };
    return add('nodePools', { id: newId(), clusterId: cluster.id, isPublic: pick % 2 === 0, ...fields });
  }
  if (what === 'public' && pool !== undefined)
    return [setOperation('nodePools', pool.id, { isPublic: !pool.isPublic, nodesHorizon: pick % 90 })];
  // What others hold of the site's public addresses is a limit of this one too.
  if (what === 'nat') return [setOperation('clusters', cluster.id, { natAddresses: pick % 100 })];
  if (what === 'rename') return [setOperation('clusters', cluster.id, { name: `renamed ${pick}` })];
  return what === 'remove' ? removalOf(plan, 'clusters', cluster.id) : [];
}

test('following edits gives what evaluating from nothing gives', () => {
  fc.assert(
    fc.property(anyWorld, fc.array(anyEdit, { maxLength: 6 }), (start, edits) => {
      const evaluator = new Evaluator();
      let plan = start;
      evaluator.evaluate(plan);
      for (const each of edits) {
        plan = applied(plan, edit(plan, each));
        expect(picture(evaluator.evaluate(plan))).toEqual(picture(evaluate(plan)));
      }
    }),
    { numRuns: 250 },
  );
});

test('ground, settings and pools edits on the demo are followed too', () => {
  const evaluator = new Evaluator();
  let plan = demoPlan();
  evaluator.evaluate(plan);
  const link = plan.links.find(({ isPlanned }) => isPlanned);
  const edits: Operation[][] = [
    [setOperation('links', link?.id ?? '', { isPlanned: false })],
    [{ op: 'set', kind: 'settings', fields: { horizonMonths: 12 } }],
    [{ op: 'set', kind: 'settings', fields: { expectsJoins: false } }],
    [setOperation('pools', plan.pools[0]?.id ?? '', { prefix: '10.16.0.0/13' })],
    [setOperation('profiles', plan.profiles[0]?.id ?? '', { reservedFirst: 9 })],
  ];
  for (const operations of edits) {
    const before = picture(evaluate(plan));
    plan = applied(plan, operations);
    const after = picture(evaluate(plan));
    expect(picture(evaluator.evaluate(plan))).toEqual(after);
    expect(after).not.toEqual(before);
  }
});

test('public addresses left for a cluster are the site’s less what its other clusters take', () => {
  const plan = applied(ground(1), [
    setOperation('profiles', testId('profiles', 1), { publicAddresses: 30 }),
    ...add(
      'clusters',
      cluster('a', { natAddresses: 2, balancerServices: 10, hasPublicBalancers: true }),
      cluster('b', { natAddresses: 8 }),
    ),
  ]);
  const limit = evaluate(plan).clusters[0]?.figures.limits.find(({ name }) => name === 'Public addresses');
  // 30 − 8 = 22 left; 2 for NAT leave 20 balancers, one a node.
  expect(limit?.nodes.value).toBe(20);
});
