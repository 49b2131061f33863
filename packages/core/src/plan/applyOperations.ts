import { byId, inOrder } from './collection.js';
import { checkBetweenFields, checkEntity, checkFields } from './checkEntity.js';
import { kindNames, kinds } from './entities.js';
import type { Entity, Kind, Plan, PlanSettings } from './entities.js';
import { finished, formatNumber } from '../working/index.js';
import { integrityProblems } from './integrity.js';
import { MAX_OF_KIND, MAX_ROWS } from './limits.js';
import { MAX_PROBLEMS, setOperation, STEP } from './operations.js';
import type { Operation, OperationProblem } from './operations.js';

/** The plan after a change with the change that takes it back, or everything that is wrong with the change. */
export type Applied =
  | { readonly ok: true; readonly plan: Plan; readonly inverse: readonly Operation[] }
  | { readonly ok: false; readonly problems: readonly OperationProblem[] };

/**
 * Applies a change whole or not at all. Fields are checked by their rules; then the plan is checked for
 * missing references, names taken twice and removals that would leave a reference hanging. At most MAX_PROBLEMS are told.
 */
export function applyOperations(plan: Plan, operations: readonly Operation[]): Applied {
  return finished(applyInSteps(plan, operations));
}

/** The same in steps of a few hundred operations, for who has others to answer between them; what it returns at its end counts. */
export function* applyInSteps(plan: Plan, operations: readonly Operation[]): Generator<undefined, Applied> {
  const draft = new Draft(plan);
  const inverse: Operation[] = [];
  const problems: OperationProblem[] = [];
  for (const [at, operation] of operations.entries()) {
    const report = (field: string, code: string, message: string, fix: string) =>
      problems.push({ operation: at, field, code, message, fix });
    const undo = applyOne(draft, operation, report);
    if (undo !== undefined) inverse.push(undo);
    if (problems.length >= MAX_PROBLEMS) break;
    if (at % STEP === STEP - 1) yield;
  }
  if (problems.length > 0) return { ok: false, problems: problems.slice(0, MAX_PROBLEMS) };
  const after = draft.finished();
  yield;
  const full = tooMany(plan, after, operations);
  if (full.length > 0) return { ok: false, problems: full };
  const broken = yield* integrityProblems(plan, after, operations);
  return broken.length > 0 ? { ok: false, problems: broken } : { ok: true, plan: after, inverse: inverse.reverse() };
}

/** What a plan would hold more of than it may; one that holds more already can still be changed and made smaller. */
function tooMany(before: Plan, after: Plan, operations: readonly Operation[]): OperationProblem[] {
  const count = (plan: Plan, of: readonly Kind[]) => of.reduce((sum, kind) => sum + plan[kind].length, 0);
  const limits = [
    ...kinds.map((kind) => ({ of: [kind], most: MAX_OF_KIND, what: `rows of kind ${kindNames[kind]}` })),
    { of: kinds, most: MAX_ROWS, what: 'rows' },
  ];
  return limits
    .filter(({ of, most }) => count(after, of) > most && count(after, of) > count(before, of))
    .map(({ of, most, what }) => ({
      operation: Math.max(
        0,
        operations.findIndex(({ op, kind }) => op === 'add' && of.some((each) => each === kind)),
      ),
      field: 'id',
      code: 'plan.full',
      message: `The plan would hold ${formatNumber(count(after, of))} ${what}; ${formatNumber(most)} is the most.`,
      fix: 'Make two plans of it, or take out what is not planned here.',
    }));
}

/** A plan with changed entities beside it, put into their collections once at the end, however many they are. */
class Draft {
  settings: PlanSettings;
  private readonly changed = new Map<Kind, Map<string, Entity | undefined>>();

  constructor(private readonly plan: Plan) {
    this.settings = plan.settings;
  }

  find(kind: Kind, id: string): Entity | undefined {
    const changes = this.changed.get(kind);
    return changes?.has(id) === true ? changes.get(id) : byId<Entity>(this.plan[kind], id);
  }

