import { standingChanges } from './standingChanges.js';

const run = (...reverts: (number | null)[]) =>
  standingChanges(reverts.map((r, i) => ({ revision: i + 1, reverts: r }))).map(({ revision }) => revision);

test.each<[string, (number | null)[], number[]]>([
  ['plain edits stand', [null, null], [1, 2]],
  ['an edit and its undo cancel out', [null, 1], []],
  ['a redo brings the edit back', [null, 1, 2], [1]],
  ['an undo of something older stands', [null, -5], [1, 2]],
  ['undo, redo, undo', [null, 1, 2, 1], []],
])('%s', (_, reverts, expected) => expect(run(...reverts)).toEqual(expected));
