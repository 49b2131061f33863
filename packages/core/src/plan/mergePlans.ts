import { applyOperations } from './applyOperations.js';
import { clashesWith } from './clashes.js';
import type { Clash } from './clashes.js';
import type { Entity, Plan } from './entities.js';
import type { Operation, OperationProblem } from './operations.js';
import { isSameValue, operationsBetween } from './operationsBetween.js';

/** Two plans that began from one, made one of; or what both changed otherwise, and what would no longer fit together. */
export type Merged =
  | { readonly ok: true; readonly plan: Plan }
  | { readonly ok: false; readonly clashes: readonly Clash[]; readonly problems: readonly OperationProblem[] };

/**
 * Brings what one side changed since a plan both began from into the other side: row by row and field by field. A field that both set otherwise,
 * and a row that one changed and the other removed, are clashes; so is all that breaks a rule only together.
 */
export function mergePlans(base: Plan, ours: Plan, theirs: Plan): Merged {
  const done = { operations: operationsBetween(base, theirs), inverse: operationsBetween(theirs, base) };
  const isDone = alsoDone(done.operations);
  const mine = operationsBetween(base, ours).filter((operation) => !isDone(operation));
  const clashes = clashesWith(theirs, mine, [done]);
  if (clashes.length > 0) return { ok: false, clashes, problems: [] };
  const applied = applyOperations(theirs, mine);
  return applied.ok ? { ok: true, plan: applied.plan } : { ok: false, clashes: [], problems: applied.problems };
}

/** What the other side came to by itself: rows that it removed too, and that it added with the same fields. */
function alsoDone(others: readonly Operation[]): (operation: Operation) => boolean {
  const removed = new Set<string>();
  const added = new Map<string, Entity>();
  for (const other of others) {
    if (other.op === 'remove') removed.add(other.id);
    if (other.op === 'add') added.set(other.entity.id, other.entity);
  }
  return (operation) => {
    if (operation.op === 'remove') return removed.has(operation.id);
    const same = operation.op === 'add' ? added.get(operation.entity.id) : undefined;
    return same !== undefined && operation.op === 'add' && isSame(same, operation.entity);
  };
}

function isSame(a: Entity, b: Entity): boolean {
  const other = b as unknown as Readonly<Record<string, unknown>>;
  return Object.entries(a).every(([field, value]) => isSameValue(value, other[field]));
}
