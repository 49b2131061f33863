import { propose } from '../allocation/index.js';
import { evaluate } from '../evaluation/index.js';
import { addOperation, applyOperations, emptyPlan, newId, withFallbacks } from '../plan/index.js';
import { starterOperations, starterPlan, starters } from './index.js';
import type { StarterName } from './index.js';

const names = Object.keys(starters) as StarterName[];

test.each(names)('%s: a plan with a site, a network, shapes and pools, in which nothing is wrong', (name) => {
  const plan = starterPlan('First', name, { site: 'Main', network: 'main' });
  expect(plan.settings.name).toBe('First');
  expect([plan.profiles, plan.sites, plan.networks].map(({ length }) => length)).toEqual([1, 1, 1]);
  expect(plan.shapes.length).toBeGreaterThan(1);
  expect(evaluate(plan).findingsInWords()).toEqual([]);
});

test.each(names)('%s: a cluster gets every range it needs, and no error comes of it', (name) => {
  const plan = starterPlan('First', name, { site: 'Main', network: 'main' });
  const podModes = name === 'zonal' ? (['overlay', 'routed', 'native'] as const) : (['overlay', 'routed'] as const);
  const added = applyOperations(
    plan,
    podModes.map((podMode) =>
      addOperation(
        'clusters',
        withFallbacks('clusters', {
          id: newId(),
          name: podMode,
          siteId: plan.sites[0]?.id ?? '',
          networkId: plan.networks[0]?.id ?? '',
          podMode,
          nodesNow: 6,
          nodesHorizon: 20,
        }),
      ),
    ),
  );
  if (!added.ok) throw new Error(added.problems[0]?.message);
  const { operations, refusals } = propose(added.plan);
  expect(refusals).toEqual([]);
  const done = applyOperations(added.plan, operations);
  if (!done.ok) throw new Error(done.problems[0]?.message);
  expect(
    evaluate(done.plan)
      .findingsInWords()
      .filter(({ severity }) => severity === 'error'),
  ).toEqual([]);
});

test('beside what a plan has: names that are taken get a number, and its pools stay', () => {
  const plan = starterPlan('First', 'lan', { site: 'Main', network: 'main' });
  const again = applyOperations(plan, starterOperations(plan, 'lan', { site: 'main', network: 'Main' }).operations);
  if (!again.ok) throw new Error(again.problems[0]?.message);
  expect(again.plan.profiles.map(({ name }) => name).sort()).toEqual(['Plain LAN', 'Plain LAN 2']);
  expect(again.plan.sites.map(({ name }) => name).sort()).toEqual(['Main', 'main 2']);
  expect(again.plan.pools).toEqual(plan.pools);
});

test('without names only the profile, its shapes and the pools come', () => {
  const { operations } = starterOperations(emptyPlan(), 'zonal');
  expect([...new Set(operations.map(({ kind }) => kind))]).toEqual(['profiles', 'shapes', 'pools']);
});
