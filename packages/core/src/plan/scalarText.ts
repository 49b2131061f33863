import { formatAddress, formatPrefix, parseAddress, parsePrefix } from '../address/index.js';
import { mayBeEmpty } from './kinds/field.js';
import type { AnyField } from './kinds/field.js';

// Thousands may be set apart by commas or by any space, in threes: "1,5" is not fifteen.
const whole = /^-?(?:\d+|\d{1,3}(?:[,\s]\d{3})+)$/;
const fraction = /^-?(?:\d+|\d{1,3}(?:[,\s]\d{3})+)(?:\.\d+)?$/;

/** Reads a text as a value that stands alone; what has the wrong form is handed on and refused by the field's rule. */
export function readScalar(rule: AnyField, typed: string): unknown {
  const text = typed.trim();
  if (isEmptyFor(rule, text)) return null;
  switch (rule.type) {
    case 'integer':
    case 'optionalInteger': {
      const digits = rule.unit === 'bits' ? text.replace(/^\//, '') : text;
      return whole.test(digits) ? numberIn(digits) : text;
    }
    case 'decimal':
      return fraction.test(text) ? numberIn(text) : text;
    case 'choice':
      return optionLike(rule.options, text);
    case 'flag':
      if (/^(yes|true|y|1)$/i.test(text)) return true;
      return /^(no|false|n|0)$/i.test(text) ? false : text;
    case 'prefix':
      return standardPrefix(text);
    case 'address':
      return standardAddress(text);
    default:
      return text;
  }
}

/** A value that stands alone as the text that reads back as it. */
export function writeScalar(value: string | number | boolean | null): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return value === null ? '' : String(value);
}

/** Whether a text leaves an optional field empty: nothing, or the words that are shown for it. */
export function isEmptyFor(rule: AnyField, text: string): boolean {
  return mayBeEmpty(rule) && (text === '' || text.toLowerCase() === rule.empty?.toLowerCase());
}

/** The option that a text means, in any case; the text itself when it is none. */
export function optionLike(options: readonly string[], text: string): string {
  const sought = text.toLowerCase();
  return options.find((option) => option.toLowerCase() === sought) ?? text;
}

/** A prefix in its one standard form; what is none is handed on. */
export function standardPrefix(text: string): string {
  const parsed = parsePrefix(text);
  return parsed.ok ? formatPrefix(parsed.value) : text;
}

/** An address in its one standard form; what is none is handed on. */
export function standardAddress(text: string): string {
  const parsed = parseAddress(text);
  return parsed.ok ? formatAddress(parsed.value) : text;
}

function numberIn(text: string): number {
  return Number(text.replace(/[,\s]/g, ''));
}
