import { demoPlan } from '@wide-lattice/core/demo';
import { kinds } from '@wide-lattice/core/plan';
import fc from 'fast-check';
import { PlanReader } from './planReader';

const plan = demoPlan();
const whole = JSON.stringify({ revision: 7, plan });

/** The text in lines of some rows each, as the server breaks it. */
function inLines(rowsOfLine: number): string {
  const collections = kinds.flatMap((kind) => {
    const rows: readonly unknown[] = plan[kind];
    const lines = Array.from({ length: Math.ceil(rows.length / rowsOfLine) }, (_, at) =>
      JSON.stringify(rows.slice(at * rowsOfLine, (at + 1) * rowsOfLine)).slice(1, -1),
    );
    return [`,${JSON.stringify(kind)}:[`, ...lines.map((line, at) => (at === 0 ? line : `,${line}`)), ']'];
  });
  return [`{"revision":7,"plan":{"settings":${JSON.stringify(plan.settings)}`, ...collections, '}}'].join('\n');
}

function read(text: string, cuts: readonly number[] = []) {
  const reader = new PlanReader();
  let from = 0;
  for (const to of [...cuts.map((cut) => cut % text.length).sort((a, b) => a - b), text.length]) {
    reader.push(text.slice(from, to));
    from = to;
  }
  return reader.end();
}

// JSON.parse of the runtime is the reference.
test('in whatever parts the text comes, what is read is what the runtime reads of the whole', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 400 }), fc.array(fc.nat(), { maxLength: 40 }), (rowsOfLine, cuts) => {
      const text = inLines(rowsOfLine);
      expect(read(text, cuts)).toEqual(JSON.parse(text));
    }),
    { numRuns: 40, seed: 3 },
  );
  expect(JSON.parse(inLines(100))).toEqual(JSON.parse(whole));
});

test('text that is not broken into lines is read whole', () => {
  expect(read(whole, [10, 1000])).toEqual(JSON.parse(whole));
});

test.each([
  ['after a line', (text: string) => text.slice(0, text.lastIndexOf('\n'))],
  ['within a line', (text: string) => text.slice(0, text.length >> 1)],
  ['at once', () => ''],
])('text that is cut off %s is no plan', (_, cut) => {
  expect(() => read(cut(inLines(50)))).toThrow(SyntaxError);
});

test('rows of an unknown kind are refused', () => {
  expect(() => read(inLines(50).replace(',"clusters":[', ',"clutters":['))).toThrow('is not a kind of row in a plan');
});
