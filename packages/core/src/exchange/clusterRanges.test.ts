import { applied } from '../../test/worlds.js';
import { evaluate } from '../evaluation/index.js';
import { emptyPlan, setOperation } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { starterOperations } from '../starter/index.js';
import { importRows } from './index.js';

/** A new plan as it starts from a spreadsheet: a profile of each usual kind, and nothing else. */
const start = (): Plan =>
  (['lan', 'zonal', 'regional'] as const).reduce(
    (plan, name) => applied(plan, starterOperations(plan, name).operations),
    emptyPlan({ name: 'list', expectsMergers: false }),
  );
const take = (text: string, plan = start()) => {
  const preview = importRows(plan, 'clusters', text, { make: {} });
  return { preview, after: applied(plan, preview.operations) };
};
const ranges = ({ allocations, clusters }: Plan) =>
  allocations
    .map(({ clusterId, purpose, zone, prefix }) =>
      [clusters.find(({ id }) => id === clusterId)?.name, purpose, zone, prefix].join(' ').replace('  ', ' '),
    )
    .sort();

/** A list as platform teams keep them, with the headings that they use. */
const usual = [
  'Cluster name;Region;VPC;VPC CIDR;Nodes;Max nodes;Node CIDR;Pod CIDR;Service CIDR',
  'web-1;north;web;10.10.0.0/16;12;20;10.10.0.0/22;10.96.0.0/14;172.20.0.0/18',
  'web-2;north;web;10.10.0.0/16;8;8;10.10.4.0/22;10.100.0.0/14;172.20.64.0/18',
  'batch;Harbour DC;own;;5;6;192.168.40.0/24;10.200.0.0/16;172.21.0.0/18',
].join('\n');

test('a usual list with its addresses becomes sites, networks, blocks, clusters and ranges, and is as right as it was', () => {
  const { preview, after } = take(usual);
  expect(preview.columns.filter(({ field }) => field === undefined)).toEqual([]);
  expect(preview.problems).toEqual([]);
  expect(
    after.clusters.map(({ name, nodesNow, nodesHorizon, isBuilt }) => [name, nodesNow, nodesHorizon, isBuilt]).sort(),
  ).toEqual([
    ['batch', 5, 6, true],
    ['web-1', 12, 20, true],
    ['web-2', 8, 8, true],
  ]);
  expect(after.blocks.map(({ prefix }) => prefix)).toEqual(['10.10.0.0/16']);
  expect(ranges(after)).toEqual([
    'batch node 192.168.40.0/24',
    'batch pod 10.200.0.0/16',
    'batch service 172.21.0.0/18',
    'web-1 node 10.10.0.0/22',
    'web-1 pod 10.96.0.0/14',
    'web-1 service 172.20.0.0/18',
    'web-2 node 10.10.4.0/22',
    'web-2 pod 10.100.0.0/14',
    'web-2 service 172.20.64.0/18',
  ]);
  // One node range for a cluster: subnets that span the region; a data centre by its name: a plain LAN.
  expect(
    after.sites.map(({ name, profileId }) => [name, after.profiles.find(({ id }) => id === profileId)?.name]),
  ).toEqual([
    ['north', 'Regional subnets'],
    ['Harbour DC', 'Plain LAN'],
  ]);
  expect(preview.rows[0]?.along).toEqual([
    'counts as built',
    'node range 10.10.0.0/22',
    'pod range 10.96.0.0/14',
    'service range 172.20.0.0/18',
  ]);
  const codes = new Set<string>(
    evaluate(after)
      .findingsInWords()
      .map(({ code }) => code),
  );
  for (const code of ['range.missing', 'range.stray', 'range.too-small', 'overlap.conflict'])
    expect([code, codes.has(code)]).toEqual([code, false]);
});

test('the same list once more changes nothing', () => {
  const { after } = take(usual);
  const again = importRows(after, 'clusters', usual);
  expect([again.operations, again.rows.map(({ what }) => what)]).toEqual([[], ['unchanged', 'unchanged', 'unchanged']]);
});

test('several node ranges are those of the zones in their order, and where they do not match the line is told', () => {
  const list = (nodes: string) =>
    `cluster,region,network,nodes,node subnets\nweb,north,web,9,"${nodes}"\nlate,north,web,3,10.0.9.0/24`;
  const { preview, after } = take(list('10.0.0.0/24, 10.0.1.0/24, 10.0.2.0/24'));
  expect(preview.problems).toEqual([]);
  expect(after.profiles.find(({ id }) => id === after.sites[0]?.profileId)?.subnetScope).toBe('zone');
  expect(ranges(after)).toEqual([
    'late node 10.0.9.0/24',
    'web node a 10.0.0.0/24',
    'web node b 10.0.1.0/24',
    'web node c 10.0.2.0/24',
  ]);
  const wrong = take(list('10.0.0.0/24 10.0.1.0/24'));
  expect(wrong.preview.problems).toEqual([
    {
      line: 2,
      field: 'Node ranges',
      message: '2 node ranges, and the site has 3 zones.',
      fix: 'Give one for each zone, in the order of the zones, or one for the whole cluster.',
    },
  ]);
  expect(wrong.after.clusters.map(({ name }) => name)).toEqual(['late']);
});

