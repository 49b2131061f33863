import { parse, stringify } from 'yaml';
import fc from 'fast-check';
import { parseYaml } from './parseYaml.js';

test('what another reader of the same text makes of it: any plain content', () => {
  const value = fc.letrec((tie) => ({
    any: fc.oneof(
      { depthSize: 'small' },
      fc.string(),
      fc.integer(),
      fc.boolean(),
      fc.constant(null),
      tie('list'),
      tie('map'),
    ),
    list: fc.array(tie('any'), { maxLength: 4 }),
    map: fc.dictionary(fc.string({ minLength: 1 }), tie('any'), { maxKeys: 4 }),
  })).any;
  fc.assert(
    fc.property(value, (content) => {
      const text = stringify(content, { aliasDuplicateObjects: false });
      const read = parseYaml(text);
      expect(read.ok).toBe(true);
      if (read.ok) expect(read.document.toJS()).toEqual(parse(text));
    }),
    { numRuns: 200 },
  );
});

test.each([
  ['a key that is given twice, with its line', 'a: 1\nb: 2\na: 3', 3, 'the key "a" is given twice'],
  ['a key twice in a map inside a list', '- a: 1\n- b: 1\n  b: 2', 3, 'the key "b" is given twice'],
  ['an alias, which can unfold to far more', 'a: &x 1\nb: *x', 2, 'it uses aliases'],
  ['what is no YAML', 'a: [1', 1, ''],
  ['101 levels of lists', `${'['.repeat(101)}${']'.repeat(101)}`, 1, 'more than 100 levels'],
  [
    'maps that end the program when they are composed',
    `${'{"a":'.repeat(10_000)}1${'}'.repeat(10_000)}`,
    1,
    'more than 100 levels',
  ],
  ['lists by dashes alone', `${'- '.repeat(10_000)}x`, 1, 'more than 100 levels'],
  ['a second document', 'a: 1\n---\nb: 2', 2, 'several documents'],
  ['10,000 levels, more than the stack holds', `${'['.repeat(10_000)}${']'.repeat(10_000)}`, 1, 'more than 100 levels'],
])('refuses %s', (_, text, line, message) => {
  const read = parseYaml(text);
  expect(read).toMatchObject({ ok: false, line });
  if (!read.ok) expect(read.message).toContain(message);
});

test('takes 100 levels, and brackets in plain text are no levels', () => {
  expect(parseYaml(`${'['.repeat(100)}${']'.repeat(100)}`).ok).toBe(true);
  const notes = Array.from({ length: 200 }, (_, i) => `note${i}: text with [ and {`).join('\n');
  expect(parseYaml(notes).ok).toBe(true);
});

describe('aliases that are counted', () => {
  const unfolded = (text: string) => {
    const read = parseYaml(text, 'counted');
    return read.ok ? (read.document.toJS({ maxAliasCount: -1 }) as unknown) : read.message;
  };
  test('stand for what is written before them', () => {
    expect(unfolded('a: &a {b: 1}\nc: *a\nd: [*a, *a]')).toEqual({ a: { b: 1 }, c: { b: 1 }, d: [{ b: 1 }, { b: 1 }] });
  });
  test('an anchor that is set anew stands for its last value', () => {
    expect(unfolded('a: &a 1\nb: *a\nc: &a 2\nd: *a')).toEqual({ a: 1, b: 1, c: 2, d: 2 });
  });
  // Each of 100 is one copy; in a chain of n each alias unfolds to all before it: 13 of them to 91 copies, 14 to 105.
  test.each([
    ['100 of one anchor', `a: &a 1\nb: [${Array(100).fill('*a').join(', ')}]`, true],
    ['101 of one anchor', `a: &a 1\nb: [${Array(101).fill('*a').join(', ')}]`, false],
    ['a chain of 13', chainOf(13), true],
    ['a chain of 14', chainOf(14), false],
    ['a chain of 5,000', chainOf(5000), false],
  ])('%s', (_, text, isTaken) => {
    expect(parseYaml(text, 'counted').ok).toBe(isTaken);
    if (!isTaken) expect(unfolded(text)).toBe('its anchors unfold to more than 100 copies');
  });
  test('one that names itself, or nothing, is refused', () => {
    expect(unfolded('a: &a [*a]')).toContain('*a stands for nothing');
    expect(unfolded('a: *b')).toContain('b');
    expect(parseYaml('a: *b', 'counted').ok).toBe(false);
  });
});

function chainOf(count: number): string {
  return ['a0: &a0 x', ...Array.from({ length: count }, (_, i) => `a${i + 1}: &a${i + 1} [*a${i}]`)].join('\n');
}
