import fc from 'fast-check';
import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import { addOperation, applyOperations, setOperation, withFallbacks } from '../plan/index.js';
import type { Operation, Plan } from '../plan/index.js';
import { demoPlan } from '../demo/index.js';
import { alikeIn, NameState, recordedNames, rowOf, vantagesOf, VantageTable } from './index.js';

/** Two networks with clusters, a public zone with a delegated child, private zones of the same names, a rule from one network to the other. */
const start: Plan = applied(ground(3), [
  ...add('links', { name: 'hub', kind: 'hub', networkIds: [1, 2, 3].map((n) => testId('networks', n)) }),
  ...add(
    'clusters',
    cluster('c1', {}),
    cluster('c2', { networkId: testId('networks', 2), stubZones: ['two.test to 10.3.0.53'] }),
  ),
  ...add(
    'allocations',
    { clusterId: testId('clusters', 1), purpose: 'node', prefix: '10.9.0.0/24' },
    { clusterId: testId('clusters', 2), purpose: 'node', prefix: '10.9.1.0/24' },
  ),
  ...add(
    'subnets',
    {
      name: 'far',
      networkId: testId('networks', 3),
      siteId: testId('sites', 1),
      purpose: 'other',
      prefix: '10.3.0.0/24',
    },
    {
      name: 'front',
      networkId: testId('networks', 1),
      siteId: testId('sites', 1),
      purpose: 'entry',
      prefix: '10.8.0.0/24',
    },
  ),
  ...add(
    'zones',
    { name: 'a', apex: 'one.test', side: 'public' },
    { name: 'b', apex: 'b.one.test', side: 'public' },
    { name: 'c', apex: 'one.test', side: 'private', networkIds: [testId('networks', 1)] },
    { name: 'd', apex: 'two.test', side: 'private', networkIds: [testId('networks', 3)] },
  ),
  ...add('resolvers', { name: 'r', networkId: testId('networks', 3), addresses: ['10.3.0.53'] }),
  ...add('forwardingRules', {
    name: 'f',
    domain: 'two.test',
    networkIds: [testId('networks', 1)],
    targets: ['10.3.0.53'],
  }),
  ...add('balancers', { name: 'x', subnetId: testId('subnets', 2), side: 'public', address: '203.0.113.9' }),
  ...add('controllers', {
    name: 'k',
    clusterId: testId('clusters', 1),
    classes: ['k'],
    balancerId: testId('balancers', 1),
  }),
  ...add('recordControllers', {
    name: 'k',
    clusterId: testId('clusters', 1),
    ownerMark: 'm',
    zoneIds: [testId('zones', 1), testId('zones', 3)],
  }),
  ...add('ingressRoutes', {
    clusterId: testId('clusters', 1),
    namespace: 'n',
    name: 'r',
    className: 'k',
    hosts: ['h.one.test', '*.w.one.test'],
    backends: ['s 80'],
  }),
]);

const record = fc.record({
  zone: fc.integer({ min: 1, max: 4 }),
  labels: fc.array(fc.constantFrom('a', 'b', 'h', '*', 'w'), { maxLength: 3 }),
  type: fc.constantFrom('A' as const, 'A' as const, 'CNAME' as const, 'NS' as const, 'TXT' as const),
  n: fc.integer({ min: 1, max: 3 }),
  to: fc.constantFrom('a.one.test', 'h.one.test', 'a.two.test', 'b.one.test', 'else.where'),
});
const edit = fc.oneof(
  { weight: 5, arbitrary: fc.record({ kind: fc.constant('add' as const), record }) },
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('remove' as const), at: fc.nat() }) },
  {
    weight: 2,
    arbitrary: fc.record({ kind: fc.constant('ttl' as const), at: fc.nat(), ttl: fc.integer({ min: 1, max: 99 }) }),
  },
  {
    weight: 1,
    arbitrary: fc.record({
      kind: fc.constant('host' as const),
      host: fc.constantFrom('h.one.test', 'a.one.test', 'z.b.one.test'),
    }),
  },
);

