import { byId } from './collection.js';
import { kindNames, kindOf, kinds } from './entities.js';
import type { Entity, Kind, Plan } from './entities.js';
import { keyFieldsOf, uniqueKeyOf } from './keys.js';
import { kindRules } from './kinds/kindRules.js';
import { lockProblems } from './locks.js';
import { MAX_PROBLEMS, STEP } from './operations.js';
import type { Operation, OperationProblem } from './operations.js';
import { idsIn, referenceFields } from './references.js';

type Removal = Operation & { readonly op: 'remove' };

/**
 * What the plan as a whole refuses: missing references, names taken twice, hanging references, locked decisions changed
 * in passing. Only what the change touched is looked at.
 */
export function* integrityProblems(
  before: Plan,
  after: Plan,
  operations: readonly Operation[],
): Generator<undefined, OperationProblem[]> {
  const problems: OperationProblem[] = [];
  const owners = new Owners(after);
  for (const kind of new Set(operations.filter(changesKey).map((operation) => operation.kind as Kind)))
    yield* owners.read(kind);
  const referrers = referrersOf(after, operations);
  yield;
  for (const [at, operation] of operations.entries()) {
    if (at % STEP === STEP - 1) yield;
    if (problems.length >= MAX_PROBLEMS) return problems.slice(0, MAX_PROBLEMS);
    if (operation.kind === 'settings') continue;
    if (operation.op === 'remove') {
      problems.push(...removalProblems(before, after, operation, at, referrers));
      continue;
    }
    const id = operation.op === 'add' ? operation.entity.id : operation.id;
    const entity = byId<Entity>(after[operation.kind], id);
    if (entity === undefined) continue;
    const fields = new Set(Object.keys(operation.op === 'add' ? operation.entity : operation.fields));
    const missing = missingReferences(after, operation.kind, entity, fields, at);
    problems.push(...missing);
    if (missing.length === 0) {
      const wrong = kindRules(operation.kind).betweenEntities?.(after, entity) ?? [];
      problems.push(...wrong.map((problem) => ({ operation: at, ...problem })));
    }
    if (changesKey(operation) && owners.isTaken(operation.kind, entity))
      problems.push({ operation: at, ...formatTaken(operation.kind, entity) });
  }
  problems.push(...lockProblems(before, after, operations));
  return problems.slice(0, MAX_PROBLEMS);
}

function removalProblems(
  before: Plan,
  after: Plan,
  { kind, id }: Removal,
  at: number,
  referrers: ReadonlyMap<string, Referrer>,
): OperationProblem[] {
  const gone = byId<Entity>(before[kind], id);
  // Added back by a later step, or never there.
  if (gone === undefined || byId<Entity>(after[kind], id) !== undefined) return [];
  const hanging = referrers.get(id);
  if (hanging === undefined)
    return (kindRules(kind).afterRemoval?.(after, gone) ?? []).map((problem) => ({
      operation: at,
      ...problem,
      field: 'id',
    }));
  return [
    {
      operation: at,
      field: 'id',
      code: 'entity.referred-to',
      message: `The ${kindNames[kind]} ${labelOf(after, kind, gone)} is still used by the ${kindNames[hanging.kind]} ${labelOf(after, hanging.kind, hanging.entity)}.`,
      fix: `Move or remove that ${kindNames[hanging.kind]} first.`,
    },
  ];
}

interface Referrer {
  readonly kind: Kind;
  readonly entity: Entity;
}

/** For each removed id that something still refers to, the first that does. Every collection is read once, however much is removed. */
function referrersOf(plan: Plan, operations: readonly Operation[]): Map<string, Referrer> {
  const removed = new Map<Kind, Set<string>>();
  for (const operation of operations) {
    if (operation.op !== 'remove') continue;
    removed.set(operation.kind, (removed.get(operation.kind) ?? new Set()).add(operation.id));
  }
  const found = new Map<string, Referrer>();
  if (removed.size === 0) return found;
  for (const kind of kinds) {
    const fields = referenceFields(kind).filter(({ rule }) => removed.has(rule.to));
    if (fields.length === 0) continue;
    for (const entity of plan[kind]) {
      for (const { field, rule } of fields) {
        for (const id of idsIn(entity, field))
          if (removed.get(rule.to)?.has(id) === true && !found.has(id)) found.set(id, { kind, entity });
      }
    }
  }
  return found;
}

function missingReferences(
  plan: Plan,
  kind: Kind,
  entity: Entity,
  fields: ReadonlySet<string>,
  at: number,
): OperationProblem[] {
  return referenceFields(kind).flatMap(({ field, rule }) => {
    if (!fields.has(field) || idsIn(entity, field).every((id) => byId<Entity>(plan[rule.to], id) !== undefined))
      return [];
    return [
      {
        operation: at,
        field,
        code: 'reference.missing',
        message: `${rule.label}: that ${kindNames[rule.to]} is not in the plan.`,
        fix: `Choose a ${kindNames[rule.to]} of this plan.`,
      },
    ];
  });
}

/** Whether an operation says something of the fields that a unique key is made of. */
function changesKey(operation: Operation): boolean {
  if (operation.kind === 'settings' || operation.op === 'remove') return false;
  const said = operation.op === 'add' ? operation.entity : operation.fields;
  return keyFieldsOf(operation.kind).some((field) => Object.hasOwn(said, field));
}

/** Who holds each unique key of a plan, of the kinds that were read. */
class Owners {
  private readonly ofKind = new Map<Kind, Map<string, string>>();

  constructor(private readonly plan: Plan) {}

  isTaken(kind: Kind, entity: Entity): boolean {
    const key = uniqueKeyOf(kind, entity);
    return key !== undefined && this.ofKind.get(kind)?.get(key) !== entity.id;
  }

  /** Reads the keys of a kind, in steps. */
  *read(kind: Kind): Generator<undefined, void> {
    const owners = new Map<string, string>();
    this.ofKind.set(kind, owners);
    for (const [at, other] of (this.plan[kind] as readonly Entity[]).entries()) {
      const key = uniqueKeyOf(kind, other);
      // A key with two owners belongs to neither.
      if (key !== undefined) owners.set(key, owners.has(key) ? 'several' : other.id);
      if (at % STEP === STEP - 1) yield;
    }
  }
}

function formatTaken(kind: Kind, entity: Entity) {
  return (
    kindOf[kind].unique?.taken ?? {
      field: 'name',
      code: 'name.taken',
      message: `The name "${'name' in entity ? entity.name : ''}" is taken by another ${kindNames[kind]}.`,
      fix: 'Choose another name.',
    }
  );
}

/** How a person knows an entity, in a sentence: a name in quotes, or what tells it from the others. */
export function labelOf(plan: Plan, kind: Kind, entity: Entity | undefined): string {
  if (entity === undefined) return '';
  const label = kindRules(kind).label(entity, plan);
  return 'name' in entity ? `"${label}"` : label;
}
