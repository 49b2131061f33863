import { scoreOf, sensitivityOf, winnerOf } from './index.js';
import type { Option } from './index.js';

const criteria = [
  { id: 'near', label: 'Near' },
  { id: 'cheap', label: 'Cheap' },
] as const;
type C = (typeof criteria)[number]['id'];
const option = (near: number, cheap: number, excluded: readonly string[] = []): Option<C> => ({
  excluded,
  scores: { near, cheap },
});

test('a score is the weighted mean of a hundred, with every part of it in the working', () => {
  // (3 × 0.5 + 1 × 1) ÷ 4 = 0.625.
  const score = scoreOf(criteria, { near: 0.5, cheap: 1 }, { near: 3, cheap: 1 }, 'one', 'near is a judgement');
  expect(score.value).toBe(62.5);
  expect(score.explain().steps).toEqual(['Near: 3 × 0.50 = 1.50', 'Cheap: 1 × 1.00 = 1.00']);
  expect(scoreOf(criteria, { near: 1, cheap: 1 }, { near: 0, cheap: 0 }, 'one', '').value).toBe(0);
});

test('the best that can be wins, the first of equal ones, and nobody when none can', () => {
  const [near, cheap, both] = [option(1, 0), option(0, 1), option(1, 1, ['It cannot.'])];
  expect(winnerOf(criteria, [near, cheap, both], { near: 2, cheap: 1 })).toBe(near);
  expect(winnerOf(criteria, [near, cheap, both], { near: 1, cheap: 2 })).toBe(cheap);
  expect(winnerOf(criteria, [cheap, near], { near: 1, cheap: 1 })).toBe(cheap);
  expect(winnerOf(criteria, [both], { near: 1, cheap: 1 })).toBeUndefined();
});

test('the nearest weight that turns the winner is found on either side, or there is none', () => {
  const [near, cheap] = [option(1, 0), option(0, 1)];
  // Near wins by 6 to 3 until its weight is below 3; at 3 both are alike, and the first stays.
  expect(sensitivityOf(criteria, [near, cheap], { near: 6, cheap: 3 }, 'near')).toEqual({
    criterion: 'near',
    weight: 6,
    turnsAt: 2,
    winner: cheap,
  });
  expect(sensitivityOf(criteria, [near, cheap], { near: 6, cheap: 3 }, 'cheap')).toMatchObject({
    turnsAt: 7,
    winner: cheap,
  });
  expect(sensitivityOf(criteria, [option(1, 1), option(0, 0)], { near: 5, cheap: 5 }, 'near').turnsAt).toBeUndefined();
});
