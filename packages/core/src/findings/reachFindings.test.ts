import { add, applied, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { evaluate } from '../evaluation/index.js';
import { setOperation } from '../plan/index.js';
import type { Cluster, Plan } from '../plan/index.js';
import { wantedCells } from './reachFindings.js';

// A need that a firewall of the demo refuses to all, so that there is something to keep.
const start = applied(
  demoPlan(),
  add('needs', { id: testId('needs', 900), name: 'far registry', prefixes: ['198.51.100.0/24'], ports: ['5000'] }),
);

const demand: Partial<Cluster> = {
  nodesNow: 7,
  nodesHorizon: 19,
  services: 333,
  surgePercent: 60,
  zoneGb: 4.5,
  egressGb: 8.25,
};

const wantedIn = (plan: Plan) =>
  evaluate(plan)
    .findingsInWords()
    .filter(({ code }) => code === 'need.unreached' || code === 'egress.none')
    .map(({ title, detail }) => `${title} ${detail}`);

test('what a cluster asks for in nodes, services and traffic has no part in what it reaches', () => {
  const before = wantedIn(start);
  expect(before.length).toBeGreaterThan(0);
  for (const [field, value] of Object.entries(demand)) {
    const changed = applied(
      start,
      start.clusters
        .filter(({ isBuilt }) => !isBuilt)
        .map(({ id }) => setOperation('clusters', id, { [field]: value })),
    );
    expect([field, wantedIn(changed)]).toEqual([field, before]);
  }
});

test('after an edit of that nothing is asked again; a name or another network is', () => {
  const cluster = start.clusters.find(({ isBuilt }) => !isBuilt) as Cluster;
  const first = evaluate(start);
  const known = first.ask(wantedCells);
  for (const [field, value] of Object.entries(demand)) {
    const next = evaluate(applied(start, [setOperation('clusters', cluster.id, { [field]: value })]), first);
    expect([field, next.ask(wantedCells) === known]).toEqual([field, true]);
  }
  const renamed = evaluate(applied(start, [setOperation('clusters', cluster.id, { name: 'other' })]), first);
  expect(renamed.ask(wantedCells)).not.toBe(known);
});

test('an edit of rules is followed as asking everything from nothing would have it', () => {
  let plan = start;
  let evaluation = evaluate(plan);
  evaluation.ask(wantedCells);
  const rules = plan.firewallRules.filter(({ action }) => action === 'allow').slice(0, 4);
  for (const { id } of rules) {
    for (const action of ['deny', 'allow'] as const) {
      plan = applied(plan, [setOperation('firewallRules', id, { action })]);
      evaluation = evaluate(plan, evaluation);
      const found = evaluation.ask(wantedCells).found.map(({ key }) => key);
      expect(found).toEqual(
        evaluate(plan)
          .ask(wantedCells)
          .found.map(({ key }) => key),
      );
    }
  }
});
