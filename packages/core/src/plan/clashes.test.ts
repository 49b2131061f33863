import fc from 'fast-check';
import { demoPlan } from '../demo/index.js';
import { applyOperations, clashesWith, isSameValue, removalOf, setOperation } from './index.js';
import type { Operation, Plan } from './index.js';

const demo = demoPlan();
const [a, b] = demo.networks as unknown as [{ id: string; note: string; mtu: number }, { id: string; note: string }];

/** Changes applied one after the other, and the plan after them. */
function after(...changes: readonly (readonly Operation[])[]) {
  let plan: Plan = demo;
  const later = changes.map((operations) => {
    const applied = applyOperations(plan, operations);
    if (!applied.ok) throw new Error(JSON.stringify(applied.problems));
    plan = applied.plan;
    return { operations, inverse: applied.inverse };
  });
  return { plan, later };
}
const set = (id: string, fields: object) => [setOperation('networks', id, fields)];
const clashes = (mine: readonly Operation[], ...changes: readonly (readonly Operation[])[]) => {
  const { plan, later } = after(...changes);
  return clashesWith(plan, mine, later).map(({ field, began, theirs, mine: sets }) => [field, began, theirs, sets]);
};

test('only a field that others set to something else is told, with what it was, is and would become', () => {
  const mine = set(a.id, { note: 'mine', mtu: 1400 });
  expect(clashes(mine)).toEqual([]);
  expect(clashes(mine, set(a.id, { note: 'theirs' }))).toEqual([['note', a.note, 'theirs', 'mine']]);
  expect(clashes(mine, set(b.id, { note: 'theirs' }))).toEqual([]);
  // Both want the same, or theirs went back to what it was.
  expect(clashes(mine, set(a.id, { note: 'mine' }))).toEqual([]);
  expect(clashes(mine, set(a.id, { note: 'theirs' }), set(a.id, { note: a.note }))).toEqual([]);
  expect(clashes(mine, set(a.id, { note: '1' }), set(a.id, { note: '2' }))).toEqual([['note', a.note, '2', 'mine']]);
});

test('one change that sets a field twice began from what stood before both', () => {
  const twice = [...set(a.id, { note: '1' }), ...set(a.id, { note: '2' })];
  expect(clashes(set(a.id, { note: 'mine' }), twice)).toEqual([['note', a.note, '2', 'mine']]);
});

test('a removal meets what others set, and what they removed meets an edit', () => {
  const run = demo.reservations[0] ?? demo.records[0];
  const kind = demo.reservations[0] === undefined ? 'records' : 'reservations';
  const id = run?.id ?? '';
  const field = kind === 'reservations' ? 'name' : 'name';
  const rename = [setOperation(kind, id, { [field]: 'other' })];
  const was = (run as unknown as Record<string, string>)[field];
  expect(clashes(removalOf(demo, kind, id), rename)).toEqual([[field, was, 'other', null]]);
  expect(clashes(rename, removalOf(demo, kind, id))).toEqual([[null, null, null, null]]);
  // Removed and put back as it was: nothing is overwritten.
  const entity = { op: 'add', kind, entity: run } as unknown as Operation;
  expect(clashes(rename, removalOf(demo, kind, id), [entity])).toEqual([]);
});

test('the plan’s own fields are compared alike', () => {
  const settings = (fields: object): Operation[] => [{ op: 'set', kind: 'settings', fields }];
  expect(clashes(settings({ name: 'mine' }), settings({ name: 'theirs' }))).toEqual([
    ['name', demo.settings.name, 'theirs', 'mine'],
  ]);
  expect(clashes(settings({ note: 'mine' }), settings({ name: 'theirs' }))).toEqual([]);
});

test('whatever others did, no value that they left is overwritten unseen, and nothing else is told', () => {
  const value = fc.constantFrom('', 'x', 'y', a.note, b.note);
  const edit = fc
    .record({
      id: fc.constantFrom(a.id, b.id),
      fields: fc.record({ note: value, mtu: fc.constantFrom(1400, 1500, 9000) }, { requiredKeys: [] }),
    })
    .filter(({ fields }) => Object.keys(fields).length > 0);
  const change = fc.array(edit, { minLength: 1, maxLength: 3 });
  fc.assert(
    fc.property(change, fc.array(change, { maxLength: 4 }), (mine, theirs) => {
      const asOperations = (edits: typeof mine) => edits.map(({ id, fields }) => setOperation('networks', id, fields));
      const { plan, later } = after(...theirs.map(asOperations));
      const found = clashesWith(plan, asOperations(mine), later);
      // The slow way: each field of each edit, looked up in the plan before and after.
      const valueIn = (of: Plan, id: string, field: string) =>
        (of.networks.find((each) => each.id === id) as unknown as Record<string, unknown>)[field];
      const expected = mine.flatMap(({ id, fields }) =>
        Object.entries(fields)
          .filter(
            ([field, sets]) =>
              !isSameValue(valueIn(plan, id, field), valueIn(demo, id, field)) &&
              !isSameValue(valueIn(plan, id, field), sets),
          )
          .map(([field, sets]) => `${id} ${field} ${String(sets)}`),
      );
      expect(found.map((each) => `${each.id} ${each.field} ${String(each.mine)}`).sort()).toEqual(expected.sort());
    }),
  );
});
