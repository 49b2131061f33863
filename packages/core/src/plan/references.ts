import { kinds } from './entities.js';
import type { Entity, FieldRule, Kind } from './entities.js';
import { rulesOf } from './fields.js';

/** A field that refers to other entities. */
export interface ReferenceField {
  readonly field: string;
  readonly rule: FieldRule & { readonly type: 'reference' | 'references' };
}

function referencesIn(kind: Kind): ReferenceField[] {
  return Object.entries(rulesOf(kind)).flatMap(([field, rule]) =>
    rule.type === 'reference' || rule.type === 'references' ? [{ field, rule }] : [],
  );
}

const fieldsOf = Object.fromEntries(kinds.map((kind) => [kind, referencesIn(kind)])) as Record<Kind, ReferenceField[]>;

/** The fields of a kind that refer to other entities, to one kind only when it is given. */
export function referenceFields(kind: Kind, to?: Kind): readonly ReferenceField[] {
  return to === undefined ? fieldsOf[kind] : fieldsOf[kind].filter(({ rule }) => rule.to === to);
}

/** The ids that a field of an entity refers to. */
export function idsIn(entity: Entity, field: string): readonly string[] {
  const value = (entity as unknown as Readonly<Record<string, string | readonly string[] | null>>)[field];
  if (value === null || value === undefined) return [];
  return typeof value === 'string' ? [value] : value;
}
