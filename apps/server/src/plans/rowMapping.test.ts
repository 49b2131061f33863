import { demoPlan } from '@wide-lattice/core/demo';
import { kinds, rulesOf } from '@wide-lattice/core/plan';
import type { Entity } from '@wide-lattice/core/plan';
import { PlanRow } from '../db/rows/index.js';
import { settingsIn, toEntity, toRow } from './rowMapping.js';

const demo = demoPlan();
const planId = '019aa000-ffff-7000-8000-000000000001';

test.each(kinds)('%s: every entity of the demo is the same after a row', (kind) => {
  for (const entity of demo[kind] as readonly Entity[]) {
    const row = toRow(planId, kind, entity);
    expect(row.planId).toBe(planId);
    expect(toEntity(kind, row)).toEqual(entity);
  }
});

test('what only the row holds does not come back with the entity', () => {
  const [range] = demo.allocations;
  if (range === undefined) throw new Error('the demo has ranges');
  const row = toRow(planId, 'allocations', range);
  expect(Object.keys(row)).toEqual(expect.arrayContaining(['family', 'firstAddress', 'lastAddress', 'prefixLength']));
  expect(Object.keys(toEntity('allocations', row)).sort()).toEqual(
    ['id', ...Object.keys(rulesOf('allocations'))].sort(),
  );
});

// Derived by hand: 10.20.30.0/23 ends at 10.20.31.255; fd00::/126 ends at fd00::3.
test.each([
  ['10.20.30.0/23', 4, '0a141e00', '0a141fff', 23],
  ['0.0.0.0/0', 4, '00000000', 'ffffffff', 0],
  ['203.0.113.7/32', 4, 'cb007107', 'cb007107', 32],
  ['fd00::/126', 6, 'fd000000000000000000000000000000', 'fd000000000000000000000000000003', 126],
])('%s is kept so that the database can compare it', (prefix, family, first, last, length) => {
  const [range] = demo.inUse;
  const row = toRow(planId, 'inUse', { ...range, prefix } as Entity) as unknown as Record<string, unknown>;
  expect(row['family']).toBe(family);
  expect((row['firstAddress'] as Buffer).toString('hex')).toBe(first);
  expect((row['lastAddress'] as Buffer).toString('hex')).toBe(last);
  expect(row['prefixLength']).toBe(length);
});

test('a prefix that is none never reaches a row', () => {
  const [range] = demo.inUse;
  expect(() => toRow(planId, 'inUse', { ...range, prefix: '10.0.0.1/8' } as Entity)).toThrow(/"10\.0\.0\.1\/8"/);
});

test('a kind without a prefix has no range columns', () => {
  const [site] = demo.sites;
  expect(toRow(planId, 'sites', site as Entity)).not.toHaveProperty('firstAddress');
});

test('the settings are what the plan row holds of them', () => {
  const row = Object.assign(Object.create(PlanRow.prototype) as PlanRow, {
    id: planId,
    revision: 7,
    createdAt: new Date(),
    changedAt: new Date(),
    ...demo.settings,
  });
  expect(settingsIn(row)).toEqual(demo.settings);
});
