import { formatAddress, formatPrefix } from '../address/index.js';
import type { Address, Prefix } from '../address/index.js';
import type { RouteRow } from '../road/index.js';

/** Any value of JSON. */
export type Json = string | number | boolean | null | readonly Json[] | { readonly [name: string]: Json };

/** A number that may have no bound: null then. */
export function size(bytes: number): number | null {
  return Number.isFinite(bytes) ? bytes : null;
}

/** Facts as they can be written: addresses and prefixes as text, entities by their ids. */
export function plain(value: unknown): Json {
  if (value === undefined || value === null) return null;
  if (typeof value === 'string' || typeof value === 'boolean') return value;
  if (typeof value === 'number') return size(value);
  if (Array.isArray(value)) return value.map(plain);
  if (typeof value !== 'object') return null;
  if ('family' in value && 'w0' in value)
    return 'length' in value ? formatPrefix(value as Prefix) : formatAddress(value as Address);
  if ('hop' in value && 'prefix' in value) return formatPrefix((value as RouteRow).prefix);
  return Object.fromEntries(Object.entries(value).map(([name, each]) => [name, plain(each)]));
}
