import fc from 'fast-check';
import { anyFamily, anyPrefix, crowdedPrefix } from '../../test/arbitraries.js';
import {
  addressAt,
  comparePrefixes,
  contains,
  containsAddress,
  firstAddress,
  forEachOverlap,
  formatPrefix,
  LongestMatch,
  overlaps,
  prefixAround,
  PrefixIndex,
  prefixTable,
  sortedRows,
} from './index.js';
import type { Family, Prefix } from './index.js';

const anyTable = anyFamily.chain((family) =>
  fc.record({
    family: fc.constant<Family>(family),
    prefixes: fc.array(fc.oneof({ weight: 3, arbitrary: crowdedPrefix(family) }, anyPrefix(family)), { maxLength: 40 }),
  }),
);

describe('work on many prefixes against the plain way', () => {
  test('rows are ordered as one by one', () => {
    fc.assert(
      fc.property(anyTable, ({ family, prefixes }) => {
        const order = [...sortedRows(prefixTable(family, prefixes))].map((row) =>
          formatPrefix(prefixes[row] as Prefix),
        );
        expect(order).toEqual([...prefixes].sort(comparePrefixes).map(formatPrefix));
      }),
    );
  });

  test('the wide radix orders 5,000 rows like a comparison sort', () => {
    fc.assert(
      fc.property(fc.array(anyPrefix(6), { minLength: 5000, maxLength: 5000 }), (prefixes) => {
        const order = [...sortedRows(prefixTable(6, prefixes))].map((row) => prefixes[row] as Prefix);
        expect(order.every((value, i) => i === 0 || comparePrefixes(order[i - 1] as Prefix, value) <= 0)).toBe(true);
      }),
      { numRuns: 2 },
    );
  });

  test('the sweep finds every overlapping pair once, and only pairs with a loud row when some are quiet', () => {
    fc.assert(
      fc.property(
        anyTable,
        fc.array(fc.boolean(), { minLength: 40, maxLength: 40 }),
        fc.boolean(),
        ({ family, prefixes }, flags, useQuiet) => {
          const quiet = useQuiet ? Uint8Array.from(prefixes, (_, i) => Number(flags[i])) : undefined;
          const table = prefixTable(family, prefixes);
          const found: string[] = [];
          forEachOverlap(
            table,
            sortedRows(table),
            (outer, inner) => {
              expect(contains(prefixes[outer] as Prefix, prefixes[inner] as Prefix)).toBe(true);
              found.push([outer, inner].sort((a, b) => a - b).join(' '));
            },
            quiet,
          );
          const expected = prefixes.flatMap((a, i) =>
            prefixes.slice(i + 1).flatMap((b, k) => {
              const j = i + 1 + k;
              const areBothQuiet = quiet !== undefined && quiet[i] === 1 && quiet[j] === 1;
              return overlaps(a, b) && !areBothQuiet ? [`${i} ${j}`] : [];
            }),
          );
          expect(found.sort()).toEqual(expected.sort());
        },
      ),
    );
  });

  test('longest match finds what a scan finds, and the rows around it', () => {
    fc.assert(
      fc.property(anyTable, anyFamily.chain(crowdedPrefix), ({ family, prefixes }, near) => {
        const match = new LongestMatch(family, prefixes);
        for (const address of [...prefixes.map(firstAddress), firstAddress(near)]) {
          const holders = prefixes.filter((each) => containsAddress(each, address));
          const longest = Math.max(-1, ...holders.map((each) => each.length));
          const row = match.find(address);
          expect(row < 0 ? -1 : (prefixes[row] as Prefix).length).toBe(longest);
          const chain: number[] = [];
          for (let at = row; at >= 0; at = match.outerRow[at] ?? -1) chain.push(at);
          expect(chain.length).toBe(holders.length);
        }
      }),
    );
  });

  test('an index that gained and lost prefixes answers like a scan', () => {
    fc.assert(
      fc.property(anyTable, fc.array(fc.boolean(), { minLength: 40, maxLength: 40 }), ({ family, prefixes }, gone) => {
        const half = Math.floor(prefixes.length / 2);
        const index = new PrefixIndex(family, prefixes.slice(0, half));
        prefixes.slice(half).forEach((value, i) => index.insert(value, half + i));
        prefixes.forEach((value, i) => gone[i] === true && expect(index.remove(value, i)).toBe(true));
        const left = prefixes.flatMap((value, i) => (gone[i] === true ? [] : [{ value, i }]));
        expect(index.size).toBe(left.length);
        for (const asked of prefixes) {
          const seen: number[] = [];
          index.forEachOverlapping(asked, (id) => seen.push(id));
          expect(seen.sort((a, b) => a - b)).toEqual(
            left.filter(({ value }) => overlaps(value, asked)).map(({ i }) => i),
          );
        }
        expect(index.remove(prefixes[0] ?? prefixAround(addressAt(family, 0n), 0), 10_000)).toBe(false);
      }),
    );
  });
});
