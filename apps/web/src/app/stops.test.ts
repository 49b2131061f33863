import { kinds } from '@wide-lattice/core/plan';
import { kindsAt, kindViews, stopOf } from '../kinds/kindViews';
import { demoPlan } from '@wide-lattice/core/demo';
import { evaluate } from '@wide-lattice/core/evaluation';
import { finished } from '@wide-lattice/core/working';
import { SliceHost } from '../worker/sliceHost';
import { slices } from '../worker/slices';
import { stops, worstAt } from './stops';

test('every kind is at a stop that there is, shows fields of its own, and leads somewhere', () => {
  const plan = demoPlan();
  const paths = new Set<string>(stops.map(({ path }) => path));
  for (const kind of kinds) {
    const view = kindViews[kind];
    expect([kind, paths.has(view.stop)]).toEqual([kind, true]);
    expect(view.empty.length).toBeGreaterThan(20);
    expect(new Set(view.fields.map(({ field }) => field)).size).toBe(view.fields.length);
    const [entity] = plan[kind];
    for (const { field } of view.fields) expect(entity).toHaveProperty([field]);
    expect((view.link as (of: unknown) => string)(entity)).toMatch(/^[a-z]/);
  }
  const listed = (
    ['ground', 'demand', 'ranges', 'pod-network', 'egress', 'ingress', 'dns', 'cross-cluster', 'rehearsal'] as const
  ).flatMap(kindsAt);
  expect([...listed].sort()).toEqual([...kinds].sort());
});

test('a stop shows what is worst there, counted from the findings', () => {
  const evaluation = evaluate(demoPlan());
  const counts = finished(slices.findingCounts(new SliceHost(evaluation)));
  const errors = evaluation
    .findingsInWords()
    .filter(
      ({ severity, subjects }) => severity === 'error' && kindsAt('ranges').includes(subjects[0]?.kind ?? 'sites'),
    );
  expect(errors.length).toBeGreaterThan(0);
  expect(worstAt('ranges', counts)).toEqual({ severity: 'error', count: errors.length });
  expect(worstAt('demand', counts)?.severity).toBe('warning');
  expect(worstAt('handover', counts)).toBeUndefined();
  expect(counts.all.error + counts.all.warning + counts.all.note).toBe(evaluation.findingsInWords().length);
});

test('what is about a network or a cluster counts where it is mended', () => {
  expect(stopOf({ kind: 'networks', code: 'egress.none' })).toBe('egress');
  expect(stopOf({ kind: 'networks', code: 'route.past-firewall' })).toBe('egress');
  expect(stopOf({ kind: 'clusters', code: 'path.asymmetric' })).toBe('egress');
  expect(stopOf({ kind: 'networks', code: 'block.count' })).toBe('ground');
  expect(stopOf({ kind: 'clusters', code: 'limit.before-horizon' })).toBe('demand');
  expect(stopOf({ kind: 'reservations', code: 'address.taken' })).toBe(kindViews.reservations.stop);
  // A network without a way out is never told as nothing broken at Egress.
  const { byStop } = finished(slices.findingCounts(new SliceHost(evaluate(demoPlan()))));
  const told = evaluate(demoPlan())
    .findingsInWords()
    .filter(({ code, severity }) => severity === 'error' && code === 'route.past-firewall');
  expect(told.length).toBeGreaterThan(0);
  expect(byStop.egress?.error).toBeGreaterThan(told.length);
});
