import { evaluate, prefixSize, rangeOf, saySize } from '@wide-lattice/core';
import { demoPlan } from '@wide-lattice/core/demo';
import { boardRows } from './board';
import { clusterSheet } from './clusterSheet';
import { poolRows } from './pools';
import { rangeRows } from './ranges';
import { reachRows } from './reach';
import { ribbonView } from './ribbon';

const evaluation = evaluate(demoPlan());
const { plan } = evaluation;

test('the board has a row a cluster, and its marks are the findings', () => {
  const rows = boardRows(evaluation);
  expect(rows).toHaveLength(plan.clusters.length);
  const north = rows.find(({ name }) => name === 'booking-north');
  expect(north).toMatchObject({
    isBuilt: true,
    findings: { error: 1 },
    ranges: { node: { verdict: 'conflict' }, pod: { verdict: 'clear' } },
  });
  expect(rows.find(({ name }) => name === 'tide-models')).toMatchObject({
    first: { name: 'Pod range', month: 0 },
    ranges: { pod: { tooSmall: 1 } },
  });
  expect(rows.find(({ name }) => name === 'shared-services')?.ranges.pod.verdict).toBe('planned conflict');
  expect(rows.find(({ name }) => name === 'weather-models')?.ranges.pod).toMatchObject({ prefixes: [], missing: 2 });
});

test('everything that leaves the worker can be copied', () => {
  const id = plan.clusters[0]?.id ?? '';
  for (const slice of [
    boardRows(evaluation),
    clusterSheet(evaluation, id),
    poolRows(evaluation),
    rangeRows(evaluation),
    reachRows(evaluation),
    ribbonView(evaluation, '10.16.0.0/12'),
    evaluation.findings(),
  ]) {
    expect(slice).toBeDefined();
    expect(structuredClone(slice)).toEqual(slice);
  }
  expect(clusterSheet(evaluation, 'none')).toBeUndefined();
});

test('pools: taken and free add up', () => {
  for (const row of poolRows(evaluation)) {
    if (rangeOf(row.pool).family === 6) continue;
    const free = Number(row.free.replaceAll(',', ''));
    expect(1 - free / Number(prefixSize(rangeOf(row.pool)))).toBeCloseTo(row.taken, 3);
  }
  expect(rangeRows(evaluation)).toHaveLength(plan.allocations.length);
});

test('reach names the link, planned ones too, and peering goes no further', () => {
  const rows = reachRows(evaluation);
  expect(rows.find(({ name }) => name === 'tide-lab')?.reaches).toEqual([
    { name: 'models', link: 'models-lab', kind: 'peering', isPlanned: false },
  ]);
  expect(rows.find(({ name }) => name === 'coaches')?.reaches).toMatchObject([{ name: 'basalt-lan', isPlanned: true }]);
});

describe('ribbon', () => {
  test('blocks lie to scale inside the view, narrow ones are gathered', () => {
    const view = ribbonView(evaluation, '10.16.0.0/12');
    const office = view?.elsewhere.find(({ prefix }) => prefix === '10.20.0.0/16');
    expect(office).toMatchObject({ start: 0.25, width: 0.0625 });
    for (const block of [...(view?.clusters ?? []), ...(view?.elsewhere ?? []), ...(view?.pools ?? [])]) {
      expect(block.start).toBeGreaterThanOrEqual(0);
      expect(block.start + block.width).toBeLessThanOrEqual(1.01);
    }
    expect(view?.clusters.some(({ what }) => what === 'several')).toBe(true);
  });

  test('closer, each range stands for itself with its verdict', () => {
    const view = ribbonView(evaluation, '10.23.96.0/24');
    expect(view?.clusters).toMatchObject([{ prefix: '10.23.96.0/25', width: 0.5, verdict: 'conflict', what: 'node' }]);
    expect(view?.elsewhere).toMatchObject([{ start: 0, width: 1 }]);
    expect(ribbonView(evaluation, 'no prefix')).toBeUndefined();
  });
});

test('sizes are said whole, or as a power of two when vast', () => {
  expect(saySize(4096n)).toBe('4,096');
  expect(saySize(1n << 64n)).toBe('2^64');
});