test('where subnets span the region, several node ranges are filled in the order of the list', () => {
  const world = take('name,site,network,nodes\nother,south,web,3').after;
  const regional = world.profiles.find(
    ({ subnetScope, reservedFirst }) => subnetScope === 'region' && reservedFirst > 1,
  );
  const there = applied(world, [setOperation('sites', world.sites[0]?.id ?? '', { profileId: regional?.id ?? '' })]);
  const { preview, after } = take(
    'name,site,network,nodes,node ranges\nweb,south,web,9,10.0.1.0/24 10.0.0.0/24',
    there,
  );
  expect(preview.problems).toEqual([]);
  expect(after.allocations.map(({ zone, turn, prefix }) => [zone, turn, prefix])).toEqual([
    ['', 1, '10.0.1.0/24'],
    ['', 2, '10.0.0.0/24'],
  ]);
  const planned = applied(after, [
    setOperation('clusters', after.clusters.find(({ name }) => name === 'web')?.id ?? '', { isBuilt: false }),
  ]);
  const again = importRows(planned, 'clusters', 'name,node ranges\nweb,10.0.1.0/24 10.0.2.0/24');
  expect(applied(planned, again.operations).allocations.map(({ prefix }) => prefix)).toEqual([
    '10.0.1.0/24',
    '10.0.2.0/24',
  ]);
});

test.each([
  ['10.0.0.0/33', /33/],
  ['10.0.0.5/24', /10\.0\.0\.5\/24/],
  ['somewhere', /somewhere/],
])('%s in an address column is refused at its line, and the others are taken', (cell, why) => {
  const { preview, after } = take(
    `name,site,network,nodes,pod range\nbad,north,web,3,${cell}\ngood,north,web,3,10.8.0.0/16`,
  );
  expect(preview.problems).toMatchObject([
    { line: 2, field: 'Pod range', message: expect.stringMatching(why) as string },
  ]);
  expect(after.clusters.map(({ name }) => name)).toEqual(['good']);
});

test('a range that a cluster has already is changed, and one that says it is not built stays so', () => {
  const { after } = take('name,site,network,nodes,pod range,built\nc,north,web,3,10.8.0.0/16,no');
  expect(after.clusters[0]?.isBuilt).toBe(false);
  const moved = importRows(after, 'clusters', 'name,pod range\nc,10.9.0.0/16');
  expect(moved.rows).toMatchObject([{ what: 'changed', along: ['pod range 10.9.0.0/16'] }]);
  expect(ranges(applied(after, moved.operations))).toEqual(['c pod 10.9.0.0/16']);
});

test('headings in many spellings, and an address column of nobody in particular is asked', () => {
  const meaning = (heading: string) => importRows(start(), 'clusters', `name,${heading}\nc,x`).columns[1]?.field;
  for (const heading of ['Node CIDR', 'nodes_subnet', 'Worker IP range', 'node-ranges', 'Nodes IPv4 CIDR'])
    expect([heading, meaning(heading)]).toEqual([heading, '+node']);
  for (const heading of ['Pod CIDR', 'podSubnet', 'Cluster CIDR', 'Pods IP range'])
    expect([heading, meaning(heading)]).toEqual([heading, '+pod']);
  for (const heading of ['Service CIDR', 'svc_cidr', 'Services range', 'ClusterIP range', 'service-subnet'])
    expect([heading, meaning(heading)]).toEqual([heading, '+service']);
  for (const heading of ['VPC CIDR', 'Network block']) expect([heading, meaning(heading)]).toEqual([heading, '+block']);
  for (const heading of ['CIDR', 'IP range', 'Subnet', 'Range'])
    expect([heading, meaning(heading)]).toEqual([heading, undefined]);
});

test('of two headings for one field the plain one counts, and the other is asked', () => {
  const { columns } = importRows(start(), 'clusters', 'Region,Cluster,Site,Network,Nodes\neu,c,north,web,3');
  expect(columns.map(({ heading, field }) => [heading, field])).toEqual([
    ['Region', undefined],
    ['Cluster', 'name'],
    ['Site', 'siteId'],
    ['Network', 'networkId'],
    ['Nodes', 'nodesNow'],
  ]);
});

test('in an empty plan sites bring usual profiles with them, each once', () => {
  const empty = emptyPlan({ name: 'list', expectsMergers: false });
  const { after, preview } = take(usual, empty);
  expect(preview.problems).toEqual([]);
  expect(after.profiles.map(({ name }) => name)).toEqual(['Regional subnets', 'Plain LAN']);
  expect(ranges(after)).toHaveLength(9);
});
