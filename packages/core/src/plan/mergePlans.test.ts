import fc from 'fast-check';
import { anyWorld, applied } from '../../test/worlds.js';
import { demoPlan } from '../demo/index.js';
import { addOperation, mergePlans, newId, removalOf, setOperation } from './index.js';
import type { Plan } from './index.js';

const base = demoPlan();
const cluster = (name: string) => base.clusters.find((each) => each.name === name);
const [north, timetable] = [cluster('booking-north'), cluster('timetable')];
const set = (id: string | undefined, fields: Partial<Plan['clusters'][number]>): Plan =>
  applied(base, [setOperation('clusters', id ?? '', fields)]);

test('what only one side changed is taken; of two sides that did the same nothing is left', () => {
  fc.assert(
    fc.property(anyWorld, anyWorld, (one, other) => {
      expect(mergePlans(one, other, one)).toEqual({ ok: true, plan: other });
      expect(mergePlans(one, one, other)).toEqual({ ok: true, plan: other });
      expect(mergePlans(one, other, other)).toEqual({ ok: true, plan: other });
    }),
    { numRuns: 60 },
  );
});

test('other rows, and other fields of one row, are brought together', () => {
  const ours = set(north?.id, { nodesNow: 50 });
  for (const theirs of [set(timetable?.id, { nodesNow: 12 }), set(north?.id, { surgePercent: 40 })]) {
    const merged = mergePlans(base, ours, theirs);
    if (!merged.ok) throw new Error('clashes');
    const now = merged.plan.clusters.find(({ id }) => id === north?.id);
    expect(now?.nodesNow).toBe(50);
    expect(mergePlans(base, theirs, ours)).toEqual(merged);
  }
});

test('a field that both set otherwise, and a row that one removed and the other changed, are clashes', () => {
  expect(mergePlans(base, set(north?.id, { nodesNow: 50 }), set(north?.id, { nodesNow: 51 }))).toMatchObject({
    ok: false,
    clashes: [{ kind: 'clusters', id: north?.id, field: 'nodesNow', began: north?.nodesNow, theirs: 51, mine: 50 }],
  });
  const expectation = base.expectations[0];
  const gone = applied(base, removalOf(base, 'expectations', expectation?.id ?? ''));
  const changed = applied(base, [setOperation('expectations', expectation?.id ?? '', { note: 'kept' })]);
  for (const [one, other] of [
    [gone, changed],
    [changed, gone],
  ] as const)
    expect(mergePlans(base, one, other)).toMatchObject({ ok: false, clashes: [{ id: expectation?.id }] });
  expect(mergePlans(base, gone, gone)).toEqual({ ok: true, plan: gone });
});

test('what breaks a rule only together is told with its place', () => {
  // Two sites of one name: each side may add one.
  const [site] = base.sites;
  if (site === undefined) throw new Error('no site');
  const withSite = () => applied(base, [addOperation('sites', { ...site, id: newId(), name: 'Twice' })]);
  const merged = mergePlans(base, withSite(), withSite());
  expect(merged).toMatchObject({ ok: false, clashes: [] });
  expect(merged.ok ? '' : merged.problems[0]?.message).toContain('Twice');
});
