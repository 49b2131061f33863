import { parsePrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { expectGood } from '../result.js';

/** Texts remembered before the older half is let go. */
const MAX_KNOWN = 200_000;

// By text and not by entity: a map with objects as weak keys costs the collector more than parsing does. Two generations,
// so that what is in use stays when the map is full.
let recent = new Map<string, Prefix>();
let older = new Map<string, Prefix>();

/** The parsed prefix of a pool, allocation or range in use; a text is parsed once, and equal texts give the same object. */
export function rangeOf({ prefix }: { readonly prefix: string }): Prefix {
  return parsedOnce(prefix);
}

/** The parsed prefixes that an attachment advertises. */
export function prefixesOf({ advertises }: { readonly advertises: readonly string[] }): readonly Prefix[] {
  return advertises.map(parsedOnce);
}

/** The prefix that holds one address alone. */
export function hostPrefix(address: string): Prefix {
  return parsedOnce(`${address}/${address.includes(':') ? 128 : 32}`);
}

/** The parsed prefixes of a list that was checked. */
export function prefixList(texts: readonly string[]): readonly Prefix[] {
  return texts.map(parsedOnce);
}

function parsedOnce(text: string): Prefix {
  const known = recent.get(text);
  if (known !== undefined) return known;
  const parsed = older.get(text) ?? expectGood(parsePrefix(text));
  if (recent.size >= MAX_KNOWN / 2) [older, recent] = [recent, new Map<string, Prefix>()];
  recent.set(text, parsed);
  return parsed;
}
