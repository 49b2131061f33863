import { importRows } from '@wide-lattice/core/exchange';
import { emptyPlan, kinds, rulesOf } from '@wide-lattice/core/plan';
import { kindsAt, kindViews } from './kindViews';

test.each(kinds)('the import example of %s has the labels of its fields as headings', (kind) => {
  const { columns } = importRows(emptyPlan(), kind, kindViews[kind].example);
  const labels = columns.map(({ field }) => rulesOf(kind)[field ?? '']?.label.toLowerCase());
  expect(columns.map(({ heading }) => heading.toLowerCase())).toEqual(labels);
});

test('every kind is at one stop', () => {
  const placed = (
    ['ground', 'demand', 'ranges', 'pod-network', 'egress', 'ingress', 'dns', 'cross-cluster', 'rehearsal'] as const
  ).flatMap(kindsAt);
  expect([...placed].sort()).toEqual([...kinds].sort());
});
