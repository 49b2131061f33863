import fc from 'fast-check';
import { anyWorld, applied } from '../../test/worlds.js';
import { propose } from '../allocation/index.js';
import { demoPlan } from '../demo/index.js';
import { emptyPlan, operationsBetween, removalOf, setOperation } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { comparePlans } from './index.js';

test('the operations between two plans make the one of the other, and none are made for equal plans', () => {
  fc.assert(
    fc.property(anyWorld, anyWorld, (one, other) => {
      expect(applied(one, operationsBetween(one, other))).toEqual(other);
      expect(operationsBetween(one, structuredClone(one))).toEqual([]);
    }),
  );
  expect(applied(emptyPlan(), operationsBetween(emptyPlan(), demoPlan()))).toEqual(demoPlan());
});

test('ranges are told as added, removed, moved or resized, with the findings gained and lost', () => {
  const before = demoPlan();
  const tide = before.allocations.find(({ prefix }) => prefix === '10.28.0.0/19');
  const service = before.allocations.find(({ prefix }) => prefix === '10.96.0.0/12');
  const kiosk = before.clusters.find(({ name }) => name === 'kiosk-ardle');
  const vaila = before.clusters.find(({ name }) => name === 'kiosk-vaila');
  const after = applied(before, [
    setOperation('allocations', tide?.id ?? '', { prefix: '10.28.0.0/20' }),
    setOperation('allocations', service?.id ?? '', { prefix: '100.112.0.0/21' }),
    ...removalOf(before, 'clusters', kiosk?.id ?? ''),
    ...propose(before, { clusterIds: [vaila?.id ?? ''] }).operations,
  ]);
  const { ranges, others, gained, lost } = comparePlans(before, after);
  expect(ranges.filter(({ what }) => what === 'resized')).toMatchObject([
    { clusterName: 'tide-models', before: '10.28.0.0/19', after: '10.28.0.0/20' },
  ]);
  expect(ranges.filter(({ what }) => what === 'moved')).toMatchObject([
    { clusterName: 'harbour-ops', after: '100.112.0.0/21' },
  ]);
  expect(ranges.filter(({ what }) => what === 'removed').map(({ clusterName }) => clusterName)).toEqual([
    'kiosk-ardle',
    'kiosk-ardle',
    'kiosk-ardle',
  ]);
  expect(ranges.filter(({ what }) => what === 'added').map(({ clusterName }) => clusterName)).toEqual([
    'kiosk-vaila',
    'kiosk-vaila',
    'kiosk-vaila',
  ]);
  // With the cluster goes all that stands in it.
  expect(others).toEqual([
    'Removed cluster "kiosk-ardle"',
    'Removed workload "kiosk/tickets"',
    'Removed workload "kiosk/inside"',
    'Removed service "kiosk/tickets"',
    'Removed service "kiosk/clearing"',
    'Removed service "kiosk/inside"',
    'Removed controller "inside"',
    'Removed ingress route "kiosk/tickets 1"',
    'Removed member of a connection kiosk-ardle in tides',
    'Removed member of a connection kiosk-ardle in piers',
  ]);
  // The kiosk no longer overlaps tide-models by its connection, nor harbour-ops and coach-depots one another; harbour-ops now does tide-models.
  const overlaps = ['connection.overlap', 'connection.overlap', 'connection.overlap'];
  expect(lost.map(({ code }) => code).sort()).toEqual([
    ...overlaps,
    'need.unreached',
    'overlap.shadowed',
    'range.missing',
  ]);
  // What must or must not reach that cluster cannot be asked any more.
  expect(gained.map(({ code }) => code).sort()).toEqual(['connection.overlap', 'expectation.unreadable']);
  expect(
    comparePlans(after, before)
      .gained.map(({ code }) => code)
      .sort(),
  ).toEqual([...overlaps, 'need.unreached', 'overlap.shadowed', 'range.missing']);
});

test('what changed is told by its label, before and after, with names for what is referred to', () => {
  const before = demoPlan();
  const of = (name: string) => before.clusters.find((each) => each.name === name);
  const timetable = of('timetable');
  const nodesNow = (timetable?.nodesNow ?? 0) + 2;
  const after: Plan = {
    ...applied(before, [
      setOperation('clusters', timetable?.id ?? '', { nodesNow, baseDomain: 'tt.skerryline.example' }),
    ]),
    settings: { ...before.settings, horizonMonths: 24 },
  };
  const { others } = comparePlans(before, after);
  expect(others).toEqual([
    'Plan settings: Horizon 36 to 24',
    `Changed cluster "timetable": Base domain set to tt.skerryline.example; Nodes now ${nodesNow - 2} to ${nodesNow}`,
  ]);
  // The other way round it is told as gone.
  expect(comparePlans(after, before).others[1]).toContain('Base domain no longer tt.skerryline.example');
});
