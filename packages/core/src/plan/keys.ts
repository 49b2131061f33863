import { parsePrefix } from '../address/index.js';
import { kindOf } from './entities.js';
import type { Entity, Kind } from './entities.js';
import type { AnyField } from './kinds/field.js';
import type { KeyPart } from './kinds/kind.js';

const SEPARATOR = '\u001f';

/** What may stand once only; undefined for a kind without such a key, and for an entity of an import that does not hold it yet. */
export function uniqueKeyOf(kind: Kind, entity: Partial<Entity>): string | undefined {
  const by = kindOf[kind].unique?.by;
  return by === undefined ? undefined : keyBy(kind, by, entity);
}

/** What makes a row of an import the same thing as an entity. */
export function sameRowKeyOf(kind: Kind, entity: Partial<Entity>): string | undefined {
  const by = kindOf[kind].sameRow ?? kindOf[kind].unique?.by;
  return by === undefined ? undefined : keyBy(kind, by, entity);
}

/** The same while the rest was only written another way; undefined for a kind that has no such key. */
export function looseKeyOf(kind: Kind, entity: Partial<Entity>): string | undefined {
  const by = kindOf[kind].sameRowLoosely;
  return by === undefined ? undefined : keyBy(kind, by, entity);
}

/** The fields that a unique key is made of. */
export function keyFieldsOf(kind: Kind): readonly string[] {
  return (kindOf[kind].unique?.by ?? []).map(fieldOf);
}

/** The field that tells a row of this kind from the others, for messages. */
export function tellingFieldOf(kind: Kind): AnyField | undefined {
  const { fields, sameRow, unique } = kindOf[kind];
  const parts = (sameRow ?? unique?.by ?? []).map(fieldOf);
  return fields['name'] ?? fields['prefix'] ?? fields[parts.at(-1) ?? ''];
}

function fieldOf(part: KeyPart): string {
  return typeof part === 'string' ? part : part.familyOf;
}

function keyBy(kind: Kind, by: readonly KeyPart[], entity: Partial<Entity>): string | undefined {
  // Keys are made of texts, references and choices.
  const values = entity as Readonly<Record<string, string | null | undefined>>;
  const parts: string[] = [];
  for (const part of by) {
    const value = values[fieldOf(part)];
    if (value === undefined) return undefined;
    const rule = kindOf[kind].fields[fieldOf(part)];
    if (typeof part !== 'string') {
      const parsed = parsePrefix(String(value));
      if (!parsed.ok) return undefined;
      parts.push(String(parsed.value.family));
    } else parts.push(rule?.type === 'text' && rule.compare !== 'exact' ? folded(String(value)) : String(value));
  }
  return parts.join(SEPARATOR);
}

function folded(text: string): string {
  return text.trim().toLowerCase();
}