test('after any edits of records and hosts, some of them unseen, every name is answered as in a table made anew', () => {
  let made = 100;
  fc.assert(
    fc.property(fc.array(fc.tuple(edit, fc.boolean()), { minLength: 1, maxLength: 12 }), (edits) => {
      let plan = start;
      let state = NameState.of(plan);
      let table = VantageTable.of(state);
      for (const [each, isLookedAt] of edits) {
        const operations: Operation[] = [];
        const known = plan.records[('at' in each ? each.at : 0) % Math.max(1, plan.records.length)];
        if (each.kind === 'add') {
          const { zone, labels, type, n, to } = each.record;
          const value = { A: `10.0.0.${n}`, TXT: `t${n}`, CNAME: to, NS: to }[type];
          const name = labels.length === 0 ? '@' : labels.join('.');
          operations.push(
            addOperation(
              'records',
              withFallbacks('records', {
                id: testId('records', made++),
                zoneId: testId('zones', zone),
                name,
                type,
                value,
              }),
            ),
          );
        } else if (each.kind === 'host')
          operations.push(setOperation('ingressRoutes', testId('ingressRoutes', 1), { hosts: [each.host] }));
        else if (known !== undefined)
          operations.push(
            each.kind === 'remove'
              ? { op: 'remove', kind: 'records', id: known.id }
              : setOperation('records', known.id, { ttl: each.ttl }),
          );
        const next = applyOperations(plan, operations);
        if (!next.ok) continue;
        plan = next.plan;
        // No record and no route changes how packets go, so the forwarding stays what it was, as in an evaluation.
        state = new NameState(plan, state.forwarding, state);
        if (isLookedAt) table = table.after(state);
      }
      table = table.after(state);
      const plain = ({ rows }: VantageTable) =>
        [...rows.values()]
          .map(({ name, answers }) => ({ name, answers: [...answers] }))
          .sort((a, b) => (a.name < b.name ? -1 : 1));
      expect(plain(table)).toEqual(plain(VantageTable.of(NameState.of(plan))));
    }),
    { numRuns: 300, seed: 20_261_126 },
  );
});

/** Networks 1 and 4 to 6 alike but for one thing each; the others answer names in ways of their own. */
const wide: Plan = applied(start, [
  ...[4, 5, 6].flatMap((n) => add('networks', { id: testId('networks', n), name: `n${n}` })),
  ...[4, 5, 6].flatMap((n) =>
    add('inUse', {
      id: testId('inUse', n),
      owner: `o${n}`,
      networkId: testId('networks', n),
      prefix: `172.20.${n}.0/24`,
    }),
  ),
  setOperation('networks', testId('networks', 5), { nameServers: ['10.3.0.53'] }),
  setOperation('zones', testId('zones', 3), { networkIds: [testId('networks', 1), testId('networks', 6)] }),
]);

test.each([
  ['zones, rules and name servers that differ', wide],
  ['the demo', demoPlan()],
])('what alike vantages share is what each of them gets by itself: %s', (_, plan) => {
  const state = NameState.of(plan);
  const vantages = vantagesOf(state);
  for (const name of recordedNames(state)) {
    const apart = vantages.map((each) => ({ ...each, around: undefined }));
    expect([...rowOf(state, vantages, name).answers]).toEqual([...rowOf(state, apart, name).answers]);
  }
});

test.each([
  ['zones, rules and name servers that differ', wide],
  ['the demo', demoPlan()],
])('vantages stand together where no name tells them apart, and nowhere else: %s', (_, plan) => {
  const { rows, vantages } = VantageTable.of(NameState.of(plan));
  const all = [...rows.values()];
  const found = alikeIn(all, vantages);
  expect(found.flat().toSorted((a, b) => a - b)).toEqual(vantages.map((__, at) => at));
  const isAlike = (a: number, b: number) => all.every(({ answers }) => answers[a]?.text === answers[b]?.text);
  for (const [one, group] of found.entries())
    for (const [other, others] of found.entries())
      for (const a of group) for (const b of others) expect(isAlike(a, b)).toBe(one === other);
});
