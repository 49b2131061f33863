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

const knownLists = new WeakMap<object, readonly Prefix[]>();

/** The parsed prefixes that an attachment advertises; parsed once, as above. */
export function prefixesOf(attachment: { readonly advertises: readonly string[] }): readonly Prefix[] {
  const found = knownLists.get(attachment);
  if (found !== undefined) return found;
  const parsed = attachment.advertises.map((text) => expectGood(parsePrefix(text)));
  knownLists.set(attachment, parsed);
  return parsed;
}
