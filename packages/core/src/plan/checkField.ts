import { formatAddress, formatPrefix, parseAddress, parsePrefix } from '../address/index.js';
import { bad } from '../result.js';
import type { Problem } from '../result.js';
import { kindNames } from './entities.js';
import type { FieldRule } from './entities.js';
import { formExamples, hasForm, listMarks } from './forms.js';

const uuidPattern = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** Whether the value can be the id of an entity (a UUID in lower case, RFC 9562). */
export function isId(value: unknown): value is string {
  return typeof value === 'string' && uuidPattern.test(value);
}

const problem = (code: string, message: string, fix: string): Problem => bad(code, message, fix).problem;

/** Levels of lists and objects in one another that a message writes out. */
const MAX_LEVELS = 3;

/** A value as it is named in a message: whatever was given, however large or deep. */
export const formatGiven = (value: unknown): string => {
  const text =
    value === undefined
      ? 'nothing'
      : typeof value === 'string'
        ? `"${value}"`
        : isDeep(value, MAX_LEVELS)
          ? `a ${Array.isArray(value) ? 'list' : 'map'} of many levels`
          : JSON.stringify(value);
  return text.length > 60 ? `${text.slice(0, 57)}...` : text;
};

const isTextList = (value: readonly unknown[]): value is readonly string[] =>
  value.every((item) => typeof item === 'string');

function isDeep(value: unknown, levels: number): boolean {
  if (typeof value !== 'object' || value === null) return false;
  return levels === 0 || Object.values(value).some((each) => isDeep(each, levels - 1));
}

/** Checks one value against its field's rule; undefined when it is good. References are checked for form only. */
export function checkField(rule: FieldRule, value: unknown): Problem | undefined {
  const label = rule.label;
  switch (rule.type) {
    case 'text':
      // Texts that are compared are names; others may have lines.
      if (rule.compare !== undefined) return lineProblem(label, value, rule.min, rule.max);
      if (typeof value !== 'string')
        return problem('field.text', `${label}: ${formatGiven(value)} is not text.`, 'Write text.');
      return (
        checkText(label, value, rule.min, rule.max) ?? (rule.isNote === true ? checkNote(label, value) : undefined)
      );
    case 'optionalInteger':
      return value === null ? undefined : checkInteger(rule, value);
    case 'integer':
      return checkInteger(rule, value);
    case 'decimal':
      return value === null && rule.isOptional ? undefined : checkDecimal(rule, value);
    case 'choice':
      if (typeof value === 'string' && rule.options.includes(value)) return undefined;
      return problem(
        'field.choice',
        `${label}: ${formatGiven(value)} is not one of the choices.`,
        `Use ${rule.options.join(', ')}.`,
      );
    case 'flag':
      if (typeof value === 'boolean') return undefined;
      return problem('field.flag', `${label}: ${formatGiven(value)} is neither true nor false.`, 'Use true or false.');
    case 'prefix':
      return checkPrefix(label, value);
    case 'address':
      return value === null && rule.isOptional ? undefined : checkAddress(label, value);
    case 'addresses':
      return checkEach(rule, value, checkAddress);
    case 'reference':
      if (isId(value) || (rule.isOptional && value === null)) return undefined;
      return problem(
        'field.reference',
        `${label}: ${formatGiven(value)} names no ${kindNames[rule.to]}.`,
        `Choose a ${kindNames[rule.to]} of this plan.`,
      );
    case 'references':
      return checkList(rule, value, rule.max, (item) => isId(item), `a ${kindNames[rule.to]} of this plan`);
    case 'prefixes':
      return checkEach(rule, value, checkPrefix);
    case 'choices':
      return checkList(
        rule,
        value,
        rule.options.length,
        (item) => rule.options.includes(item),
        rule.options.join(', '),
      );
    case 'texts':
      return checkTexts(rule, value);
    case 'date':
      return isDay(value)
        ? undefined
        : problem('field.date', `${label}: ${formatGiven(value)} is not a day.`, 'Write one such as 2026-11-23.');
  }
}

