import { checkField } from './checkField.js';
import { fieldRules } from './fields.js';
import type { FieldRule } from './entities.js';
import type { Cluster } from './kinds/clusters.js';
import { optionLike, readScalar, writeScalar } from './scalarText.js';
import { templateFields } from './templateFields.js';

/** A field of a cluster that a template may set. */
export type TemplateField = (typeof templateFields)[number];

/** A text of what a template sets, read as a field and its value, or what is wrong with it. */
export type ReadFieldValue =
  | { readonly ok: true; readonly field: TemplateField; readonly value: unknown }
  | { readonly ok: false; readonly message: string; readonly fix: string };

/** Reads "Pod network: overlay" or "podMode=overlay": the field by its label or its name, the value by the field's rule. */
export function readFieldValue(text: string): ReadFieldValue {
  const at = text.search(/[:=]/);
  const [name, written] = at < 0 ? [text, ''] : [text.slice(0, at).trim(), text.slice(at + 1).trim()];
  const sought = name.toLowerCase();
  const field = templateFields.find(
    (each) => each.toLowerCase() === sought || fieldRules.clusters[each].label.toLowerCase() === sought,
  );
  if (at < 0 || field === undefined)
    return {
      ok: false,
      message: `"${text}" sets no field of a cluster.`,
      fix: [
        'Write a field and its value, such as Pod network: overlay;',
        `the fields are ${templateFields.map((each) => fieldRules.clusters[each].label).join(', ')}.`,
      ].join(' '),
    };
  const rule = fieldRules.clusters[field];
  const value = readWritten(rule, written);
  const problem = checkField(rule, value);
  return problem === undefined ? { ok: true, field, value } : { ok: false, message: problem.message, fix: problem.fix };
}

/** Writes a field and its value as a template holds them: "podMode=overlay". */
export function writeFieldValue(field: TemplateField, value: Cluster[TemplateField]): string {
  return `${field}=${written(value)}`;
}

/** A text of what a template sets, with the field's label, as it is shown: "Pod network: overlay". What is none is handed on. */
export function showFieldValue(text: string): string {
  const read = readFieldValue(text);
  // Its value was read by the rule of its field.
  return read.ok ? `${fieldRules.clusters[read.field].label}: ${written(read.value as Cluster[TemplateField])}` : text;
}

/** A typed value as it is kept; what is none is handed on, for the rules to refuse. */
export function keptFieldValue(text: string): string {
  const read = readFieldValue(text);
  return read.ok ? writeFieldValue(read.field, read.value as Cluster[TemplateField]) : text;
}

// A list is joined by plus signs, since commas set the texts apart.
const LIST_MARK = '+';

function written(value: Cluster[TemplateField]): string {
  return typeof value === 'object' && value !== null ? value.join(LIST_MARK) : writeScalar(value);
}

function readWritten(rule: FieldRule, text: string): unknown {
  if (rule.type !== 'choices') return readScalar(rule, text);
  return text === '' ? [] : text.split(LIST_MARK).map((item) => optionLike(rule.options, item.trim()));
}
