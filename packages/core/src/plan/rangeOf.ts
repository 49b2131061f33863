import { parsePrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { expectGood } from '../result.js';

const known = new WeakMap<object, Prefix>();

/** The parsed prefix of a pool, allocation or range in use; parsed once per entity, since entities never change. */
export function rangeOf(entity: { readonly prefix: string }): Prefix {
  const found = known.get(entity);
  if (found !== undefined) return found;
  const parsed = expectGood(parsePrefix(entity.prefix));
  known.set(entity, parsed);
  return parsed;
}
