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
  ['51 levels of lists', `${'['.repeat(51)}${']'.repeat(51)}`, 1, 'more than 50 levels'],
  ['10,000 levels, more than the stack holds', `${'['.repeat(10_000)}${']'.repeat(10_000)}`, 1, 'more than 50 levels'],
])('refuses %s', (_, text, line, message) => {
  const read = parseYaml(text);
  expect(read).toMatchObject({ ok: false, line });
  if (!read.ok) expect(read.message).toContain(message);
});

test('takes 50 levels, and brackets in plain text are no levels', () => {
  expect(parseYaml(`${'['.repeat(50)}${']'.repeat(50)}`).ok).toBe(true);
  const notes = Array.from({ length: 200 }, (_, i) => `note${i}: text with [ and {`).join('\n');
  expect(parseYaml(notes).ok).toBe(true);
});
