import { shownName, storedName } from '../zones/index.js';
import { good } from '../result.js';
import type { Result } from '../result.js';
import { checkField } from './checkField.js';
import { byId } from './collection.js';
import { listMarks } from './forms.js';
import type { Entity, FieldRule, Plan } from './entities.js';
import { keptFieldValue, showFieldValue } from './fieldValues.js';
import { kindRules } from './kinds/kindRules.js';
import { idNamed } from './nameBook.js';
import { isEmptyFor, optionLike, readScalar, standardAddress, standardPrefix, writeScalar } from './scalarText.js';
import { formatNumber } from '../working/index.js';

/** What a field of an entity can hold. */
export type FieldValue = string | number | boolean | readonly string[] | null;

// Names hold spaces, so lists are set apart by other marks.
const marks = listMarks(undefined).read;

/**
 * Reads what was typed, pasted or imported as a field's value: the one reader for cells, forms, imports and templates.
 * A value that is no text (from JSON or YAML) is taken as it is, lists and references apart. What has the wrong form is
 * handed on, for the field's rule to refuse; only a name that nothing has is a problem here.
 */
export function readField(plan: Plan, rule: FieldRule, typed: unknown): Result<unknown> {
  switch (rule.type) {
    case 'reference': {
      const text = typeof typed === 'string' ? typed.trim() : typed;
      if (text === null || (typeof text === 'string' && isNone(plan, rule, text))) return good(null);
      return idNamed(plan, rule.to, text);
    }
    case 'references':
      return idsNamed(plan, rule, typed);
    case 'prefixes':
      return good(items(typed, /[;|,\s]/).map((item) => (typeof item === 'string' ? standardPrefix(item) : item)));
    case 'addresses':
      return good(items(typed, /[;|,\s]/).map((item) => (typeof item === 'string' ? standardAddress(item) : item)));
    case 'choices':
      return good(
        items(typed, marks).map((item) => (typeof item === 'string' ? optionLike(rule.options, item) : item)),
      );
    case 'texts':
      return good(
        items(typed, listMarks(rule.form).read).map((item) =>
          rule.form === 'fieldValue' && typeof item === 'string' ? keptFieldValue(item) : item,
        ),
      );
    case 'text': {
      const text = readText(typed);
      return good(rule.isDomain === true && typeof text === 'string' ? storedName(text.trim()) : text);
    }
    case 'date':
      return good(readText(typed));
    default:
      return good(typeof typed === 'string' ? readScalar(rule, typed) : typed);
  }
}

/** The same, and then held against the field's rule. */
export function readFieldChecked(plan: Plan, rule: FieldRule, typed: unknown): Result<unknown> {
  const read = readField(plan, rule, typed);
  const problem = read.ok ? checkField(rule, read.value) : undefined;
  return problem === undefined ? read : { ok: false, problem };
}

/** A field's value as the text an editor starts with and an export writes; `readField` reads it back. */
export function writeField(plan: Plan, rule: FieldRule, value: FieldValue): string {
  if (value === null) return '';
  if (rule.type === 'reference') return labelFor(plan, rule.to, String(value));
  if (rule.type === 'references')
    return (value as readonly string[]).map((id) => nameFor(plan, rule.to, id)).join(', ');
  if (Array.isArray(value))
    return value
      .map((item: string) => (holdsFieldValues(rule) ? showFieldValue(item) : item))
      .join(rule.type === 'texts' ? listMarks(rule.form).write : ', ');
  return writeScalar(value as string | number | boolean);
}

/** A field's value as it is shown: numbers with thousands set apart, prefix lengths with their slash, words for what is empty. */
export function formatField(plan: Plan, rule: FieldRule, value: FieldValue): string {
  if (value === null) return rule.empty ?? '';
  if (rule.type === 'reference') return labelFor(plan, rule.to, String(value));
  if (rule.type === 'references')
    return (value as readonly string[]).map((id) => labelFor(plan, rule.to, id)).join(', ');
  if (rule.type === 'text' && rule.isDomain === true) return shownName(String(value));
  if (typeof value !== 'number') return writeField(plan, rule, value);
  return 'unit' in rule && rule.unit === 'bits' ? `/${value}` : formatNumber(value);
}

function holdsFieldValues(rule: FieldRule): boolean {
  return rule.type === 'texts' && rule.form === 'fieldValue';
}

/** The words for an empty reference mean none, unless something is called that. */
function isNone(plan: Plan, rule: FieldRule & { type: 'reference' }, text: string): boolean {
  return text === '' || (isEmptyFor(rule, text) && !idNamed(plan, rule.to, text).ok);
}

function idsNamed(plan: Plan, rule: FieldRule & { type: 'references' }, typed: unknown): Result<unknown> {
  // A name may hold the marks that set names apart.
  const whole = typeof typed === 'string' && typed.trim() !== '' ? idNamed(plan, rule.to, typed) : undefined;
  if (whole?.ok === true) return good([whole.value]);
  const ids: string[] = [];
  for (const item of items(typed, marks)) {
    const found = idNamed(plan, rule.to, item);
    if (!found.ok) return found;
    ids.push(found.value);
  }
  return good(ids);
}

function readText(typed: unknown): unknown {
  // The apostrophe that keeps a spreadsheet from reading a formula is not part of the text.
  if (typeof typed === 'string')
    return typed
      .trim()
      .replace(/^'(?=[=+\-@\t\r])/, '')
      .replace(/\r\n?/g, '\n');
  return typeof typed === 'number' || typeof typed === 'boolean' ? String(typed) : typed;
}

function items(typed: unknown, mark: RegExp): readonly unknown[] {
  if (Array.isArray(typed)) return typed;
  if (typeof typed !== 'string') return [typed];
  return typed.split(mark).flatMap((item) => (item.trim() === '' ? [] : [item.trim()]));
}

function labelFor(plan: Plan, kind: FieldRule['to'] & string, id: string): string {
  const entity = byId<Entity>(plan[kind], id);
  return entity === undefined ? '' : kindRules(kind).label(entity, plan);
}

/** A name that holds the marks that set names apart is given as the id, which is read too. */
function nameFor(plan: Plan, kind: FieldRule['to'] & string, id: string): string {
  const label = labelFor(plan, kind, id);
  return marks.test(label) ? id : label;
}
