import { PrefixIndex } from '../address/index.js';
import type { Family, Prefix } from '../address/index.js';
import { rangeOf } from './rangeOf.js';

type Ranged = { readonly prefix: string };

const known = new WeakMap<object, Partial<Record<Family, PrefixIndex>>>();

/** The index of a collection's prefixes of one family; ids are positions. Built once for each state of the collection. */
function indexOf(items: readonly Ranged[], family: Family): PrefixIndex {
  const indexes = known.get(items) ?? {};
  known.set(items, indexes);
  const found = indexes[family];
  if (found !== undefined) return found;
  const rows = items.flatMap((item, at) => (rangeOf(item).family === family ? [at] : []));
  const index = new PrefixIndex(
    family,
    rows.map((at) => rangeOf(items[at] as Ranged)),
    (row) => rows[row] as number,
  );
  indexes[family] = index;
  return index;
}

/** Those of a collection whose range overlaps the prefix, outermost first. */
export function overlapping<E extends Ranged>(items: readonly E[], range: Prefix): E[] {
  const found: E[] = [];
  indexOf(items, range.family).forEachOverlapping(range, (at) => found.push(items[at] as E));
  return found;
}

/** Those of a collection whose range holds the whole prefix, outermost first. */
export function around<E extends Ranged>(items: readonly E[], range: Prefix): E[] {
  const found: E[] = [];
  indexOf(items, range.family).forEachAround(range, (at) => found.push(items[at] as E));
  return found;
}
