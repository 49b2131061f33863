import { add, applied, ground, testId } from '../../test/worlds.js';
import { evaluate } from '../evaluation/index.js';
import type { DescribedFinding } from './index.js';

/** A public zone with these aliases, each leading to the name after the arrow. */
function found(...aliases: readonly (readonly [name: string, target: string])[]): DescribedFinding[] {
  const plan = applied(ground(), [
    ...add('zones', { name: 'one', apex: 'one.test', side: 'public', isDelegated: true }),
    ...add(
      'records',
      ...aliases.map(([name, target]) => ({
        zoneId: testId('zones', 1),
        name,
        type: 'CNAME' as const,
        value: target,
        target: 'elsewhere' as const,
      })),
    ),
  ]);
  return evaluate(plan)
    .findingsInWords()
    .filter(({ code }) => code.startsWith('record.chain'));
}

const chain = (length: number, end: string) =>
  Array.from({ length }, (_, i) => [`a${i}`, i === length - 1 ? end : `a${i + 1}.one.test`] as const);

test('seven aliases are followed, eight are told', () => {
  expect(found(...chain(7, 'www.else.example'))).toEqual([]);
  expect(found(...chain(8, 'www.else.example')).map(({ title }) => title)).toEqual([
    'one: a0.one.test is 8 aliases away from its address',
  ]);
});

test('of a chain of 5,000 every name that is too far is told, with the first names of its way', () => {
  const all = found(...chain(5000, 'www.else.example'));
  // The last seven are near enough.
  expect(all).toHaveLength(4993);
  const first = all.find(({ title }) => title.includes('a0.one.test'));
  expect(first?.title).toBe('one: a0.one.test is 5,000 aliases away from its address');
  expect(first?.detail).toContain('a10.one.test → a11.one.test and 4,989 more.');
});

test('who is in a loop, and who leads into one, is told; a loop of many names ends where it is long enough', () => {
  const small = found(['in', 'x.one.test'], ['x', 'y.one.test'], ['y', 'x.one.test']);
  expect(small.map(({ detail }) => detail.split('. ')[0]).sort()).toEqual([
    'in.one.test → x.one.test → y.one.test → x.one.test',
    'x.one.test → y.one.test → x.one.test',
    'y.one.test → x.one.test → y.one.test',
  ]);
  const large = found(...chain(3000, 'a0.one.test'));
  expect(large).toHaveLength(3000);
  expect(large[0]?.detail).toContain(' and on. Resolvers answer SERVFAIL.');
});