  put(kind: Kind, id: string, entity: Entity | undefined): void {
    let changes = this.changed.get(kind);
    if (changes === undefined) {
      changes = new Map();
      this.changed.set(kind, changes);
    }
    changes.set(id, entity);
  }

  finished(): Plan {
    const collections = kinds.flatMap((kind) => {
      const changes = this.changed.get(kind);
      return changes === undefined ? [] : [[kind, merged(this.plan[kind], changes)]];
    });
    return { ...this.plan, settings: this.settings, ...(Object.fromEntries(collections) as object) };
  }
}

function merged(items: readonly Entity[], changes: ReadonlyMap<string, Entity | undefined>): readonly Entity[] {
  const come = inOrder([...changes.values()].flatMap((entity) => entity ?? []));
  const found: Entity[] = [];
  let at = 0;
  for (const item of items) {
    for (let next = come[at]; next !== undefined && next.id < item.id; next = come[at]) {
      found.push(next);
      at++;
    }
    if (!changes.has(item.id)) found.push(item);
  }
  for (; at < come.length; at++) found.push(come[at] as Entity);
  return found;
}

type Report = (field: string, code: string, message: string, fix: string) => void;

function applyOne(draft: Draft, operation: Operation, report: Report): Operation | undefined {
  if (operation.kind === 'settings') return applySettings(draft, operation.fields, report);
  switch (operation.op) {
    case 'add':
      return applyAdd(draft, operation.kind, operation.entity, report);
    case 'set':
      return applySet(draft, operation.kind, operation.id, operation.fields, report);
    case 'remove':
      return applyRemove(draft, operation.kind, operation.id, report);
  }
}

function applySettings(draft: Draft, fields: Partial<PlanSettings>, report: Report): Operation | undefined {
  const wrong = checkFields('settings', fields);
  wrong.forEach((p) => report(p.field, p.code, p.message, p.fix));
  if (wrong.length > 0) return undefined;
  const before = pick(draft.settings, fields);
  draft.settings = { ...draft.settings, ...fields };
  return { op: 'set', kind: 'settings', fields: before };
}

function applyAdd(draft: Draft, kind: Kind, entity: Entity, report: Report): Operation | undefined {
  const wrong = checkEntity(kind, { ...entity });
  wrong.forEach((p) => report(p.field, p.code, p.message, p.fix));
  if (wrong.length > 0) return undefined;
  if (draft.find(kind, entity.id) !== undefined) {
    report(
      'id',
      'entity.exists',
      `The ${kindNames[kind]} with this id is in the plan already.`,
      'Use set instead of add.',
    );
    return undefined;
  }
  draft.put(kind, entity.id, entity);
  return { op: 'remove', kind, id: entity.id };
}

function applySet(draft: Draft, kind: Kind, id: string, fields: object, report: Report): Operation | undefined {
  const before = draft.find(kind, id);
  if (before === undefined) {
    report(
      'id',
      'entity.gone',
      `This ${kindNames[kind]} is not in the plan.`,
      'It may have been removed. Reload the plan.',
    );
    return undefined;
  }
  const after = { ...before, ...fields };
  const wrong = checkFields(kind, { ...fields });
  if (wrong.length === 0) wrong.push(...checkBetweenFields(kind, after));
  wrong.forEach((p) => report(p.field, p.code, p.message, p.fix));
  if (wrong.length > 0) return undefined;
  draft.put(kind, id, after);
  return setOperation(kind, id, pick(before, fields));
}

function applyRemove(draft: Draft, kind: Kind, id: string, report: Report): Operation | undefined {
  const entity = draft.find(kind, id);
  if (entity === undefined) {
    report(
      'id',
      'entity.gone',
      `This ${kindNames[kind]} is not in the plan.`,
      'It may have been removed. Reload the plan.',
    );
    return undefined;
  }
  draft.put(kind, id, undefined);
  return { op: 'add', kind, entity } as Operation;
}

function pick(from: object, keys: object): Record<string, unknown> {
  const source = from as Record<string, unknown>;
  return Object.fromEntries(Object.keys(keys).map((key) => [key, source[key]]));
}
