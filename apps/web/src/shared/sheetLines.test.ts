import { actOfKey, linesOf, rowsFrom } from './sheetLines';

const rows = ['ab', 'cd', 'ae', 'f'];
const lines = linesOf(rows, (row) => row.slice(0, 1));
const pressed = (key: string, more: object = {}) => ({
  key,
  isCommand: false,
  isAlt: false,
  isShift: false,
  canEdit: true,
  canRemove: true,
  hasMarks: false,
  ...more,
});
const at = (line: number, column = 0) => ({ line, column, columns: 3 });

test('groups come in the order they are first met, each with its rows in order', () => {
  expect(lines).toEqual([
    { kind: 'group', name: 'a', count: 2 },
    { kind: 'row', row: 'ab' },
    { kind: 'row', row: 'ae' },
    { kind: 'group', name: 'c', count: 1 },
    { kind: 'row', row: 'cd' },
    { kind: 'group', name: 'f', count: 1 },
    { kind: 'row', row: 'f' },
  ]);
  expect(linesOf(rows).map((line) => line.kind)).toEqual(['row', 'row', 'row', 'row']);
  expect(rowsFrom(lines, 2)).toEqual(['ae', 'cd', 'f']);
});

test('groups named like numbers or like parts of an object keep their rows', () => {
  const odd = linesOf(['10', '2', '__proto__', 'constructor'], (row) => row);
  expect(odd.filter(({ kind }) => kind === 'row')).toHaveLength(4);
  expect(odd.filter(({ kind }) => kind === 'group')).toHaveLength(4);
});

test.each([
  ['ArrowDown', 2, { line: 4, column: 0 }],
  ['ArrowUp', 1, { line: 1, column: 0 }],
  ['ArrowUp', 4, { line: 2, column: 0 }],
  ['ArrowDown', 6, { line: 6, column: 0 }],
  ['ArrowLeft', 1, { line: 1, column: 0 }],
  ['ArrowRight', 1, { line: 1, column: 1 }],
])('%s from line %d passes headings and stops at the ends', (key, line, target) => {
  expect(actOfKey(pressed(key), lines, at(line))).toEqual({ act: 'go', isMarking: false, ...target });
});

test('the last column is the end to the right', () =>
  expect(actOfKey(pressed('ArrowRight'), lines, at(1, 2))).toMatchObject({ column: 2 }));

test.each<[string, object, object | undefined]>([
  ['ArrowDown', { isShift: true }, { act: 'go', line: 2, column: 0, isMarking: true }],
  ['ArrowRight', { isShift: true }, { act: 'go', line: 1, column: 1, isMarking: false }],
  ['a', { isCommand: true }, { act: 'mark all' }],
  ['a', {}, { act: 'edit', typed: 'a' }],
  ['7', {}, { act: 'edit', typed: '7' }],
  ['Enter', {}, { act: 'edit', typed: undefined }],
  ['F2', {}, { act: 'edit', typed: undefined }],
  ['Enter', { canEdit: false }, { act: 'open' }],
  ['7', { canEdit: false }, undefined],
  ['c', { isCommand: true }, undefined],
  ['ß', { isAlt: true }, undefined],
  [' ', {}, { act: 'select' }],
  ['Delete', {}, { act: 'remove' }],
  ['Delete', { canRemove: false }, undefined],
  ['Escape', {}, undefined],
  ['Escape', { hasMarks: true }, { act: 'unmark' }],
  ['Tab', {}, undefined],
])('%s with %j', (key, more, act) => expect(actOfKey(pressed(key, more), lines, at(1))).toEqual(act));