/** A list of texts, each of which has a form of its own. */
function checkEach(
  rule: FieldRule & { readonly type: 'addresses' | 'prefixes' },
  value: unknown,
  check: (label: string, item: unknown) => Problem | undefined,
): Problem | undefined {
  const list = checkList(rule, value, rule.max, () => true, rule.type);
  return list ?? (value as string[]).map((item) => check(rule.label, item)).find((each) => each !== undefined);
}

function checkTexts(rule: FieldRule & { readonly type: 'texts' }, value: unknown): Problem | undefined {
  const { label, form, maxLength, max } = rule;
  // The marks that set the texts of a list apart cannot be part of one.
  const isText = (item: string) =>
    checkText(label, item, 1, maxLength) === undefined && !listMarks(form).read.test(item);
  if (form === undefined || form === 'fieldValue')
    return checkList(rule, value, max, isText, `1 to ${maxLength} characters without commas and semicolons`);
  return checkList(rule, value, max, (item) => isText(item) && hasForm(form, item), formExamples[form]);
}

function isDay(value: unknown): boolean {
  if (typeof value !== 'string' || !/^\d{4}-\d{2}-\d{2}$/.test(value)) return false;
  const day = new Date(`${value}T00:00:00Z`);
  return !Number.isNaN(day.getTime()) && day.toISOString().startsWith(value);
}

