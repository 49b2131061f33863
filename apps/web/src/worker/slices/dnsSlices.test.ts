import { demoPlan } from '@wide-lattice/core/demo';
import { evaluate } from '@wide-lattice/core/evaluation';
import { applyOperations, setOperation } from '@wide-lattice/core/plan';
import { finished } from '@wide-lattice/core/working';
import { SliceHost } from '../sliceHost';
import { dnsSlices } from './dnsSlices';

const host = new SliceHost(evaluate(demoPlan()));

test('vantages that get the same answers are one column, and one more name may part them', () => {
  const shown = finished(dnsSlices.vantages(host, ''));
  if (!shown.ok) throw new Error(shown.problem.message);
  const { vantages, rows } = shown.value;
  expect(vantages[0]?.label).toBe('internet');
  // The hub has no private zone attached: it gets what the internet gets.
  expect(vantages[0]?.alike).toContain('hub');
  for (const { answers } of rows) expect(answers).toHaveLength(vantages.length);
  const more = finished(dnsSlices.vantages(host, 'board.harbour.skerryline.example'));
  expect(more.ok && more.value.rows[0]).toMatchObject({ name: 'board.harbour.skerryline.example', differs: true });
  expect(finished(dnsSlices.vantages(host, 'a..b'))).toMatchObject({ ok: false, problem: { code: 'dns.label' } });
});

test('after an edit the table follows', () => {
  const plan = host.plan;
  const record = plan.records.find(({ name, value }) => name === 'tide' && value === '10.28.255.40');
  const applied = applyOperations(plan, [setOperation('records', record?.id ?? '', { value: '10.28.255.50' })]);
  if (!applied.ok) throw new Error('not applied');
  const shown = finished(dnsSlices.vantages(new SliceHost(evaluate(applied.plan, host.evaluation)), ''));
  const row = shown.ok ? shown.value.rows.find(({ name }) => name === 'tide.models.skerryline.example') : undefined;
  expect(row?.answers.some(({ text }) => text === '10.28.255.50')).toBe(true);
  expect(row?.answers.some(({ text }) => text === '10.28.255.40')).toBe(false);
});

test('a cut-over begins with all clients at the old address and ends with none of those that follow', () => {
  const { curves, last, done } = dnsSlices.cutOver(host, '203.0.113.80', 600);
  expect(last).toBeGreaterThan(done);
  for (const { points } of curves) {
    expect(points[0]).toEqual({ x: 0, y: 100 });
    expect(points.at(-1)?.y).toBeCloseTo(0, 6);
  }
});

test('a zone file with many faults tells the first of them and how many there are', () => {
  const zone = host.plan.zones[0]?.id ?? '';
  expect(dnsSlices.zoneImport(host, zone, '  ')).toBeUndefined();
  const read = dnsSlices.zoneImport(host, zone, 'x A 1.2.3\n'.repeat(500));
  expect([read?.problems.length, read?.faults]).toEqual([200, 500]);
  const own = dnsSlices.zoneImport(host, zone, dnsSlices.zoneText(host, zone));
  expect([own?.operations, own?.faults]).toEqual([[], 0]);
});
