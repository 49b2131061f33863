import { add, applied, ground } from '../../test/worlds.js';
import { emptyPlan } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { starterPlan, starters } from '../starter/index.js';
import type { StarterName } from '../starter/index.js';
import { importRows } from './index.js';

const text = ['Cluster,Site,Network,Nodes', 'one,Harbour,front,3', 'two,harbour,back,4', 'three,Island,Front,5'].join(
  '\n',
);

/** A profile, its shapes and pools, and neither a site nor a network. */
const bare = starterPlan('bare', 'zonal', {});
const profileId = bare.profiles[0]?.id;

function taken(plan: Plan, make?: { profileOf?: Record<string, string> }) {
  return importRows(plan, 'clusters', text, make === undefined ? {} : { make });
}

test('sites and networks that rows name and nobody has entered are told once each, in any case', () => {
  const { missing, rows, problems } = taken(bare);
  expect(missing).toEqual([
    { kind: 'sites', name: 'Harbour', rows: 2, profileId },
    { kind: 'networks', name: 'front', rows: 2 },
    { kind: 'networks', name: 'back', rows: 1 },
    { kind: 'sites', name: 'Island', rows: 1, profileId },
  ]);
  // Until they are made, the rows are bad, and each says why.
  expect(rows).toEqual([]);
  expect(problems.map(({ field }) => field)).toEqual(['Site', 'Network', 'Site', 'Network', 'Site', 'Network']);
});

test('made in the same change, all rows are good, and the plan holds together', () => {
  const { rows, problems, operations } = taken(bare, {});
  expect([rows.length, problems]).toEqual([3, []]);
  const plan = applied(bare, operations);
  expect(plan.sites.map(({ name }) => name).sort()).toEqual(['Harbour', 'Island']);
  expect(plan.networks.map(({ name }) => name).sort()).toEqual(['back', 'front']);
  const named = (kind: 'sites' | 'networks', id: string) => plan[kind].find((each) => each.id === id)?.name;
  expect(
    plan.clusters
      .map(({ name, siteId, networkId, nodesNow }) => [
        name,
        named('sites', siteId),
        named('networks', networkId),
        nodesNow,
      ])
      .sort((a, b) => Number(a[3]) - Number(b[3])),
  ).toEqual([
    ['one', 'Harbour', 'front', 3],
    ['two', 'Harbour', 'back', 4],
    ['three', 'Island', 'front', 5],
  ]);
});

test('new sites have the zones of the profile’s kind, or those of a site that has the profile already', () => {
  const zones = applied(bare, taken(bare, {}).operations).sites.map((site) => site.zones);
  expect(zones).toEqual([
    ['a', 'b', 'c'],
    ['a', 'b', 'c'],
  ]);
  const with1 = ground(1);
  const plan = applied(with1, taken(with1, {}).operations);
  expect(plan.sites.map((site) => site.zones)).toEqual([['a'], ['a'], ['a']]);
});

test.each(Object.keys(starters) as StarterName[])(
  'under a profile of the starter %s they are as its own site',
  (name) => {
    const own = starterPlan('own', name, { site: 'x' }).sites[0];
    const plan = starterPlan('bare', name, {});
    const made = applied(plan, taken(plan, {}).operations).sites;
    expect(made.map(({ kind, zones }) => ({ kind, zones }))).toEqual(
      [0, 1].map(() => ({ kind: own?.kind, zones: own?.zones })),
    );
  },
);

test('a table that only counts today’s nodes plans no growth', () => {
  const plan = applied(bare, taken(bare, {}).operations);
  expect(plan.clusters.map(({ nodesNow, nodesHorizon }) => nodesHorizon - nodesNow)).toEqual([0, 0, 0]);
  // One that counts both says so, by the label of the field or of the sheet.
  for (const heading of ['Nodes at horizon', 'At horizon']) {
    const said = importRows(bare, 'clusters', `Name,Site,Network,Nodes now,${heading}\none,S,n,3,9`, { make: {} });
    expect(applied(bare, said.operations).clusters[0]?.nodesHorizon).toBe(9);
  }
});

test('in a plan without profiles a usual one comes with the sites, once, and all rows are good', () => {
  const { rows, problems, operations } = taken(emptyPlan({ name: 'empty' }), {});
  expect([rows.length, problems]).toEqual([3, []]);
  const kinds = operations.map(({ kind }) => kind);
  expect([kinds.filter((kind) => kind === 'profiles'), kinds.filter((kind) => kind === 'sites')]).toEqual([
    ['profiles'],
    ['sites', 'sites'],
  ]);
});

test('nothing is made that no row needs, and nothing for columns that are left out', () => {
  const plan = ground(1);
  const { missing, operations } = importRows(plan, 'inUse', 'Prefix,Owner,Network\n203.0.113.0/24,x,n1', { make: {} });
  expect(missing).toEqual([]);
  expect(operations.map(({ kind }) => kind)).toEqual(['inUse']);
  const left = importRows(plan, 'inUse', 'Prefix,Owner,Network\n203.0.113.0/24,x,far', { fields: { Network: '' } });
  expect(left.missing).toEqual([]);
});

test('other references are not made from a name: a node pool’s cluster is more than that', () => {
  const plan = applied(ground(1), add('pools', { name: 'p', prefix: '10.0.0.0/8', purposes: ['node'] }));
  const { missing, problems } = importRows(plan, 'nodePools', 'Cluster,Name,Now,Most,At horizon\nfar,p,1,1,1', {
    make: {},
  });
  expect(missing).toEqual([]);
  expect(problems[0]?.message).toContain('There is no cluster "far"');
});