function checkText(label: string, value: string, min: number, max: number): Problem | undefined {
  if (value.trim().length < min) return problem('field.empty', `${label} is empty.`, 'Write something.');
  if (value.length > max)
    return problem('field.long', `${label} has ${value.length} characters; ${max} is the most.`, 'Shorten it.');
  // oxlint-disable-next-line no-control-regex -- control characters are exactly what is refused here
  if (/[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/.test(value))
    return problem('field.control', `${label} holds a control character.`, 'Remove it.');
  if (/\p{Surrogate}/u.test(value))
    return problem('field.surrogate', `${label} holds half of a character (a lone surrogate).`, 'Write it again.');
  if (/[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/.test(value))
    return problem('field.bidi', `${label} holds an invisible mark that turns the direction of text.`, 'Remove it.');
  return undefined;
}

// A private key in PEM (RFC 7468 10), or 32 bytes in base64 (RFC 4648 4) as keys of tunnels are printed. Digests and fingerprints are in base 16 and stay.
const keysInText = [/-----BEGIN [A-Z ]*PRIVATE KEY-----/, /(?<![A-Za-z0-9+/])[A-Za-z0-9+/]{43}=(?![A-Za-z0-9+/=])/];

/** What was pasted is never repeated: a message may be shown, stored or logged. */
function checkNote(label: string, value: string): Problem | undefined {
  if (!keysInText.some((pattern) => pattern.test(value))) return undefined;
  return problem(
    'field.key',
    `${label} holds what looks like a key, so it was not stored.`,
    'Write where the key is kept instead, and rotate any key you have pasted.',
  );
}

/** Checks one line that a person wrote, a name or a label: a text without line breaks and without marks that nobody sees. */
export function lineProblem(label: string, value: unknown, min: number, max: number): Problem | undefined {
  if (typeof value !== 'string')
    return problem('field.text', `${label}: ${formatGiven(value)} is not text.`, 'Write text.');
  const found = checkText(label, value, min, max);
  if (found !== undefined) return found;
  if (/[\t\n\u2028\u2029]/.test(value))
    return problem('field.line', `${label} holds a tab or a line break.`, 'Write it on one line.');
  if (/[\u00ad\u200b-\u200d\u2060\ufe00-\ufe0f\ufeff\u{e0000}-\u{e01ef}]/u.test(value))
    return problem('field.invisible', `${label} holds a character that nobody sees.`, 'Write it again without.');
  return undefined;
}

function formatBounds({ min, max }: { readonly min: number; readonly max: number }): string {
  return `${formatNumber(min)} to ${formatNumber(max)}`;
}

/** Every digit that was entered, with thousands separators. */
function formatNumber(value: number): string {
  return value.toLocaleString('en-US', { maximumFractionDigits: 20 });
}

function checkInteger(rule: FieldRule & { type: 'integer' | 'optionalInteger' }, value: unknown): Problem | undefined {
  const { label, min, max, unit } = rule;
  if (typeof value !== 'number' || !Number.isInteger(value)) {
    return problem(
      'field.integer',
      `${label}: ${formatGiven(value)} is not a whole number.`,
      `Write a number from ${formatBounds(rule)}.`,
    );
  }
  if (value >= min && value <= max) return undefined;
  return problem(
    'field.range',
    `${label}: ${formatNumber(value)} is outside ${formatBounds(rule)} ${unit}.`,
    `Write a number from ${formatBounds(rule)}.`,
  );
}

function checkDecimal(rule: FieldRule & { type: 'decimal' }, value: unknown): Problem | undefined {
  const { label, min, max, unit, decimals } = rule;
  // Made for a number that is wrong alone: saying numbers takes longer than all the rest of a check.
  const fix = () => `Write a number from ${formatBounds(rule)}, at most ${decimals} digits after the point.`;
  if (typeof value !== 'number' || !Number.isFinite(value))
    return problem('field.number', `${label}: ${formatGiven(value)} is not a number.`, fix());
  if (value < min || value > max)
    return problem('field.range', `${label}: ${formatNumber(value)} is outside ${formatBounds(rule)} ${unit}.`, fix());
  return Number(value.toFixed(decimals)) === value
    ? undefined
    : problem('field.decimals', `${label}: ${value} has more than ${decimals} digits after the point.`, fix());
}

function checkAddress(label: string, value: unknown): Problem | undefined {
  const fix = 'Write one such as 10.20.0.7.';
  if (typeof value !== 'string')
    return problem('field.address', `${label}: ${formatGiven(value)} is not an address.`, fix);
  const parsed = parseAddress(value);
  if (!parsed.ok) return problem(parsed.problem.code, `${label}: ${parsed.problem.message}`, parsed.problem.fix);
  const standard = formatAddress(parsed.value);
  if (standard === value) return undefined;
  return problem('field.address-form', `${label}: "${value}" is not in standard form.`, `Write ${standard}.`);
}

function checkPrefix(label: string, value: unknown): Problem | undefined {
  if (typeof value !== 'string')
    return problem(
      'field.prefix',
      `${label}: ${formatGiven(value)} is not a prefix.`,
      'Write one such as 10.20.0.0/16.',
    );
  const parsed = parsePrefix(value);
  if (!parsed.ok) return problem(parsed.problem.code, `${label}: ${parsed.problem.message}`, parsed.problem.fix);
  const standard = formatPrefix(parsed.value);
  if (standard === value) return undefined;
  return problem('field.prefix-form', `${label}: "${value}" is not in standard form.`, `Write ${standard}.`);
}

function checkList(
  rule: FieldRule & { min: number },
  value: unknown,
  max: number,
  isGood: (item: string) => boolean,
  accepted: string,
): Problem | undefined {
  const { label, min } = rule;
  if (!Array.isArray(value))
    return problem('field.list', `${label}: ${formatGiven(value)} is not a list.`, `Give a list of ${accepted}.`);
  const list: readonly unknown[] = value;
  if (!isTextList(list)) {
    const other: unknown = list.find((item) => typeof item !== 'string');
    return problem(
      'field.list',
      `${label}: ${formatGiven(other)} in the list is not text.`,
      `Give a list of ${accepted}.`,
    );
  }
  if (list.length < min || list.length > max) {
    return problem(
      'field.list-size',
      `${label}: ${list.length} given; ${min} to ${max} are needed.`,
      'Add or remove some.',
    );
  }
  if (new Set(list).size !== list.length)
    return problem('field.list-twice', `${label}: one is named twice.`, 'Remove the second.');
  const wrong = list.find((item) => !isGood(item));
  return wrong === undefined
    ? undefined
    : problem('field.list-item', `${label}: ${formatGiven(wrong)} is not accepted.`, `Use ${accepted}.`);
}
