import { add, applied, cluster, ground, ownRanges, testId } from '../../../test/worlds.js';
import { demoPlan } from '../../demo/index.js';
import { formatDrillFact } from '../../english/index.js';
import { evaluate } from '../../evaluation/index.js';
import { askTest, expectationStates } from '../../findings/index.js';
import { ingress } from '../../ingress/index.js';
import { byId, outageAsSets, readOutage, withRenames } from '../../plan/index.js';
import type { Operation, Plan } from '../../plan/index.js';
import { finished } from '../../working/index.js';
import { DrillRunner, drillsOf, noticedBy, outageOf, scoreCard, titleOfDrill } from '../index.js';
import type { DrillKind, DrillOutcome } from '../index.js';
import { Suites } from '../suites.js';

const CLUSTER = testId('clusters', 1);

function outcomes(plan: Plan, kind: DrillKind): readonly DrillOutcome[] {
  const evaluation = evaluate(plan);
  const runner = new DrillRunner(evaluation);
  return drillsOf(evaluation)
    .filter((drill) => drill.kind === kind)
    .flatMap((drill) => finished(runner.run(drill)) ?? []);
}

/** Two networks joined by one peering; a cluster in the first must reach a range in the second. */
function joined(more: readonly Operation[] = []): Plan {
  return applied(ground(2), [
    ...add('clusters', cluster('c', { nodesNow: 4, nodesHorizon: 4 })),
    ...ownRanges(),
    ...add('links', {
      name: 'join',
      kind: 'peering',
      networkIds: [testId('networks', 1), testId('networks', 2)],
    }),
    ...add('inUse', { prefix: '10.9.0.0/24', owner: 'Archive', networkId: testId('networks', 2) }),
    ...add('needs', { name: 'archive', prefixes: ['10.9.0.0/24'], protocol: 'tcp', ports: ['443'], clusterIds: [] }),
    ...more,
  ]);
}

test('a link that is cut takes what goes over it, and no more', () => {
  const [cut] = outcomes(joined(), 'link cut');
  expect(cut?.state).toBe('breaks');
  expect(cut?.lost.map(({ suite, to }) => `${suite}: ${to}`)).toEqual(['egress needs: need archive']);
  expect(cut?.clusters).toEqual(['c']);
  expect(cut === undefined ? '' : noticedBy(cut)).toBe('workloads');
});

test('a second link beside it is tried, and gains what the first lost', () => {
  const card = finished(scoreCard(evaluate(joined())));
  const second = card.preventions.find(({ fact }) => fact.offer === 'second link');
  const broken = card.outcomes.find(({ drill }) => drill.kind === 'link cut');
  // The mean over all drills rises by what that drill lost.
  expect(second?.gain).toBeCloseTo((100 * (1 - (broken?.kept ?? 1))) / card.outcomes.length, 6);
  expect(second).toMatchObject({ cost: 0, leaves: 0 });
  expect(card.scoreAfter).toBeGreaterThan(card.score);
});

test('two links stand in for one another, and what holds without one breaks without both', () => {
  const twice = joined(
    add(
      'links',
      { name: 'join', kind: 'peering', networkIds: [testId('networks', 1), testId('networks', 2)] },
      { name: 'beside', kind: 'peering', networkIds: [testId('networks', 1), testId('networks', 2)] },
    ).slice(1),
  );
  expect(outcomes(twice, 'link cut').map(({ state }) => state)).toEqual(['holds', 'holds']);
  const links = twice.links.map(({ id }) => ({ lost: 'link', id }) as const);
  const runner = new DrillRunner(evaluate(twice));
  const both = finished(runner.run({ kind: 'several lost', parts: links }));
  expect(both).toMatchObject({ state: 'breaks', seconds: undefined, clusters: ['c'] });
  expect(both?.lost.map(({ to }) => to)).toEqual(['need archive']);
  expect(titleOfDrill(twice, { kind: 'several lost', parts: links })).toBe('Lost at once: link join; link beside');
});

test('nodes scaled in to their least: pods wait for room until nodes come up again', () => {
  // Machines of 4 vCPU hold two pods of 2 each: four nodes hold all six, one holds two, and four wait.
  const pooled = (nodesMin: number) =>
    joined([
      { op: 'set', kind: 'clusters', id: CLUSTER, fields: { nodesNow: 0, nodesHorizon: 0 } },
      ...add('shapes', { name: 'small', profileId: testId('profiles', 1), vcpus: 4, memoryGib: 16 }),
      ...add('nodePools', {
        name: 'p',
        clusterId: CLUSTER,
        shapeId: testId('shapes', 1),
        nodesNow: 4,
        nodesMin,
        nodesMax: 4,
        nodesHorizon: 4,
      }),
      ...add('workloads', {
        name: 'w',
        clusterId: CLUSTER,
        namespace: 'web',
        replicasNow: 6,
        replicasHorizon: 6,
        cpuMillis: 2000,
      }),
    ]);
  // The usual times of a machine, its registration and readiness: 150 + 45 + 20 s.
  expect(outcomes(pooled(1), 'scale in')).toMatchObject([
    {
      state: 'interrupted',
      kept: 0,
      seconds: 215,
      facts: [{ fact: 'pods wait', cluster: 'c', pods: 4, nodes: 1, lack: 'CPU' }],
    },
  ]);
  expect(outcomes(pooled(3), 'scale in')).toMatchObject([{ state: 'holds', facts: [] }]);
  // A pool that names no least is not scaled in.
  expect(outcomes(pooled(0), 'scale in')).toMatchObject([{ state: 'holds' }]);
});

