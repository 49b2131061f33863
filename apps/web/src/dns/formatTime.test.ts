import { formatTime } from './formatTime';

test.each([
  [0, '0 s'],
  [90, '90 s'],
  [600, '10 min'],
  [5400, '90 min'],
  [86_400, '24 h'],
  [86_460, '24 h'],
  [172_800, '2 d'],
  [-300, '-5 min'],
  [Infinity, 'until restarted'],
])('%p seconds are %p', (seconds, said) => {
  expect(formatTime(seconds)).toBe(said);
});
