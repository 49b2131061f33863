import { labelsOf } from '../zones/index.js';

/** What one try of the resolver library came to. */
export type Tried = 'nothing' | 'failure' | 'time-out';

/**
 * The names that the resolver library of the operating system tries, in their order, until one is found: with fewer dots than ndots the
 * search list first, else the name as it is first; a final dot ends the search. Names that do not exist, have no address or fail
 * (SERVFAIL) go on to the next; a time-out ends it. Source: resolv.conf(5), options search and ndots.
 */
export function namesTried(name: string, ndots: number, searchList: readonly string[]): string[] {
  if (name.endsWith('.')) return [name.slice(0, -1)];
  const dots = labelsOf(name).length - 1;
  const searched = searchList.map((suffix) => `${name}.${suffix}`);
  return dots >= ndots ? [name, ...searched] : [...searched, name];
}

/** Whether the library goes on to the next name. */
export function goesOn(tried: Tried): boolean {
  return tried === 'nothing' || tried === 'failure';
}
