import { byId, fieldRules, setOperation } from '@wide-lattice/core/plan';
import type { Cluster } from '@wide-lattice/core/plan';
import { demoPlan } from '@wide-lattice/core/demo';
import { fieldColumn } from './entityColumns';
import { optionsOf, startText } from './fieldOptions';
import { formatMonth } from './formatMonth';
import { readPasted } from './sheetPaste';

const plan = demoPlan();
const column = (field: 'name' | 'nodesNow' | 'nodesHorizon' | 'podMode') =>
  fieldColumn(plan, 'clusters', field, (row: Cluster) => row, { width: '1rem' });
const columns = [
  column('name'),
  column('nodesNow'),
  column('nodesHorizon'),
  { ...column('podMode'), edit: () => undefined },
];
const rows = plan.clusters.slice(0, 3);
const [first, second] = rows as [Cluster, Cluster];

describe('what a paste is', () => {
  test('numbers fill the cells they are pasted on, and those that stay as they are are left alone', () => {
    const pasted = readPasted(`7\t${first.nodesHorizon}\n8\t90\n`, { columns, rows, column: 1 });
    expect(pasted).toEqual({
      kind: 'cells',
      cells: 4,
      operations: [
        setOperation('clusters', first.id, { nodesNow: 7 }),
        setOperation('clusters', second.id, { nodesNow: 8 }),
        setOperation('clusters', second.id, { nodesHorizon: 90 }),
      ],
    });
  });

  test('a heading line makes rows of it, by any mark', () => {
    for (const text of ['Name\tNodes now\nx\t3', 'name,nodes now\nx,3', 'name;nodesHorizon\nx;3'])
      expect(readPasted(text, { columns, rows, column: 0 })).toEqual({ kind: 'rows', text });
  });

  test('more lines than rows become rows with the headings of where they were pasted', () => {
    const pasted = readPasted('1\n2\n3\n4', { columns, rows, column: 1 });
    expect(pasted).toEqual({ kind: 'rows', text: 'nodesNow\n1\n2\n3\n4' });
  });

  test('what has no place is refused with the reason', () => {
    expect(readPasted('1\t2\t3\t4', { columns, rows, column: 2 })).toMatchObject({
      kind: 'refused',
      reason: expect.stringContaining('only 2 are there') as string,
    });
    expect(readPasted('1\toverlay', { columns, rows, column: 2 })).toMatchObject({
      kind: 'refused',
      reason: 'Pod network cannot be edited in the sheet.',
    });
  });
});

describe('cells', () => {
  test('a cell stores by one operation on its own entity', () => {
    const edit = column('nodesNow').edit?.(first);
    expect(edit).toMatchObject({ text: String(first.nodesNow), title: `Nodes now of ${first.name}` });
    expect(edit?.change('9')).toEqual({ ok: true, value: setOperation('clusters', first.id, { nodesNow: 9 }) });
    expect(byId(plan.clusters, first.id)).toBe(first);
  });

  test('a name that nothing has is refused where it is typed', () => {
    const site = fieldColumn(plan, 'clusters', 'siteId', (row: Cluster) => row, { width: '1rem' });
    expect(site.edit?.(first)?.change('nowhere')).toMatchObject({ ok: false, problem: { code: 'reference.unknown' } });
    expect(readPasted('nowhere\nnowhere', { columns: [site], rows, column: 0 })).toMatchObject({ kind: 'refused' });
  });

  test('choices hold the texts that are read back', () => {
    expect(optionsOf(plan, fieldRules.clusters.siteId)).toHaveLength(plan.sites.length);
    expect(optionsOf(plan, fieldRules.pools.siteId)?.[0]).toEqual({ value: '', label: 'any' });
    expect(optionsOf(plan, fieldRules.clusters.name)).toBeUndefined();
    expect(startText(plan, fieldRules.clusters.podMode, 'native')).toBe('native');
    expect(startText(plan, fieldRules.sites.kind, undefined)).toBe('region');
  });
});

test('months as people say them', () => {
  expect([-1, 0, 45, 600, 601].map(formatMonth)).toEqual(['never', 'now', 'month 45', 'month 600', 'beyond 50 years']);
});
