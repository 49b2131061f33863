import { byId } from './collection.js';
import type { Entity, Kind, Plan } from './entities.js';
import type { FieldValue } from './fieldText.js';
import { touchedBy } from './operations.js';
import type { Operation } from './operations.js';
import { isSameValue } from './operationsBetween.js';

/** What a change did and what takes it back. */
interface Done {
  readonly operations: readonly Operation[];
  readonly inverse: readonly Operation[];
}

/** Where an edit meets what others changed since its author looked: one field, or a whole entity that is gone or came. */
export interface Clash {
  readonly kind: Kind | 'settings';
  /** Null for the plan's own fields. */
  readonly id: string | null;
  /** Null when the entity itself was removed or added. */
  readonly field: string | null;
  /** What the author began from; null with a null field. */
  readonly began: FieldValue;
  /** What it is now; null with a null field. */
  readonly theirs: FieldValue;
  /** What the edit sets; null when it removes the entity. */
  readonly mine: FieldValue;
  readonly isRemoval: boolean;
}

/**
 * What an edit would overwrite unseen: fields whose value is neither what its author began from nor what the edit sets,
 * and entities that came or went. Later changes are those since the author looked, oldest first; `plan` is as they left it.
 */
export function clashesWith(plan: Plan, mine: readonly Operation[], later: readonly Done[]): readonly Clash[] {
  if (later.length === 0) return [];
  const before = valuesBefore(new Set(mine.map(touchedBy)), later);
  return mine.flatMap((operation) => {
    const began = before.get(touchedBy(operation));
    return began === undefined ? [] : clashesOf(plan, operation, began);
  });
}

/** The fields of one entity that later changes touched, each with its value from before the first of them. */
type Before = ReadonlyMap<string, FieldValue>;

function valuesBefore(wanted: ReadonlySet<string>, later: readonly Done[]): ReadonlyMap<string, Before> {
  const found = new Map<string, Map<string, FieldValue>>();
  for (const { operations, inverse } of later) {
    const given = new Map<string, Map<string, FieldValue>>();
    // What was added had no values before.
    for (const operation of operations)
      if (operation.op === 'add') noteFields(given, wanted, operation, () => null);
      else if (wanted.has(touchedBy(operation))) placeOf(given, touchedBy(operation));
    // The inverse is applied in its order, so that the last value it gives a field is the one from before the change.
    for (const operation of inverse)
      if (operation.op !== 'remove') noteFields(given, wanted, operation, (value) => value);
    for (const [key, fields] of given) {
      const earlier = placeOf(found, key);
      for (const [field, value] of fields) if (!earlier.has(field)) earlier.set(field, value);
    }
  }
  return found;
}

type Fields = Map<string, Map<string, FieldValue>>;

function placeOf(fields: Fields, key: string): Map<string, FieldValue> {
  const place = fields.get(key) ?? new Map<string, FieldValue>();
  fields.set(key, place);
  return place;
}

function noteFields(
  fields: Fields,
  wanted: ReadonlySet<string>,
  operation: Exclude<Operation, { readonly op: 'remove' }>,
  before: (value: FieldValue) => FieldValue,
): void {
  const key = touchedBy(operation);
  if (!wanted.has(key)) return;
  const place = placeOf(fields, key);
  const values = operation.op === 'add' ? operation.entity : operation.fields;
  for (const [field, value] of Object.entries(values)) place.set(field, before(value));
}

function clashesOf(plan: Plan, operation: Operation, before: Before): readonly Clash[] {
  const kind = operation.kind;
  const id = kind === 'settings' ? null : operation.op === 'add' ? operation.entity.id : operation.id;
  const present = kind === 'settings' ? plan.settings : byId<Entity>(plan[kind], id ?? '');
  const isRemoval = operation.op === 'remove';
  const whole: Clash = { kind, id, field: null, began: null, theirs: null, mine: null, isRemoval };
  // An entity that is there again as it was, or gone again as it was not there, was not changed.
  if (operation.op === 'add') return present === undefined ? [] : [whole];
  if (present === undefined) return [whole];
  const valueOf = (field: string) => (present as unknown as Readonly<Record<string, FieldValue>>)[field] ?? null;
  const wanted = operation.op === 'set' ? (operation.fields as Readonly<Record<string, FieldValue>>) : undefined;
  return [...before].flatMap(([field, began]) => {
    if (field === 'id' || (wanted !== undefined && !Object.hasOwn(wanted, field))) return [];
    const theirs = valueOf(field);
    const sets = wanted?.[field] ?? null;
    const isKept = isSameValue(theirs, began) || (wanted !== undefined && isSameValue(theirs, sets));
    return isKept ? [] : [{ kind, id, field, began, theirs, mine: sets, isRemoval }];
  });
}
