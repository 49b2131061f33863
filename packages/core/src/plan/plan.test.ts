import fc from 'fast-check';
import { add, anyWorld, applied, cluster, ground, testId } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import {
  addOperation,
  applyOperations,
  checkEntity,
  emptyPlan,
  kinds,
  newId,
  removalOf,
  setOperation,
  withFallbacks,
} from './index.js';
import type { Operation } from './index.js';

const problemsOf = (plan: Parameters<typeof applyOperations>[0], operations: readonly Operation[]) => {
  const result = applyOperations(plan, operations);
  return result.ok ? [] : result.problems.map(({ operation, field, code }) => `${operation} ${field} ${code}`);
};

test('the inverse of a change gives the plan back exactly', () => {
  fc.assert(
    fc.property(anyWorld, fc.array(fc.nat(), { maxLength: 6 }), (plan, picks) => {
      const operations = picks.flatMap((pick): Operation[] => {
        const allocation = plan.allocations[pick % Math.max(1, plan.allocations.length)];
        return allocation === undefined
          ? []
          : [setOperation('allocations', allocation.id, { isPinned: pick % 2 === 0 })];
      });
      const removal = plan.clusters[0] === undefined ? [] : removalOf(plan, 'clusters', plan.clusters[0].id);
      const result = applyOperations(plan, [...operations, ...removal]);
      expect(result.ok).toBe(true);
      if (result.ok) expect(applied(result.plan, result.inverse)).toEqual(plan);
    }),
  );
});

test('collections stay in the order of ids, however entities arrive', () => {
  const ids = [5, 1, 9, 3].map((n) => testId('networks', n));
  const plan = applied(
    emptyPlan(),
    ids.map((id, i) => addOperation('networks', withFallbacks('networks', { id, name: `net ${i}` }))),
  );
  expect(plan.networks.map(({ id }) => id)).toEqual([...ids].sort());
  expect(newId() < newId()).toBe(true);
});

describe('a change is refused whole, with the place and the mend', () => {
  const plan = applied(ground(2), [
    ...add('clusters', cluster('one'), cluster('two')),
    ...add('allocations', {
      clusterId: testId('clusters', 1),
      purpose: 'node',
      zone: '',
      prefix: '10.0.0.0/24',
      turn: 1,
      isPinned: false,
    }),
  ]);
  const one = testId('clusters', 1);
  const next = (fields: object) => addOperation('clusters', { id: newId(), ...cluster('three'), ...fields });

  test.each<[string, Operation[], string]>([
    ['a name that is taken', [next({ name: 'ONE ' })], '0 name name.taken'],
    ['a network that is not there', [next({ networkId: testId('networks', 99) })], '0 networkId reference.missing'],
    ['a negative count', [setOperation('clusters', one, { nodesNow: -1 })], '0 nodesNow field.range'],
    ['1e9 nodes', [setOperation('clusters', one, { nodesHorizon: 1e9 })], '0 nodesHorizon field.range'],
    ['half a node', [setOperation('clusters', one, { nodesHorizon: 1.5 })], '0 nodesHorizon field.integer'],
    ['an unknown field', [setOperation('clusters', one, { colour: 'red' } as never)], '0 colour field.unknown'],
    [
      'host bits',
      [setOperation('allocations', testId('allocations', 1), { prefix: '10.0.0.1/24' })],
      '0 prefix prefix.host-bits',
    ],
    [
      'IPv6 not in standard form',
      [setOperation('allocations', testId('allocations', 1), { prefix: 'FD00::/64' })],
      '0 prefix field.prefix-form',
    ],
    [
      'a second range for one place',
      [
        addOperation('allocations', {
          id: newId(),
          clusterId: one,
          purpose: 'node',
          zone: '',
          prefix: '10.9.0.0/24',
          turn: 1,
          isPinned: false,
        }),
      ],
      '0 purpose allocation.twice',
    ],
    ['a network in use', [{ op: 'remove', kind: 'networks', id: testId('networks', 1) }], '0 id entity.referred-to'],
    ['a cluster that keeps its ranges', [{ op: 'remove', kind: 'clusters', id: one }], '0 id entity.referred-to'],
    ['an entity that is gone', [setOperation('clusters', newId(), { nodesNow: 1 })], '0 id entity.gone'],
    [
      'an id twice',
      [addOperation('networks', withFallbacks('networks', { id: testId('networks', 1), name: 'again', note: '' }))],
      '0 id entity.exists',
    ],
    [
      'a peering of three',
      [
        addOperation('links', {
          id: newId(),
          name: 'p',
          kind: 'peering',
          networkIds: [1, 2, 3].map((n) => testId('networks', n)),
          mtu: 1500,
          encapsulation: 'none',
          isPlanned: false,
        }),
      ],
      '0 networkIds link.pair-size',
    ],
    [
      'a hub of one',
      [
        addOperation('links', {
          id: newId(),
          name: 'p',
          kind: 'hub',
          networkIds: [testId('networks', 1)],
          mtu: 1500,
          encapsulation: 'none',
          isPlanned: false,
        }),
      ],
      '0 networkIds field.list-size',
    ],
    [
      'an id that is none',
      [addOperation('networks', withFallbacks('networks', { id: 'x', name: 'n', note: '' }))],
      '0 id field.id',
    ],
    ['a control character', [setOperation('clusters', one, { name: 'a\u0007b' })], '0 name field.control'],
    ['an overlong name', [setOperation('clusters', one, { name: 'a'.repeat(81) })], '0 name field.long'],
  ])('%s', (_, operations, expected) => {
    expect(problemsOf(plan, operations)).toContain(expected);
    expect(problemsOf(plan, [setOperation('clusters', one, { nodesNow: 7 }), ...operations])[0]).toBe(
      expected.replace(/^0/, '1'),
    );
  });

  test('every problem says the mend', () => {
    const result = applyOperations(plan, [next({ name: '', nodesNow: 'x', zone: 1 })]);
    expect(result.ok).toBe(false);
    if (!result.ok) expect(result.problems.every(({ fix }) => fix !== '')).toBe(true);
  });
});

test('removing a cluster takes its ranges, removing a network leaves its hubs whole', () => {
  const plan = demoPlan();
  const pier = plan.networks.find(({ name }) => name === 'head-office');
  const [used] = plan.inUse.filter(({ networkId }) => networkId === pier?.id);
  const after = applied(plan, [
    ...removalOf(plan, 'inUse', used?.id ?? ''),
    ...removalOf(plan, 'networks', pier?.id ?? ''),
  ]);
  expect(after.links.find(({ name }) => name === 'skerry-hub')?.networkIds).toHaveLength(5);
  const cluster = plan.clusters[0];
  const without = applied(plan, removalOf(plan, 'clusters', cluster?.id ?? ''));
  expect(without.allocations.some(({ clusterId }) => clusterId === cluster?.id)).toBe(false);
});

test('every entity of the demo is good by its own rules', () => {
  const plan = demoPlan();
  let seen = 0;
  for (const kind of kinds) {
    for (const entity of plan[kind]) {
      seen++;
      expect(checkEntity(kind, { ...entity })).toEqual([]);
    }
  }
  expect(seen).toBeGreaterThan(100);
});
