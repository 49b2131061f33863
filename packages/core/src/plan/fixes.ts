import { checkField } from './checkField.js';
import type { Cluster } from './entities.js';
import { fieldRules } from './fields.js';
import { templateFields } from './templateFields.js';
import type { FieldRule } from './fieldRule.js';

/** A field of a cluster that a template may fix. */
export type TemplateField = (typeof templateFields)[number];

/** A text of a template's fixes read as a field and its value, or what is wrong with it. */
export type ReadFix =
  | { readonly ok: true; readonly field: TemplateField; readonly value: unknown }
  | { readonly ok: false; readonly message: string; readonly mend: string };

const isTemplateField = (field: string): field is TemplateField =>
  (templateFields as readonly string[]).includes(field);

/** Reads "podMode=overlay": the field by its name or its label, the value by the field's rule. */
export function readFix(text: string): ReadFix {
  const at = text.indexOf('=');
  const [name, written] = at < 0 ? [text, ''] : [text.slice(0, at).trim(), text.slice(at + 1).trim()];
  const sought = name.toLowerCase();
  const field = templateFields.find(
    (each) => each.toLowerCase() === sought || fieldRules.clusters[each].label.toLowerCase() === sought,
  );
  if (at < 0 || field === undefined || !isTemplateField(field))
    return {
      ok: false,
      message: `"${text}" fixes no field of a cluster.`,
      mend: `Write field=value; the fields are ${templateFields.join(', ')}.`,
    };
  const rule = fieldRules.clusters[field];
  const value = readWritten(rule, written);
  const problem = checkField(rule, value);
  return problem === undefined
    ? { ok: true, field, value }
    : { ok: false, message: problem.message, mend: problem.mend };
}

/** Writes a fixed field as a text of a template's fixes. */
export function writeFix(field: TemplateField, value: Cluster[TemplateField]): string {
  const written = Array.isArray(value) ? value.join('+') : value === null ? '' : String(value);
  return `${field}=${written}`;
}

function readWritten(rule: FieldRule, written: string): unknown {
  switch (rule.type) {
    case 'integer':
    case 'decimal':
      return /^-?\d+(\.\d+)?$/.test(written) ? Number(written) : written;
    case 'optionalInteger':
      return written === '' ? null : /^\/?\d+$/.test(written) ? Number(written.replace('/', '')) : written;
    case 'flag':
      return /^(yes|true)$/.test(written) ? true : /^(no|false)$/.test(written) ? false : written;
    case 'choices':
      return written === '' ? [] : written.split('+');
    default:
      return written;
  }
}
