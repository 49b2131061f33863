import { changedBetween } from './changedBetween.js';
import { kinds } from './entities.js';
import type { Entity, Plan } from './entities.js';
import { setOperation } from './operations.js';
import type { Operation } from './operations.js';

/**
 * The change that makes one plan of another: what a restore applies. Entities that are equal in every field
 * are left alone, and of the others only the fields that differ are set.
 */
export function operationsBetween(before: Plan, after: Plan): Operation[] {
  const operations: Operation[] = [];
  const settings = differingFields(before.settings, after.settings);
  if (Object.keys(settings).length > 0) operations.push({ op: 'set', kind: 'settings', fields: settings });
  for (const kind of kinds) {
    const { gone, come } = changedBetween<Entity>(before[kind], after[kind]);
    const old = new Map(gone.map((entity) => [entity.id, entity]));
    for (const entity of come) {
      const was = old.get(entity.id);
      old.delete(entity.id);
      if (was === undefined) operations.push({ op: 'add', kind, entity } as Operation);
      else {
        const fields = differingFields(was, entity);
        if (Object.keys(fields).length > 0) operations.push(setOperation(kind, entity.id, fields));
      }
    }
    for (const id of old.keys()) operations.push({ op: 'remove', kind, id });
  }
  return operations;
}

function differingFields(before: object, after: object): Record<string, unknown> {
  const old = before as Record<string, unknown>;
  return Object.fromEntries(Object.entries(after).filter(([field, value]) => !isSameValue(old[field], value)));
}

/** Whether two values of one field are alike. Field values are plain: text, numbers, flags, null, and lists of text. */
export function isSameValue(a: unknown, b: unknown): boolean {
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((item, i) => item === b[i]);
  return a === b;
}
