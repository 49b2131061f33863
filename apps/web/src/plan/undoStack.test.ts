import type { ChangeSummary } from './api';
import { undoState } from './undoStack';

const history = (...reverts: (number | null)[]): ChangeSummary[] =>
  reverts.map((r, i) => ({
    revision: i + 1,
    reverts: r,
    label: `change ${i + 1}`,
    author: 'a',
    clientId: 'me',
    operationCount: 1,
    createdAt: '',
  }));
const steps = (...reverts: (number | null)[]) => {
  const { undo, redo } = undoState(history(...reverts), 'me');
  return [undo?.revision, redo?.revision];
};

test.each<[string, (number | null)[], (number | undefined)[]]>([
  ['nothing yet', [], [undefined, undefined]],
  ['two edits', [null, null], [2, undefined]],
  ['an undo', [null, null, 2], [1, 3]],
  ['two undos', [null, null, 2, 1], [undefined, 4]],
  ['undo and redo', [null, null, 2, 3], [4, undefined]],
  ['a new edit after an undo drops the redo', [null, null, 2, null], [4, undefined]],
  ['an older edit taken back first', [null, null, null, 2], [3, 4]],
  ['a redo that another undo followed out of order', [null, null, null, 3, 4, 2], [5, 6]],
  ['a redo taken back again', [null, 1, 2, 3], [undefined, 4]],
  ['an undo of what stands before the history shown', [null, -5], [1, undefined]],
])('%s', (_, reverts, expected) => expect(steps(...reverts)).toEqual(expected));

test('what somebody else took back is no longer undone, and taking back theirs is an own edit', () => {
  const mixed = history(null, null, 2, 1).map((change, i) => ({ ...change, clientId: i === 2 ? 'other' : 'me' }));
  expect(undoState(mixed, 'me')).toMatchObject({ undo: undefined, redo: { revision: 4 } });
  const theirs = history(null, 1).map((change, i) => ({ ...change, clientId: i === 0 ? 'other' : 'me' }));
  expect(undoState(theirs, 'me').undo?.revision).toBe(2);
});

test('changes of others are left to them', () => {
  const mixed = history(null, null).map((change, i) => (i === 1 ? { ...change, clientId: 'other' } : change));
  expect(undoState(mixed, 'me').undo?.revision).toBe(1);
});
