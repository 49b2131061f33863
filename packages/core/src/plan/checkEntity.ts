import { checkField, isId, formatGiven } from './checkField.js';
import type { Entity, Kind } from './entities.js';
import { rulesOf } from './fields.js';
import { kindRules } from './kinds/kindRules.js';
import { wrong } from './kinds/rules.js';
import type { FieldProblem } from './kinds/rules.js';

/** Checks the given fields: unknown names are refused, values go by their rules. */
export function checkFields(kind: Kind | 'settings', fields: Readonly<Record<string, unknown>>): FieldProblem[] {
  const rules = rulesOf(kind);
  const found: FieldProblem[] = [];
  for (const [field, value] of Object.entries(fields)) {
    const rule = Object.hasOwn(rules, field) ? rules[field] : undefined;
    if (rule === undefined) {
      const known = `The fields are ${Object.keys(rules).join(', ')}.`;
      found.push(wrong(field, 'field.unknown', `"${field}" is not a field here.`, known));
      continue;
    }
    const problem = checkField(rule, value);
    if (problem !== undefined) found.push({ field, ...problem });
  }
  return found;
}

/** Checks a whole entity: id, no field missing, none unknown, each by its rule, then what holds between fields. */
export function checkEntity(kind: Kind, entity: Readonly<Record<string, unknown>>): FieldProblem[] {
  const { id, ...fields } = entity;
  const found = checkFields(kind, fields);
  if (!isId(id))
    found.push(wrong('id', 'field.id', `${formatGiven(id)} is not an id.`, 'Ids are UUIDs in lower case.'));
  for (const field of Object.keys(rulesOf(kind))) {
    if (!Object.hasOwn(fields, field)) found.push(wrong(field, 'field.missing', `"${field}" is missing.`, 'Add it.'));
  }
  return found.length > 0 ? found : checkBetweenFields(kind, entity);
}

/** What must hold between the fields of one entity whose fields are each good. */
export function checkBetweenFields(kind: Kind, entity: Readonly<Record<string, unknown>>): FieldProblem[] {
  return kindRules(kind).betweenFields?.(entity as unknown as Entity) ?? [];
}
