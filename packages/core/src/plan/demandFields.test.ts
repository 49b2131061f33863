import { add, applied, cluster, ground, testId } from '../../test/worlds.js';
import {
  applyOperations,
  checkField,
  fieldRules,
  readFieldValue,
  setOperation,
  templateFields,
  writeFieldValue,
} from './index.js';
import type { NodePool, Template } from './index.js';

const pool = (fields: Partial<NodePool>) =>
  add('nodePools', {
    clusterId: testId('clusters', 1),
    name: 'p',
    nodesNow: 2,
    nodesMax: 4,
    nodesHorizon: 6,
    ...fields,
  });
const world = () => applied(ground(1), add('clusters', cluster('c')));
const problems = (operations: Parameters<typeof applyOperations>[1], plan = world()) => {
  const tried = applyOperations(plan, operations);
  return tried.ok
    ? []
    : tried.problems.map(({ code, field, fix }) => `${code} ${field}${fix === '' ? ' no mend' : ''}`);
};

test.each<[string, ReturnType<typeof add>, string]>([
  ['zero zones of a site', [setOperation('sites', testId('sites', 1), { zones: [] })], 'field.list-size zones'],
  [
    'zero zones of a cluster',
    [setOperation('clusters', testId('clusters', 1), { zoneCount: 0 })],
    'field.range zoneCount',
  ],
  ['max below min', pool({ nodesMin: 9 }), 'pool.bounds nodesMax'],
  ['now outside the bounds', pool({ nodesNow: 5 }), 'pool.now nodesNow'],
  ['surge over 100 %', pool({ surgePercent: 101 }), 'field.range surgePercent'],
  ['a zone that is not there', pool({ zones: ['z'] }), 'zone.missing zones'],
  ['a label of a wrong form', pool({ labels: ['a b'] }), 'field.list-item labels'],
  ['a taint without effect', pool({ taints: ['dedicated=edge'] }), 'field.list-item taints'],
  [
    'steps out of order',
    [setOperation('clusters', testId('clusters', 1), { growthSteps: ['9=5', '6=9'] })],
    'growth.order growthSteps',
  ],
  [
    'a step that is none',
    [setOperation('clusters', testId('clusters', 1), { growthSteps: ['soon=9'] })],
    'field.list-item growthSteps',
  ],
  [
    'more services of a kind than services',
    [setOperation('clusters', testId('clusters', 1), { headlessServices: 101 })],
    'services.kinds services',
  ],
  [
    'a price with no number',
    add('profiles', { name: 'x', subnetScope: 'zone', priceNat: 'dear' as unknown as number }),
    'field.number priceNat',
  ],
  ['a price below nothing', add('profiles', { name: 'x', subnetScope: 'zone', priceNat: -1 }), 'field.range priceNat'],
  [
    'growth without bounds',
    [setOperation('clusters', testId('clusters', 1), { growthPerYear: 1e9 })],
    'field.range growthPerYear',
  ],
  [
    'a day that is none',
    add('rebuilds', {
      clusterId: testId('clusters', 1),
      what: 'x',
      reason: 'y',
      decidedBy: 'z',
      decidedOn: '2026-02-30',
    }),
    'field.date decidedOn',
  ],
])('refused at the field with its mend: %s', (_, operations, problem) => {
  expect(problems(operations)).toContain(problem);
});

// From memory of the Kubernetes API's documentation on labels and taints.
test.each([
  ['label', 'tier', true],
  ['label', 'tier=', true],
  ['label', 'example.org/tier=edge-1', true],
  ['label', '-tier=edge', false],
  ['label', `${'a'.repeat(64)}=x`, false],
  ['label', `tier=${'a'.repeat(63)}`, true],
  ['taint', 'dedicated=edge:NoSchedule', true],
  ['taint', 'dedicated:NoExecute', true],
  ['taint', 'dedicated=edge:Never', false],
] as const)('%s "%s" is one: %s', (form, text, isGood) => {
  const rule = fieldRules.nodePools[form === 'label' ? 'labels' : 'taints'];
  expect(checkField(rule, [text]) === undefined).toBe(isGood);
});

test('two node pools of one cluster have different names; those of others may be alike', () => {
  const two = applied(world(), [...pool({})]);
  const again = { ...(two.nodePools[0] as NodePool), id: testId('nodePools', 2) };
  expect(problems([{ op: 'add', kind: 'nodePools', entity: again }], two)).toEqual(['name.taken name']);
  const other = applied(two, add('clusters', { ...cluster('d'), id: testId('clusters', 2) }));
  const there = { ...again, clusterId: testId('clusters', 2) };
  expect(problems([{ op: 'add', kind: 'nodePools', entity: there }], other)).toEqual([]);
});

describe('templates', () => {
  const templates = (...all: Partial<Template>[]) =>
    add('templates', ...all.map((fields, i) => ({ name: `t${i + 1}`, ...fields })));

  test('a template cannot follow itself, by any way; the message names the way', () => {
    const chain = applied(
      world(),
      templates({}, { basedOnId: testId('templates', 1) }, { basedOnId: testId('templates', 2) }),
    );
    const close = setOperation('templates', testId('templates', 1), { basedOnId: testId('templates', 3) });
    expect(problems([close], chain)).toEqual(['template.cycle basedOnId']);
    const tried = applyOperations(chain, [close]);
    expect(tried.ok ? '' : tried.problems[0]?.message).toContain('t1, based on t3, based on t2, based on t1');
    const itself = setOperation('templates', testId('templates', 2), { basedOnId: testId('templates', 2) });
    expect(problems([itself], chain)).toEqual(['template.cycle basedOnId']);
  });

  test.each([
    ['podMode=sideways', 'template.field sets'],
    ['colour=red', 'template.field sets'],
    ['nodesHorizon', 'template.field sets'],
    ['surgePercent=500', 'template.field sets'],
  ])('what it sets must be fields of clusters with good values: %s', (fix, problem) => {
    expect(problems(templates({ sets: [fix] }))).toEqual([problem]);
  });

  test('a field is set once', () =>
    expect(problems(templates({ sets: ['services=4', 'Services=5'] }))).toEqual(['template.field-twice sets']));

  test('every field that can be set is written and read back', () => {
    const sample = cluster('c', { podNeeds: ['reachable on-premises', 'encryption'], zoneCount: 2, mtuFloor: 1400 });
    for (const field of templateFields) {
      const value = sample[field];
      expect(readFieldValue(writeFieldValue(field, value))).toEqual({ ok: true, field, value });
    }
    expect(readFieldValue('Pods per node: 30')).toMatchObject({ field: 'podsPerNode', value: 30 });
  });
});
