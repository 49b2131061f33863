import { forEachOverlap, prefixTable, sortedRows } from '../address/index.js';
import type { Family } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Pool } from '../plan/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Two pools that share addresses: what one gives out the other counts as its own. */
export function poolOverlap(pools: readonly Pool[]): Finding[] {
  const found: Finding[] = [];
  for (const family of [4, 6] as const satisfies readonly Family[]) {
    const own = pools.filter((pool) => rangeOf(pool).family === family);
    const table = prefixTable(family, own.map(rangeOf));
    forEachOverlap(table, sortedRows(table), (outerRow, innerRow) => {
      const [outer, inner] = [own[outerRow] as Pool, own[innerRow] as Pool];
      found.push(
        finding(
          'pool.overlap',
          'warning',
          [
            { kind: 'pools', id: inner.id },
            { kind: 'pools', id: outer.id },
          ],
          { inner: inner.name, outer: outer.name, innerPrefix: inner.prefix, outerPrefix: outer.prefix },
        ),
      );
    });
  }
  return found;
}
