import { parsePrefix } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { expectGood } from '../result.js';
import { perText } from './perText.js';

/** Prefixes that stay parsed. */
const MAX_KNOWN = 200_000;

const parsedOnce = perText(MAX_KNOWN, (text): Prefix => expectGood(parsePrefix(text)));

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
