import { changedBetween } from '../plan/index.js';
import type { Alongside } from './alongside.js';
import type { Looks } from './looks.js';
import { oncePerChange } from './once.js';

type Rows = readonly { readonly id: string }[];

/** Subjects that an edit may have to do with; undefined when it may be any. */
export type Near = ReadonlySet<string> | undefined;

/** All of several; any where one of them is any. */
export function together(...all: readonly Near[]): Near {
  const near = new Set<string>();
  for (const each of all) {
    if (each === undefined) return undefined;
    for (const id of each) near.add(id);
  }
  return near;
}

/** Whom rows that came, went or changed belong to, by this field; any when a row belongs to nobody. */
export function ownersIn<P extends Readonly<Record<K, Rows>>, K extends string>(
  was: P,
  is: P,
  parts: readonly K[],
  field: 'clusterId' | 'filterId' | 'id' = 'clusterId',
): Near {
  const near = new Set<string>();
  for (const part of parts) {
    const { gone, come } = changedBetween<P[K][number]>(was[part], is[part]);
    for (const row of [...gone, ...come]) {
      const owner: unknown = (row as Readonly<Record<string, unknown>>)[field];
      if (typeof owner !== 'string') return undefined;
      near.add(owner);
    }
  }
  return near;
}

const nobody: ReadonlySet<string> = new Set();

/** Nobody while these are the same objects, else any. */
export function unless(...pairs: readonly (readonly [unknown, unknown])[]): Near {
  return pairs.every(([was, is]) => was === is) ? nobody : undefined;
}

/** Those whose value beside a collection is another one. */
export function valuesIn<E extends { readonly id: string }>(
  was: Alongside<E, unknown>,
  is: Alongside<E, unknown>,
): Near {
  if (was === is) return nobody;
  const isInStep = haveSameIds(was.items, is.items);
  const isOther = (id: string, at: number) => (isInStep ? was.values[at] : was.of(id)) !== is.values[at];
  return new Set(is.items.flatMap(({ id }, at) => (isOther(id, at) ? [id] : [])));
}

/** Whether two collections hold the same entities, whatever changed of them. */
export function haveSameIds(was: Rows, is: Rows): boolean {
  if (was.length !== is.length) return false;
  const { gone, come } = changedBetween(was, is);
  return gone.every(({ id }, at) => id === come[at]?.id);
}

/** Those whose group is another one. */
export const groupsIn = oncePerChange(
  (was: ReadonlyMap<string, unknown>, is: ReadonlyMap<string, unknown>): ReadonlySet<string> => {
    if (was === is) return nobody;
    const near = new Set<string>();
    for (const [key, group] of is) if (was.get(key) !== group) near.add(key);
    for (const key of was.keys()) if (!is.has(key)) near.add(key);
    return near;
  },
);

/** Subjects of which something else was found. */
export function foundIn<T>(was: Looks<T>, is: Looks<T>): Near {
  return valuesIn(was.looks, is.looks);
}
