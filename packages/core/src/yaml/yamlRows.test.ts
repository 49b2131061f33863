import fc from 'fast-check';
import { parse, stringify } from 'yaml';
import { yamlRows } from './index.js';

/** Texts that YAML could take for something else, or that need quotes. */
const odd = fc.constantFrom(
  ...['', 'yes', 'null', '~', 'true', '0x10', '1e3', '.5', '1_000', '- a', '# b', 'a #b', 'a: b', 'a:', '"q"', "it's"],
  ...[' a', 'a ', '2026-11-23', '🚢', '=1', '*a', '&a', '!a', '%a', '@a', '`a', '?', '? a', '-', '---', '...', '[a]'],
  ...['{a}', '|', '>', '10.0.0.0/8', '018f0000-0003-7000-8000-000000000001', 'a\tb', 'x'.repeat(39), 'x y '.repeat(30)],
  ...['two\nlines', 'end\n', '\u0000', '\u2028', '<<'],
);
const text = fc.oneof(odd, fc.string(), fc.string({ unit: 'binary' }));
const scalar = fc.oneof(text, fc.double(), fc.integer(), fc.boolean(), fc.constant(null));
const row = fc.dictionary(
  fc.stringMatching(/^[a-z][A-Za-z]{0,9}$/),
  fc.oneof(scalar, fc.array(scalar, { maxLength: 3 })),
  {
    minKeys: 1,
    maxKeys: 5,
  },
);

// The reference is the library itself, which writes the same list slowly; and YAML 1.2.2, by its reading of the text.
test('rows are written as the library writes them, and are read back as they were', () => {
  fc.assert(
    fc.property(fc.array(row, { maxLength: 6 }), (rows) => {
      const written = yamlRows('rows', rows);
      expect(written).toBe(stringify({ rows }, { aliasDuplicateObjects: false }));
      expect(parse(written)).toEqual({ rows });
    }),
    { numRuns: 3000, seed: 4 },
  );
});
