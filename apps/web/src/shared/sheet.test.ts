import { byId, fieldRules, setOperation } from '@wide-lattice/core';
import type { Cluster, FieldRule } from '@wide-lattice/core';
import { demoPlan } from '@wide-lattice/core/demo';
import { fieldColumn, nameOf, optionsOf, readValue, sayValue, textOf } from './entityColumns';
import type { FieldValue } from './entityColumns';
import { sayMonth } from './sayMonth';
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
    expect(readPasted('1\t2\t3\t4', { columns, rows, column: 2 })).toMatchObject({ kind: 'refused', reason: expect.stringContaining('only 2 are there') as string });
    expect(readPasted('1\toverlay', { columns, rows, column: 2 })).toMatchObject({ kind: 'refused', reason: 'Pod network cannot be edited in the sheet.' });
  }); // prettier-ignore
});

describe('values and texts', () => {
  test('every field of every entity of the demo is read back from its text as it was', () => {
    let seen = 0;
    for (const [kind, rules] of Object.entries(fieldRules)) {
      for (const entity of plan[kind as keyof typeof fieldRules]) {
        for (const [field, rule] of Object.entries(rules as Record<string, FieldRule>)) {
          const value = (entity as unknown as Record<string, FieldValue>)[field] as FieldValue;
          seen++;
          expect(readValue(plan, rule, textOf(plan, rule, value))).toEqual(value);
        }
      }
    }
    expect(seen).toBeGreaterThan(1000);
  });

  test.each([
    [fieldRules.clusters.nodesNow, '1,200', 1200],
    [fieldRules.clusters.nodesNow, '-3', -3],
    [fieldRules.clusters.nodesNow, 'many', 'many'],
    [fieldRules.profiles.smallestSubnet, '/28', 28],
    [fieldRules.clusters.perNodeLength, '', null],
    [fieldRules.shapes.price, '1,118.40', 1118.4],
    [fieldRules.sites.latitude, '', null],
    [fieldRules.clusters.isBuilt, 'perhaps', 'perhaps'],
    [fieldRules.attachments.advertises, '10.0.0.0/8; 10.1.0.0/16', ['10.0.0.0/8', '10.1.0.0/16']],
    [fieldRules.pools.siteId, '', null],
    [fieldRules.links.networkIds, 'nowhere', ['no network "nowhere"']],
  ])('%#: "%s"', (rule, text, value) => expect(readValue(plan, rule, text)).toEqual(value));

  test('references go by name in any case, and are shown by it', () => {
    const rule = fieldRules.clusters.siteId;
    const site = plan.sites[0];
    expect(readValue(plan, rule, ' HALDEN north ')).toBe(site?.id);
    expect(sayValue(plan, rule, site?.id ?? '')).toBe('Halden north');
    expect(optionsOf(plan, rule)?.options).toHaveLength(plan.sites.length);
    expect(optionsOf(plan, fieldRules.pools.siteId)?.options?.[0]).toEqual({ value: '', label: 'any' });
    expect(optionsOf(plan, fieldRules.clusters.name)).toBeUndefined();
    const [attachment] = plan.attachments;
    expect(attachment === undefined ? '' : nameOf(plan, attachment)).toBe('basalt-lan on skerry-hub');
  });

  test('lengths are said as lengths, nothing as what it means', () => {
    expect(sayValue(plan, fieldRules.profiles.smallestSubnet, 28)).toBe('/28');
    expect(sayValue(plan, fieldRules.clusters.perNodeLength, null)).toBe('follows');
    expect(sayValue(plan, fieldRules.pools.siteId, null)).toBe('any');
    expect(sayValue(plan, fieldRules.sites.latitude, null)).toBe('');
    expect(sayValue(plan, fieldRules.clusters.nodesNow, 12_000)).toBe('12,000');
  });

  test('a cell stores by one operation on its own entity', () => {
    const edit = column('nodesNow').edit?.(first);
    expect(edit).toMatchObject({ text: String(first.nodesNow), title: `Nodes now of ${first.name}` });
    expect(edit?.operation('9')).toEqual(setOperation('clusters', first.id, { nodesNow: 9 }));
    expect(byId(plan.clusters, first.id)).toBe(first);
  });
});

test('months as people say them', () => {
  expect([-1, 0, 45, 600, 601].map(sayMonth)).toEqual(['never', 'now', 'month 45', 'month 600', 'beyond 50 years']);
});
