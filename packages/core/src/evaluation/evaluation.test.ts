import fc from 'fast-check';
import { crowdedPrefix } from '../../test/arbitraries.js';
import { anyEdit, edited } from '../../test/anyEdit.js';
import { add, anyWorld, applied, cluster, ground, testId } from '../../test/worlds.js';
import { formatPrefix } from '../address/index.js';
import { demoPlan } from '../demo/index.js';
import { kinds, newId, removalOf, rulesOf, setOperation } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { findings } from '../findings/index.js';
import { section } from '../section/index.js';
import type { Progress } from '../working/index.js';
import { evaluate } from './index.js';
import type { Evaluation } from './index.js';

function picture(evaluation: Evaluation) {
  return {
    findings: evaluation
      .findingsInWords()
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

/** Edits of the demo; a longer run by hand: WL_EDITS=3000 WL_SEED=7. */
const EDITS = Number(process.env['WL_EDITS'] ?? 110);
const SEED = Number(process.env['WL_SEED'] ?? 1);

const anyClusterEdit = fc.record({
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
    fc.property(anyWorld, fc.array(anyClusterEdit, { maxLength: 6 }), (start, edits) => {
      let plan = start;
      let evaluation = evaluate(plan);
      picture(evaluation);
      for (const each of edits) {
        plan = applied(plan, edit(plan, each));
        evaluation = evaluate(plan, evaluation);
        expect(picture(evaluation)).toEqual(picture(evaluate(plan)));
      }
    }),
    { numRuns: 150 },
  );
});

test('ground, settings and pools edits on the demo are followed too', () => {
  let plan = demoPlan();
  let evaluation = evaluate(plan);
  picture(evaluation);
  const link = plan.links.find(({ isPlanned }) => isPlanned);
  const edits: Operation[][] = [
    [setOperation('links', link?.id ?? '', { isPlanned: false })],
    [{ op: 'set', kind: 'settings', fields: { horizonMonths: 12 } }],
    [{ op: 'set', kind: 'settings', fields: { expectsMergers: false } }],
    [setOperation('pools', plan.pools[0]?.id ?? '', { prefix: '10.16.0.0/13' })],
    [setOperation('profiles', plan.profiles[0]?.id ?? '', { reservedFirst: 9 })],
  ];
  for (const operations of edits) {
    const before = picture(evaluate(plan));
    plan = applied(plan, operations);
    const after = picture(evaluate(plan));
    evaluation = evaluate(plan, evaluation);
    expect(picture(evaluation)).toEqual(after);
    expect(after).not.toEqual(before);
  }
});

test('any field of any kind, changed in any order, gives what evaluating from nothing gives', () => {
  const seen = new Set<string>();
  fc.assert(
    fc.property(
      fc.oneof({ weight: 4, arbitrary: anyWorld }, { weight: 1, arbitrary: fc.constant(demoPlan()) }),
      fc.array(anyEdit, { minLength: 1, maxLength: 8 }),
      (start, edits) => {
        let evaluation = evaluate(start);
        picture(evaluation);
        for (const each of edits) {
          const next = edited(evaluation.plan, each);
          if (next === undefined) continue;
          seen.add(next.what);
          evaluation = evaluate(next.plan, evaluation);
          expect([next.what, picture(evaluation)]).toEqual([next.what, picture(evaluate(next.plan))]);
        }
      },
    ),
    { numRuns: 120 },
  );
  const fields = [...kinds, 'settings' as const].flatMap((kind) => Object.keys(rulesOf(kind)));
  // Which fields are met is left to chance: about 190 of 507 in the runs looked at. Far below that, the test asks nothing.
  expect(seen.size).toBeGreaterThan(0.25 * fields.length);
});

test('rows of every kind in the demo, edited and the edit undone, give what evaluating from nothing gives', () => {
  const start = demoPlan();
  const first = evaluate(start);
  const before = picture(first);
  const met = new Set<string>();
  const picks = fc.sample(anyEdit, { numRuns: EDITS, seed: SEED });
  const held = kinds.filter((kind) => start[kind].length > 0);
  // Every kind in turn, so that none is left to chance.
  picks.forEach((pick, turn) => {
    const next = edited(start, { ...pick, where: turn % held.length });
    if (next === undefined) return;
    met.add(next.what.split('.')[0] ?? '');
    const evaluation = evaluate(next.plan, first);
    expect([next.what, picture(evaluation)]).toEqual([next.what, picture(evaluate(next.plan))]);
    expect([next.what, picture(evaluate(start, evaluation))]).toEqual([next.what, before]);
  });
  expect(met.size).toBeGreaterThan(0.7 * held.length);
});

test('an evaluation stays what it was while others follow it, drafts beside it included', () => {
  fc.assert(
    fc.property(anyWorld, fc.array(anyEdit, { minLength: 2, maxLength: 6 }), (start, edits) => {
      const first = evaluate(start);
      const before = picture(first);
      let last = first;
      for (const each of edits) {
        const next = edited(last.plan, each);
        // Every other edit is a draft of the first plan.
        const draft = edited(start, each);
        if (draft !== undefined) expect(picture(evaluate(draft.plan, first))).toEqual(picture(evaluate(draft.plan)));
        if (next !== undefined) last = evaluate(next.plan, last);
      }
      picture(last);
      expect(picture(first)).toEqual(before);
      expect(picture(evaluate(start))).toEqual(before);
    }),
    { numRuns: 60 },
  );
});

test('many edits lay a fresh base, and nothing is lost or counted twice', () => {
  let evaluation = evaluate(demoPlan());
  const ranges = evaluation.plan.allocations.filter(({ purpose }) => purpose === 'service');
  for (let n = 0; n < 320; n++) {
    const range = ranges[n % ranges.length];
    const owner = evaluation.plan.clusters.find(({ id }) => id === range?.clusterId);
    if (range === undefined || owner?.isBuilt !== false) continue;
    const plan = applied(evaluation.plan, [
      setOperation('allocations', range.id, { prefix: `10.${n % 60}.${(n * 4) % 256}.0/22` }),
    ]);
    evaluation = evaluate(plan, evaluation);
    evaluation.verdicts();
  }
  expect(picture(evaluation)).toEqual(picture(evaluate(evaluation.plan)));
});

test('a longer horizon finds what a fresh evaluation finds', () => {
  const plan = applied(ground(1), [
    { op: 'set', kind: 'settings', fields: { horizonMonths: 12 } },
    ...add('clusters', cluster('one', { growth: 'compound', growthPerYear: 60, nodesNow: 20, nodesHorizon: 20 })),
    ...add('subnets', {
      name: 's',
      networkId: testId('networks', 1),
      siteId: testId('sites', 1),
      purpose: 'other',
      prefix: '10.9.0.0/26',
    }),
    ...add('nodePools', {
      clusterId: testId('clusters', 1),
      name: 'p',
      nodesNow: 20,
      nodesMax: 20,
      nodesHorizon: 20,
      additionalInterfaceSubnetIds: [testId('subnets', 1)],
    }),
  ]);
  const codes = (evaluation: Evaluation) => evaluation.findings().map(({ code }) => code);
  const near = evaluate(plan);
  // 20 nodes at 60 % a year are 32 after one year, and a /26 holds 62.
  expect(codes(near)).not.toContain('attachment.full');
  const far = applied(plan, [{ op: 'set', kind: 'settings', fields: { horizonMonths: 96 } }]);
  // After eight years they are 20 × 1.6^8 = 859.
  expect(codes(evaluate(far, near))).toContain('attachment.full');
});

test('a section is handed what it declares and nothing else, and only when somebody asks', () => {
  const asked: string[] = [];
  const names = section({
    name: 'names',
    reads: ['networks'],
    needs: {},
    build: (parts) => {
      asked.push('names');
      expect(Object.keys(parts)).toEqual(['networks']);
      return parts.networks.map(({ name }) => name).join(' ');
    },
  });
  const length = section({
    name: 'length',
    reads: [],
    needs: { names },
    build: (_, needed) => {
      asked.push('length');
      return needed.names.length;
    },
  });
  const first = evaluate(ground(2));
  expect(asked).toEqual([]);
  expect(first.ask(length)).toBe('n1 n2'.length);
  expect(asked).toEqual(['names', 'length']);
  const noted = evaluate(applied(first.plan, [setOperation('networks', testId('networks', 1), { note: 'x' })]), first);
  // The note changes what names reads; the text it gives is the same, so what needs it holds.
  expect([noted.ask(length), asked]).toEqual(['n1 n2'.length, ['names', 'length', 'names']]);
  const apart = evaluate(
    applied(first.plan, add('pools', { name: 'p', prefix: '10.0.0.0/8', purposes: ['node'] })),
    first,
  );
  apart.ask(length);
  expect(asked).toHaveLength(3);
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

test('in steps a section comes to what it comes to at once, each that it needs being built in a step of its own', () => {
  const plan = demoPlan();
  const evaluation = evaluate(plan);
  const steps = evaluation.inSteps(findings);
  const told: Progress[] = [];
  for (let step = steps.next(); step.done !== true; step = steps.next()) told.push(step.value);
  expect(evaluation.findings()).toEqual(evaluate(plan).findings());
  expect(told.map(({ done }) => done)).toEqual(told.map((_, at) => at));
  expect(new Set(told.map(({ of }) => of))).toEqual(new Set([told.length]));
  expect(told.length).toBeGreaterThan(50);
  for (const { what } of told) expect(what).toMatch(/^[a-z]/);
  // What is built is not built again.
  expect([...evaluation.inSteps(findings)]).toEqual([]);
});
