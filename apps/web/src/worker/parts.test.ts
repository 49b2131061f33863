import { isParted, Parts, withRows } from './parts';

const many = Array.from({ length: 1001 }, (_, n) => n);

/** An answer sent and put together again; in how many parts its rows came. */
function throughParts(answer: unknown): { readonly got: unknown; readonly parts: number } {
  const parts = new Parts();
  const sent = parts.sent(1, answer);
  if (!isParted(sent)) return { got: sent, parts: 0 };
  const rows: unknown[] = [];
  let count = 0;
  while (rows.length < sent.rows) {
    rows.push(...parts.part(1, rows.length));
    count++;
  }
  // What was fetched is kept no longer.
  expect(parts.part(1, 0)).toEqual([]);
  return { got: withRows(sent.answer, sent.path, rows), parts: count };
}

test.each<[string, unknown, number]>([
  ['a long list', many, 3],
  ['a short one', [1, 2, 3], 0],
  ['nothing', undefined, 0],
  ['null', null, 0],
  ['a text', 'x'.repeat(5000), 0],
  ['a list in a field', { ok: true, rows: many }, 3],
  ['one two fields down', { ok: true, value: { rows: many, other: [1] } }, 3],
  ['the longest of several', { a: many.slice(0, 500), b: many, c: [] }, 3],
  ['a map, which goes as it is', new Map([['a', many]]), 0],
])('%s is whole again', (_, answer, count) => {
  expect(throughParts(answer)).toEqual({ got: answer, parts: count });
});