test('an upgrade needs its surge: four nodes fill a range of four, and a fifth has no prefix', () => {
  // A /22 has four prefixes /24, one for each node of 110 pods (handbook 3).
  const small: Operation = {
    op: 'set',
    kind: 'allocations',
    id: testId('allocations', 2),
    fields: { prefix: '10.244.0.0/22' },
  };
  const surge = (surgePercent: number): Operation => ({
    op: 'set',
    kind: 'clusters',
    id: CLUSTER,
    fields: { surgePercent },
  });
  expect(outcomes(joined([small, surge(0)]), 'upgrade')[0]?.state).toBe('holds');
  const [broken] = outcomes(joined([small, surge(25)]), 'upgrade');
  expect(broken).toMatchObject({ state: 'breaks', clusters: ['c'] });
  // Three nodes with a quarter more are four.
  expect(broken?.facts[0]).toMatchObject({ fact: 'nodes beyond', holds: 3, wanted: 4 });
});

test('a self-run control plane of three needs five consecutive addresses', () => {
  const series = (count: number) =>
    joined([
      { op: 'set', kind: 'clusters', id: CLUSTER, fields: { controlPlane: 'self-run', controlNodes: 3 } },
      ...add('reservations', { name: 'vip', clusterId: CLUSTER, first: '10.0.0.16', count }),
    ]);
  expect(outcomes(series(5), 'upgrade')[0]?.facts).toEqual([]);
  expect(outcomes(series(4), 'upgrade')[0]?.facts).toEqual([{ fact: 'series short', cluster: 'c', has: 4, needs: 5 }]);
});

test('DNS pods: of one none is left, of the usual two one', () => {
  const set = (dnsReplicas: number): Operation => ({
    op: 'set',
    kind: 'clusters',
    id: CLUSTER,
    fields: { dnsReplicas },
  });
  expect(outcomes(joined([set(1)]), 'DNS halved')[0]?.clusters).toEqual(['c']);
  expect(outcomes(joined([set(2)]), 'DNS halved')[0]?.state).toBe('holds');
});

test('a load balancer that is replaced: records by hand wait to be edited, and a certificate that renews itself holds', () => {
  const plan = joined([
    ...add('subnets', {
      name: 'edge',
      networkId: testId('networks', 1),
      siteId: testId('sites', 1),
      purpose: 'entry',
      prefix: '10.8.0.0/28',
    }),
    ...add('balancers', { name: 'front', layer: '7', subnetId: testId('subnets', 1), address: '10.8.0.5' }),
    ...add('zones', { name: 'inside', apex: 'b.example', side: 'private', networkIds: [testId('networks', 1)] }),
    ...add('records', { zoneId: testId('zones', 1), name: 'web', type: 'A', value: '10.8.0.5', ttl: 120 }),
    ...add('certificates', {
      name: 'web',
      clusterId: CLUSTER,
      namespace: 'shop',
      names: ['web.b.example'],
      validFrom: '2026-11-01',
      renewsItself: true,
    }),
  ]);
  const [replaced] = outcomes(plan, 'load balancer replaced');
  expect(replaced).toMatchObject({ state: 'breaks', kept: 0, seconds: undefined });
  expect(replaced?.facts).toEqual([{ fact: 'record by hand', name: 'web.b.example', seconds: 120 }]);
  // With no name at all clients by address do not follow: that does not hold.
  const unnamed = applied(plan, [{ op: 'remove', kind: 'records', id: testId('records', 1) }]);
  expect(outcomes(unnamed, 'load balancer replaced')[0]).toMatchObject({ state: 'breaks', kept: 0 });
  // Nothing uses the certificate until a listener names it.
  expect(outcomes(plan, 'certificate expired')).toEqual([]);
  const used = applied(
    plan,
    add('listeners', {
      name: 'web',
      balancerId: testId('balancers', 1),
      protocol: 'https',
      port: 443,
      certificate: 'web',
      certificateHosts: ['web.b.example'],
    }),
  );
  expect(outcomes(used, 'certificate expired')[0]).toMatchObject({ state: 'holds', facts: [{ fact: 'renewed' }] });
});

test('a plan with nothing to put to the test holds in no drill', () => {
  const card = finished(scoreCard(evaluate(ground())));
  expect(card).toMatchObject({ outcomes: [], holds: 0, preventions: [] });
  expect(card.untested).toBe(drillsOf(evaluate(ground())).length);
  // A cluster without ranges is asked nothing that passes.
  const bare = applied(joined(), [{ op: 'remove', kind: 'allocations', id: testId('allocations', 1) }]);
  expect(outcomes(bare, 'link cut')).toEqual([]);
});

