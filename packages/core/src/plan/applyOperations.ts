import { byId, positionOf } from './collection.js';
import { checkBetweenFields, checkEntity, checkFields } from './checkField.js';
import { kindNames } from './entities.js';
import type { Entity, Kind, Plan, PlanSettings } from './entities.js';
import { integrityProblems } from './integrity.js';
import type { Operation, OperationProblem } from './operations.js';

/** The plan after a change with the change that takes it back, or everything that is wrong with the change. */
export type Applied =
  | { readonly ok: true; readonly plan: Plan; readonly inverse: readonly Operation[] }
  | { readonly ok: false; readonly problems: readonly OperationProblem[] };

type Draft = { settings: PlanSettings } & { [K in Kind]: readonly Entity[] };

/**
 * Applies a change whole or not at all. Fields are checked by their rules; then the plan is checked for
 * missing references, names taken twice and removals that would leave a reference hanging.
 */
export function applyOperations(plan: Plan, operations: readonly Operation[]): Applied {
  const draft: Draft = { ...plan };
  const copied = new Set<Kind>();
  const inverse: Operation[] = [];
  const problems: OperationProblem[] = [];
  operations.forEach((operation, at) => {
    const report = (field: string, code: string, message: string, mend: string) =>
      problems.push({ operation: at, field, code, message, mend });
    const undo = applyOne(draft, copied, operation, report);
    if (undo !== undefined) inverse.unshift(undo);
  });
  if (problems.length > 0) return { ok: false, problems };
  const after = draft as unknown as Plan;
  const broken = integrityProblems(plan, after, operations);
  return broken.length > 0 ? { ok: false, problems: broken } : { ok: true, plan: after, inverse };
}

type Report = (field: string, code: string, message: string, mend: string) => void;

function applyOne(draft: Draft, copied: Set<Kind>, operation: Operation, report: Report): Operation | undefined {
  if (operation.kind === 'settings') return applySettings(draft, operation.fields, report);
  switch (operation.op) {
    case 'add':
      return applyAdd(writable(draft, copied, operation.kind), operation.kind, operation.entity, report);
    case 'set':
      return applySet(writable(draft, copied, operation.kind), operation.kind, operation.id, operation.fields, report);
    case 'remove':
      return applyRemove(writable(draft, copied, operation.kind), operation.kind, operation.id, report);
  }
}

function writable(draft: Draft, copied: Set<Kind>, kind: Kind): Entity[] {
  if (!copied.has(kind)) {
    draft[kind] = draft[kind].slice();
    copied.add(kind);
  }
  // The copy made above is this change's own.
  return draft[kind] as Entity[];
}

function applySettings(draft: Draft, fields: Partial<PlanSettings>, report: Report): Operation | undefined {
  const wrong = checkFields('settings', fields);
  wrong.forEach((p) => report(p.field, p.code, p.message, p.mend));
  if (wrong.length > 0) return undefined;
  const before = pick(draft.settings, fields);
  draft.settings = { ...draft.settings, ...fields };
  return { op: 'set', kind: 'settings', fields: before };
}

function applyAdd(items: Entity[], kind: Kind, entity: Entity, report: Report): Operation | undefined {
  const wrong = checkEntity(kind, { ...entity });
  wrong.forEach((p) => report(p.field, p.code, p.message, p.mend));
  if (wrong.length > 0) return undefined;
  const at = positionOf(items, entity.id);
  if (items[at]?.id === entity.id) {
    report(
      'id',
      'entity.exists',
      `The ${kindNames[kind]} with this id is in the plan already.`,
      'Set its fields instead.',
    );
    return undefined;
  }
  items.splice(at, 0, entity);
  return { op: 'remove', kind, id: entity.id };
}

function applySet(items: Entity[], kind: Kind, id: string, fields: object, report: Report): Operation | undefined {
  const at = positionOf(items, id);
  const before = items[at];
  if (before?.id !== id) {
    report(
      'id',
      'entity.gone',
      `This ${kindNames[kind]} is not in the plan.`,
      'It may have been removed meanwhile; reload and look again.',
    );
    return undefined;
  }
  const after = { ...before, ...fields };
  const wrong = checkFields(kind, { ...fields });
  if (wrong.length === 0) wrong.push(...checkBetweenFields(kind, after));
  wrong.forEach((p) => report(p.field, p.code, p.message, p.mend));
  if (wrong.length > 0) return undefined;
  items[at] = after;
  return { op: 'set', kind, id, fields: pick(before, fields) };
}

function applyRemove(items: Entity[], kind: Kind, id: string, report: Report): Operation | undefined {
  const entity = byId(items, id);
  if (entity === undefined) {
    report('id', 'entity.gone', `This ${kindNames[kind]} is not in the plan.`, 'It may have been removed meanwhile.');
    return undefined;
  }
  items.splice(positionOf(items, id), 1);
  return { op: 'add', kind, entity } as Operation;
}

function pick(from: object, keys: object): Record<string, unknown> {
  const source = from as Record<string, unknown>;
  return Object.fromEntries(Object.keys(keys).map((key) => [key, source[key]]));
}
