import { demoPlan } from '@wide-lattice/core/demo';
import { evaluate } from '@wide-lattice/core/evaluation';
import { applyOperations, newId } from '@wide-lattice/core/plan';
import type { Cluster } from '@wide-lattice/core/plan';
import { clusterSheet } from '../worker/slices/clusterSheet';
import { isDraft, noDraft, placeKey, readDraft, formatDraft, formatPlace, withField, withRange } from './clusterDraft';
import type { Draft, Place } from './clusterDraft';

const plan = demoPlan();
const cluster = plan.clusters.find(({ name }) => name === 'tide-models') as Cluster;
const stored = clusterSheet(evaluate(plan), cluster.id)?.needs ?? [];
const id = newId();
const read = (draft: Draft) => readDraft({ plan, cluster, stored, draft, idOf: () => id });
const pod: Place = { purpose: 'pod', zone: '', family: 'IPv4', turn: 1 };

test('what is typed is a draft until it is back at what is stored', () => {
  const typed = withField(noDraft, 'nodesNow', '50', '40');
  expect([isDraft(noDraft), isDraft(typed), isDraft(withField(typed, 'nodesNow', '40', '40'))]).toEqual([
    false,
    true,
    false,
  ]);
  const ranged = withRange(typed, pod, '10.0.0.0/16', '');
  expect(formatDraft(ranged)).toBe('Nodes now, pod range');
  expect(withRange(ranged, pod, '', '')).toEqual(typed);
});

test('fields and ranges become one change; what cannot be read is named at its place, and the rest still counts', () => {
  let draft = withField(noDraft, 'nodesNow', '1 200', '');
  draft = withField(draft, 'podsPerNode', 'many', '');
  draft = withField(draft, 'siteId', 'nowhere', '');
  draft = withRange(draft, pod, '10.28.0.1/19', '');
  const { operations, problems } = read(draft);
  expect(operations).toEqual([{ op: 'set', kind: 'clusters', id: cluster.id, fields: { nodesNow: 1200 } }]);
  expect(problems.get('podsPerNode')).toContain('"many" is not a whole number');
  expect(problems.get('siteId')).toContain('There is no site "nowhere"');
  expect(problems.get(placeKey(pod))).toContain('Write 10.28.0.0/19.');
});

test('a range is set where there is one, added where there is none, removed where it is emptied', () => {
  const held = stored.find(({ purpose, family }) => purpose === 'pod' && family === 'IPv4')?.allocation;
  expect(held).toBeDefined();
  expect(read(withRange(noDraft, pod, '10.28.0.0/18', '')).operations).toEqual([
    { op: 'set', kind: 'allocations', id: held?.id, fields: { prefix: '10.28.0.0/18' } },
  ]);
  expect(read(withRange(noDraft, pod, ' ', 'x')).operations).toEqual([
    { op: 'remove', kind: 'allocations', id: held?.id },
  ]);
  const elsewhere: Place = { purpose: 'entry', zone: '', family: 'IPv4', turn: 1 };
  expect(read(withRange(noDraft, elsewhere, '10.99.0.0/28', '')).operations).toMatchObject([
    { op: 'add', entity: { id, clusterId: cluster.id, purpose: 'entry', prefix: '10.99.0.0/28' } },
  ]);
  expect(read(withRange(noDraft, elsewhere, '', 'x')).problems.get(placeKey(elsewhere))).toBe('Type a prefix.');
});

test('a zone with a space in its name keeps its range, and another family is refused', () => {
  const place: Place = { purpose: 'node', zone: 'zone a', family: 'IPv4', turn: 1 };
  const { operations } = read(withRange(noDraft, place, '10.99.0.0/24', ''));
  expect(operations).toMatchObject([{ op: 'add', entity: { purpose: 'node', zone: 'zone a' } }]);
  expect(applyOperations(plan, operations)).toMatchObject({ ok: true });
  expect(formatPlace(place)).toBe('node range zone a IPv4');
  expect(read(withRange(noDraft, place, 'fd00::/64', '')).problems.get(placeKey(place))).toContain(
    'an IPv4 range is needed here',
  );
});
