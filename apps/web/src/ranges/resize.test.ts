import { resized, resizeOfDrag } from './resize';

describe('resizing on the ribbon', () => {
  test.each([
    ['10.0.1.0/24', 'grow', '10.0.0.0/23'],
    ['10.0.1.0/24', 'keepLower', '10.0.1.0/25'],
    ['10.0.1.0/24', 'keepUpper', '10.0.1.128/25'],
    ['0.0.0.0/0', 'grow', undefined],
    ['10.0.0.1/32', 'keepLower', undefined],
    ['nonsense', 'grow', undefined],
  ] as const)('%s %s', (text, how, expected) => expect(resized(text, how)).toBe(expected));

  test('an edge dragged outwards grows, inwards keeps the half that is farther away, a little does nothing', () => {
    expect([resizeOfDrag('right', 20, 14), resizeOfDrag('left', -20, 14)]).toEqual(['grow', 'grow']);
    expect([resizeOfDrag('right', -20, 14), resizeOfDrag('left', 20, 14)]).toEqual(['keepLower', 'keepUpper']);
    expect(resizeOfDrag('right', 13, 14)).toBeUndefined();
  });
});
