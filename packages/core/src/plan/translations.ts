import { addressAt, addressValue, contains, containsAddress, formatPrefix, parsePrefix } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';

/** A range of a cluster and the one of the same size that others see instead: the bits after the prefix stay as they are. */
export interface Translation {
  readonly own: Prefix;
  readonly shown: Prefix;
}

/** Reads "10.244.0.0/16 as 172.30.0.0/16"; undefined when it is none: both of one family and one length. */
export function readTranslation(text: string): Translation | undefined {
  const [one = '', other = '', ...more] = text.trim().split(/\s+as\s+/);
  const [own, shown] = [parsePrefix(one), parsePrefix(other)];
  if (!own.ok || !shown.ok || more.length > 0) return undefined;
  if (own.value.family !== shown.value.family || own.value.length !== shown.value.length) return undefined;
  return { own: own.value, shown: shown.value };
}

/** A translation in the words that read back as it. */
export function writeTranslation({ own, shown }: Translation): string {
  return `${formatPrefix(own)} as ${formatPrefix(shown)}`;
}

/** The range that others see instead of an own one; undefined where no translation is for all of it. */
export function shownAs(own: Prefix, translations: readonly Translation[]): Prefix | undefined {
  const around = translations.find((each) => contains(each.own, own));
  return around === undefined ? undefined : { ...own, ...translated(own, [around], 'out') };
}

/** What an address becomes; itself where no translation holds it. */
export function translated(address: Address, translations: readonly Translation[], way: 'out' | 'in'): Address {
  for (const { own, shown } of translations) {
    const [from, to] = way === 'out' ? [own, shown] : [shown, own];
    if (containsAddress(from, address))
      return addressAt(address.family, addressValue(to) + (addressValue(address) - addressValue(from)));
  }
  return address;
}

/** The translations of a member of a connection. */
export function translationsOf({ translated: texts }: { readonly translated: readonly string[] }): Translation[] {
  return texts.flatMap((text) => readTranslation(text) ?? []);
}
