import { isRecord } from './documents.js';

/** An object that is being written. */
export type Draft = Record<string, unknown>;

/** Puts a value at a path, making objects and lists on the way; undefined takes what is there out. */
export function put(draft: Draft, path: readonly (string | number)[], value: unknown): void {
  let at: Record<string | number, unknown> = draft;
  for (const [i, step] of path.slice(0, -1).entries()) {
    if (typeof at[step] !== 'object' || at[step] === null) {
      if (value === undefined) return;
      at[step] = typeof path[i + 1] === 'number' ? [] : {};
    }
    at = at[step] as Record<string | number, unknown>;
  }
  const last = path.at(-1) ?? '';
  if (value !== undefined) at[last] = value;
  else if (last in at) Reflect.deleteProperty(at, last);
}

/** What one value has that another one does not, or by value has otherwise, by path: "spec.template.spec.containers[0].image". */
export function beyond(given: unknown, known: unknown, path = '', isByValue = false): string[] {
  if (Array.isArray(given))
    return given.flatMap((item, i) =>
      beyond(item, Array.isArray(known) ? (known as unknown[])[i] : undefined, `${path}[${i}]`, isByValue),
    );
  if (!isRecord(given)) {
    const isOther = isByValue && String(known) !== String(given);
    return known === undefined || isOther ? [path] : [];
  }
  if (known === undefined && Object.keys(given).length === 0) return [path];
  return Object.entries(given).flatMap(([key, value]) =>
    beyond(value, isRecord(known) ? known[key] : undefined, path === '' ? key : `${path}.${key}`, isByValue),
  );
}
