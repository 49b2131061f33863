import { demoPlan } from '../demo/index.js';
import { kinds, SharedValues } from './index.js';
import type { Kind, Plan } from './index.js';

type Row = Record<string, unknown>;
const parsed = () => JSON.parse(JSON.stringify(demoPlan())) as Plan;

// The rows as the runtime parses them are the reference.
test('rows of every kind say the same once their ids and lists are shared', () => {
  const plan = parsed();
  const shared = new SharedValues();
  for (const kind of kinds) for (const row of plan[kind]) shared.share(kind, row);
  expect(plan).toEqual(demoPlan());
});

test('lists that are alike are one, whatever row they stand in, and others stay their own', () => {
  const shared = new SharedValues();
  const of = (kind: Kind, row: Row) => {
    shared.share(kind, row);
    return row;
  };
  const one = of('workloads', { id: 'a', labels: ['app=web'], ports: [], nodeLabels: [] });
  const two = of('services', { id: 'b', selector: ['app=web'], ports: [], hosts: ['app=web', 'x'] });
  expect(two['selector']).toBe(one['labels']);
  expect(two['ports']).toBe(one['nodeLabels']);
  expect(two['hosts']).toEqual(['app=web', 'x']);
  // The texts of two lists joined are the same, and the lists are not.
  const first = of('workloads', { id: 'c', labels: ['a\0b', 'c'] });
  const second = of('workloads', { id: 'd', labels: ['a', 'b\0c'] });
  expect(second['labels']).toEqual(['a', 'b\0c']);
  expect(first['labels']).toEqual(['a\0b', 'c']);
});

test('a field that is not a list of texts stays as it is', () => {
  const row: Row = { id: 7, labels: [1, 2], ports: 'none', clusterId: null };
  new SharedValues().share('workloads', row);
  expect(row).toEqual({ id: 7, labels: [1, 2], ports: 'none', clusterId: null });
});