test('every drill of the demo: what is asked of what rests on the loss is all that changes', () => {
  const plan = demoPlan();
  const evaluation = evaluate(plan);
  const runner = new DrillRunner(evaluation);
  const state = evaluation.ask(ingress);
  const tests = new Suites(plan)
    .of({ kind: 'plan' })
    .filter((test) => test.verdict === 'must pass' && askTest(plan, state, test).state === 'kept');
  let lost = 0;
  for (const drill of drillsOf(evaluation)) {
    const outcome = finished(runner.run(drill));
    if (outcome === undefined) continue;
    if (drill.kind === 'link cut' || drill.kind === 'NAT lost' || drill.kind === 'firewall lost') {
      const id = drill.kind === 'link cut' ? drill.linkId : drill.deviceId;
      const drilled =
        drill.kind === 'link cut' ? state.drilled({}, new Set([id])) : state.drilled({ devices: new Set([id]) });
      // Every test of the plan, not only those whose road meets it.
      const all = tests.filter((test) => askTest(plan, drilled, test).state !== 'kept');
      expect([titleOfDrill(plan, drill), outcome.lost.map(({ from, to }) => `${from} ${to}`)]).toEqual([
        titleOfDrill(plan, drill),
        all.map(({ from, to }) => `${from} ${to}`),
      ]);
      lost += all.length;
    }
    // Several at once with one of them is that one.
    const parts = outageOf(drill);
    if (parts.length > 0)
      expect(finished(runner.run({ kind: 'several lost', parts }))).toMatchObject({
        state: outcome.state,
        kept: outcome.kept,
        facts: outcome.facts,
      });
    expect(outcome.kept).toBeGreaterThanOrEqual(0);
    expect(outcome.kept).toBeLessThanOrEqual(1);
    for (const fact of outcome.facts) expect(formatDrillFact(fact)).toMatch(/^[A-Za-z0-9].*\.$/);
  }
  expect(lost).toBeGreaterThan(100);
});

test('any two things of the demo lost at once: every test of the plan says the same as those that rest on them', () => {
  const plan = demoPlan();
  const evaluation = evaluate(plan);
  const runner = new DrillRunner(evaluation);
  const state = evaluation.ask(ingress);
  const drills = drillsOf(evaluation).filter((drill) => ['link cut', 'NAT lost', 'firewall lost'].includes(drill.kind));
  const tests = new Suites(plan)
    .of({ kind: 'plan' })
    .filter((test) => test.verdict === 'must pass' && askTest(plan, state, test).state === 'kept');
  let more = 0;
  for (const [at, one] of drills.entries()) {
    const other = drills[(at * 7 + 3) % drills.length];
    if (other === undefined || other === one || at % 3 > 0) continue;
    const parts = [...outageOf(one), ...outageOf(other)];
    const outcome = finished(runner.run({ kind: 'several lost', parts }));
    const { devices, links } = outageAsSets(plan, parts);
    const all = tests.filter((test) => askTest(plan, state.drilled({ devices }, links), test).state !== 'kept');
    expect(outcome?.lost.map(({ from, to }) => `${from} ${to}`)).toEqual(all.map(({ from, to }) => `${from} ${to}`));
    more += all.length;
  }
  expect(more).toBeGreaterThan(20);
});

describe('expectations while something is lost', () => {
  const expectation = (during: string): readonly Operation[] =>
    add('expectations', { name: 'e', from: 'pod of c', to: 'need archive', verdict: 'must pass', during });
  const stateOf = (plan: Plan) => evaluate(plan).ask(expectationStates)[testId('expectations', 1)]?.state;

  test('are asked without it, and broken where nothing else leads there', () => {
    expect(stateOf(joined(expectation('')))).toBe('kept');
    expect(stateOf(joined(expectation('link join')))).toBe('broken');
    expect(stateOf(joined(expectation('link gone')))).toBe('unreadable');
    const broken = evaluate(joined(expectation('link join')))
      .findingsInWords()
      .find(({ code }) => code === 'expectation.broken');
    expect(broken?.title).toBe('e: pod of c to need archive must pass while link join is lost');
    expect(broken?.ask).toBeUndefined();
  });

  test('follow a new name of what they lose', () => {
    const plan = joined(expectation('link join; zone a of here'));
    const rename: Operation = { op: 'set', kind: 'links', id: testId('links', 1), fields: { name: 'coast' } };
    const after = applied(plan, withRenames(plan, [rename]));
    expect(byId(after.expectations, testId('expectations', 1))?.during).toBe('link coast; zone a of here');
  });

  test('say what can be lost where a word names nothing', () => {
    expect(readOutage(joined(), 'site nowhere')).toMatchObject({
      ok: false,
      problem: { message: '"site nowhere" names nothing that can be lost.' },
    });
    const read = readOutage(joined(), 'site here; LINK join');
    expect(read.ok && [read.value.zones.size, read.value.links.size]).toEqual([1, 1]);
  });
});
