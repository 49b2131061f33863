import fc from 'fast-check';
import { MAX_LEVELS, TOO_DEEP } from './depth.js';
import { jsonInSteps } from './jsonInSteps.js';

/** What a text is read as, its lists cut after every few bytes; how many steps it took. */
function read(text: string, partBytes = 8): { readonly value: unknown; readonly steps: number } {
  const reading = jsonInSteps(Buffer.from(text), partBytes);
  for (let steps = 0; ; steps++) {
    const step = reading.next();
    if (step.done === true) return { value: step.value, steps };
  }
}

const valueOrError = (parse: () => unknown) => {
  try {
    return { value: parse() };
  } catch (error) {
    return { error: error instanceof SyntaxError ? 'no JSON' : error };
  }
};

// JSON.parse of the runtime is the reference: ECMA-404.
test('any JSON is read as the runtime reads it, and what is none is refused as there', () => {
  let cut = 0;
  fc.assert(
    fc.property(
      fc.dictionary(fc.string(), fc.oneof(fc.array(fc.jsonValue({ maxDepth: 3 }), { maxLength: 30 }), fc.jsonValue())),
      fc.option(fc.record({ at: fc.nat(), sign: fc.constantFrom('', ',', '[', ']', '{', '}', '"', '\\', ':', ' ') })),
      (body, slip) => {
        const whole = JSON.stringify(body);
        const at = slip === null ? 0 : slip.at % (whole.length + 1);
        const text = slip === null ? whole : whole.slice(0, at) + slip.sign + whole.slice(at + 1);
        const got = valueOrError(() => read(text).value);
        expect({ text, ...got }).toEqual({ text, ...valueOrError(() => JSON.parse(text)) });
        if ('value' in got && read(text).steps > 0) cut++;
      },
    ),
    { numRuns: 3000, seed: 9 },
  );
  expect(cut).toBeGreaterThan(300);
});

test.each([
  ['a comma too many at the end', '{"rows":[1111111,2222222,3333333,]}'],
  ['one in the middle', '{"rows":[1111111,2222222,,3333333]}'],
  ['a list that does not end', '{"rows":[1111111,2222222,3333333'],
  ['a bracket of the other kind', '{"rows":[1111111,2222222,3333333}}'],
])('%s is no JSON', (_, text) => {
  expect(() => read(text)).toThrow(SyntaxError);
  expect(() => JSON.parse(text) as unknown).toThrow(SyntaxError);
});

test('of a field that is given twice the last one is read, whichever of them is long', () => {
  const long = '[1111111,2222222,3333333]';
  for (const text of [`{"a":${long},"a":[4]}`, `{"a":[4],"a":${long}}`, `{"a":${long},"b":${long},"a":1}`])
    expect(read(text).value).toEqual(JSON.parse(text));
});

test('a list of more levels than a body may have is refused before anything goes down them', () => {
  const nested = (levels: number) => `{"rows":${'['.repeat(levels - 1)}${']'.repeat(levels - 1)}}`;
  expect(read(nested(MAX_LEVELS)).value).toEqual(JSON.parse(nested(MAX_LEVELS)));
  expect(valueOrError(() => read(nested(MAX_LEVELS + 1)))).toEqual({
    error: expect.objectContaining({ type: TOO_DEEP }),
  });
});

test('a long list comes in many steps', () => {
  const rows = Array.from({ length: 50_000 }, (_, n) => ({ op: 'add', name: `row ${n}, with "signs" [ ] { }` }));
  const { value, steps } = read(JSON.stringify({ first: 1, rows, last: 'x' }), undefined);
  expect(value).toEqual({ first: 1, rows, last: 'x' });
  expect(steps).toBeGreaterThan(40);
});
