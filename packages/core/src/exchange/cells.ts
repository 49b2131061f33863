import { formatAddress, formatPrefix, parseAddress, parsePrefix } from '../address/index.js';
import { byId, kindNames } from '../plan/index.js';
import type { Entity, FieldRule, Kind, Plan } from '../plan/index.js';

/** A cell read as the value of its field, or why it cannot be. */
export type Cell = { ok: true; value: unknown } | { ok: false; message: string; mend: string };

/** Reads one cell by its field's rule; what has the wrong form is handed on and refused by the rule. */
export function readCell(rule: FieldRule, cell: unknown, names: NameBook): Cell {
  const value = typeof cell === 'string' ? cell.trim() : cell;
  switch (rule.type) {
    case 'text':
    case 'date':
      return { ok: true, value: readText(value) };
    case 'decimal':
      return { ok: true, value: typeof value === 'string' && /^-?\d+(\.\d+)?$/.test(value) ? Number(value) : value };
    case 'integer':
    case 'optionalInteger':
      return {
        ok: true,
        value:
          typeof value === 'string' && /^\/?\d[\d,\u00a0 ]*$/.test(value) ? Number(value.replace(/[^\d]/g, '')) : value,
      };
    case 'choice':
      return {
        ok: true,
        value:
          typeof value === 'string' ? (rule.options.find((option) => option === value.toLowerCase()) ?? value) : value,
      };
    case 'flag':
      return { ok: true, value: readFlag(value) };
    case 'prefix':
      return { ok: true, value: standardPrefix(value) };
    case 'address':
      return { ok: true, value: standardAddress(value) };
    case 'reference':
      return names.find(rule.to, value);
    case 'references': {
      const whole = typeof value === 'string' ? names.find(rule.to, value) : undefined;
      if (whole?.ok === true) return { ok: true, value: [whole.value] };
      const found = asNames(value).map((item) => names.find(rule.to, item));
      const bad = found.find((each) => !each.ok);
      return bad ?? { ok: true, value: found.map((each) => (each.ok ? each.value : '')) };
    }
    case 'prefixes':
      return { ok: true, value: asList(value).map(standardPrefix) };
    case 'choices':
      return {
        ok: true,
        value: asChoices(rule.options, value).map((item) => (typeof item === 'string' ? item.toLowerCase() : item)),
      };
    case 'texts':
      // Labels and their like never hold these marks, and some hold spaces.
      return { ok: true, value: rule.form === undefined ? asList(value) : asNames(value) };
  }
}

function readText(value: unknown): unknown {
  // The apostrophe that keeps a spreadsheet from reading a formula is not part of the text.
  if (typeof value === 'string') return value.replace(/^'(?=[=+\-@\t\r])/, '').replace(/\r\n?/g, '\n');
  return typeof value === 'number' || typeof value === 'boolean' ? String(value) : value;
}

function readFlag(value: unknown): unknown {
  if (typeof value !== 'string') return value;
  if (/^(yes|true|y|1)$/i.test(value)) return true;
  return /^(no|false|n|0)$/i.test(value) ? false : value;
}

function standardPrefix(value: unknown): unknown {
  if (typeof value !== 'string') return value;
  const parsed = parsePrefix(value);
  return parsed.ok ? formatPrefix(parsed.value) : value;
}

function standardAddress(value: unknown): unknown {
  if (typeof value !== 'string') return value;
  const parsed = parseAddress(value);
  return parsed.ok ? formatAddress(parsed.value) : value;
}

function asList(value: unknown): unknown[] {
  if (Array.isArray(value)) return value;
  return String(value)
    .split(/[;,|\s]+/)
    .filter((part) => part !== '');
}

/** Choices can hold spaces; where one does, only other marks set them apart. */
function asChoices(options: readonly string[], value: unknown): unknown[] {
  return options.some((option) => option.includes(' ')) ? asNames(value) : asList(value);
}

/** Names hold spaces, so they are set apart by other marks. */
function asNames(value: unknown): unknown[] {
  if (Array.isArray(value)) return value;
  return String(value)
    .split(/[;|,]/)
    .flatMap((part) => (part.trim() === '' ? [] : [part.trim()]));
}

/** Finds entities by name, in any case, or by id. */
export class NameBook {
  private readonly ids = new Map<Kind, Map<string, string>>();

  constructor(private readonly plan: Plan) {}

  find(kind: Kind, value: unknown): Cell {
    if (typeof value !== 'string')
      return { ok: false, message: `${JSON.stringify(value)} names no ${kindNames[kind]}.`, mend: 'Give its name.' };
    if (byId<Entity>(this.plan[kind], value) !== undefined) return { ok: true, value };
    let names = this.ids.get(kind);
    if (names === undefined) {
      names = new Map(
        this.plan[kind].flatMap((entity) =>
          'name' in entity ? [[entity.name.trim().toLowerCase(), entity.id] as const] : [],
        ),
      );
      this.ids.set(kind, names);
    }
    const id = names.get(value.trim().toLowerCase());
    if (id !== undefined) return { ok: true, value: id };
    const known = [...names.keys()].slice(0, 5).join(', ');
    return {
      ok: false,
      message: `There is no ${kindNames[kind]} "${value}".`,
      mend:
        known === ''
          ? `Add the ${kindNames[kind]} first.`
          : `Known are ${known}${names.size > 5 ? ' and others' : ''}.`,
    };
  }
}
