import type { ShownTarget } from '../worker/slices/ingressSlices';
import { ONE_NODE, ONE_POD, readLoad, scenarioOf, writeLoad } from './settings';

const target: ShownTarget & { readonly ok: true } = {
  ok: true,
  groups: [
    { cluster: 'c', rank: 1, name: 'web/a', replicas: 6, share: 1, serviceMs: 10, isAssumed: false, concurrency: 2 },
  ],
  zones: ['a', 'b', 'c'],
  clusters: { c: ['a of here', 'b of here', 'c of here'] },
  nodes: { c: 3 },
  via: [],
  mostMembers: undefined,
  limit: undefined,
  unanswered: 0.25,
  planned: {},
};

test('the address holds what differs from the usual alone, and reads back', () => {
  const usual = readLoad('');
  expect(writeLoad(usual)).toBe('');
  const other = { ...usual, rate: '900', lost: 'b', kind: 'ramp' as const };
  expect(new URLSearchParams(writeLoad(other)).get('rate')).toBe('900');
  expect(readLoad(writeLoad(other))).toEqual(other);
});

test('a lost zone, one pod, and pods that come later are events of the scenario', () => {
  const usual = readLoad('');
  expect(scenarioOf(usual, target)).toMatchObject({ events: [], startWith: 6, members: { length: 6 } });
  expect(scenarioOf({ ...usual, lost: 'b', lostAt: '100' }, target).events).toEqual([
    { at: 100, kind: 'lose', what: 'zone', name: 'b' },
  ]);
  expect(scenarioOf({ ...usual, lost: ONE_POD }, target).events).toMatchObject([{ what: 'member', name: 'web/a 1' }]);
  const later = scenarioOf({ ...usual, startWith: '50', allAt: '60' }, target);
  expect([later.startWith, later.events]).toEqual([3, [{ at: 60, kind: 'scale', members: 6 }]]);
  // Where several clusters answer, a whole one can be lost; the next rank takes over.
  const two = {
    ...target,
    groups: [...target.groups, { ...target.groups[0]!, cluster: 'd', rank: 2, name: 'd: web/a' }],
    clusters: { c: ['a of here'], d: ['a of there'] },
  };
  const lost = scenarioOf({ ...usual, lost: 'd' }, two);
  expect(lost.events).toMatchObject([{ what: 'cluster', name: 'd' }]);
  expect(lost.members.map(({ cluster, rank, zone }) => `${cluster ?? ''} ${rank ?? 0} ${zone}`)).toContain(
    'd 2 a of there',
  );
  // Those that run at first stand in different zones.
  expect(new Set(later.members.slice(0, 3).map(({ zone }) => zone)).size).toBeGreaterThan(1);
});

test('a recorded series is read with any marks between', () => {
  expect(scenarioOf({ ...readLoad(''), kind: 'series', series: '10, 20;30\n40' }, target).arrivals.series).toEqual([
    10, 20, 30, 40,
  ]);
});

test('an empty time-out is none', () => {
  expect(scenarioOf({ ...readLoad(''), timeout: '' }, target).timeoutMs).toBeUndefined();
});

test('what the plan says of time-out, retries and balancing stands until something else is typed', () => {
  const planned = { method: 'hash of the client', timeout: '800', retries: '2' } as const;
  const read = readLoad('retries=0', planned);
  expect(read).toMatchObject({ method: 'hash of the client', timeout: '800', retries: '0' });
  expect(writeLoad(read, planned)).toBe('retries=0');
  expect(scenarioOf(read, target)).toMatchObject({ timeoutMs: 800, retries: 0, lostCalls: 'hang', unanswered: 0.25 });
});

test('a lost node is the one with the most pods; those that come with the load stand behind those at the start', () => {
  const usual = readLoad('');
  const lost = scenarioOf({ ...usual, lost: ONE_NODE }, { ...target, nodes: { c: 6 } });
  const [event] = lost.events;
  expect(event).toMatchObject({ kind: 'lose', what: 'node' });
  // Six pods on six nodes in three zones: one pod on each.
  expect(lost.members.filter(({ node }) => event?.kind === 'lose' && node === event.name)).toHaveLength(1);
  const scaled = scenarioOf({ ...usual, scaling: 'by load', scaleUpTo: '150', startWith: '50' }, target);
  expect([scaled.startWith, scaled.members.length, scaled.events]).toEqual([3, 9, []]);
  expect(scaled.scaling).toEqual({ target: 0.7, startSeconds: 30 });
  expect(scaled.members.slice(0, 3).map(({ name }) => name)).toEqual(['web/a 1', 'web/a 2', 'web/a 3']);
  expect(scenarioOf(usual, target).scaling).toBeUndefined();
});
