import { positionAtEnd, positionBefore, positionInFront } from './index.js';

const rules = (...all: readonly (number | readonly [number, 'deny'])[]) =>
  all.map((each) =>
    typeof each === 'number'
      ? { position: each, action: 'allow' as const }
      : { position: each[0], action: 'deny' as const },
  );

test.each([
  ['an empty list', rules(), 1000],
  ['a list with room', rules(50, 60), 40],
  ['a list with little room', rules(4), 1],
  ['a list that begins at the first place', rules(1, 5), undefined],
])('in front of %s', (_, list, expected) => expect(positionInFront(list)).toBe(expected));

test.each([
  ['an empty list', rules(), 10],
  ['a list', rules(10, 30), 40],
  ['a list near the end of the numbers', rules(99_995), 100_000],
  ['allowing rules at the end of the numbers', rules(99_999, 100_000), 99_998],
  ['a rule that denies at the end: nothing that allows comes behind it', rules([100_000, 'deny']), undefined],
  ['a rule that denies further up', rules([99_997, 'deny'], 99_999, 100_000), 99_998],
  ['no place between the denying one and the end', rules([99_999, 'deny'], 100_000), undefined],
])('behind %s', (_, list, expected) => expect(positionAtEnd(list)).toBe(expected));

test.each([
  [rules(10, 20), 20, 19],
  [rules(19, 20), 20, 18],
  [rules(1, 2), 2, undefined],
])('just before one of %j', (list, position, expected) => expect(positionBefore(list, { position })).toBe(expected));
