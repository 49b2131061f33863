import { formatPrefix, parsePrefix } from '../address/index.js';
import {
  addOperation,
  byId,
  checkEntity,
  checkField,
  fallbacks,
  kindNames,
  newId,
  rulesOf,
  uniqueKeyOf,
} from '../plan/index.js';
import type { Entity, FieldRule, Kind, Operation, Plan } from '../plan/index.js';
import { readRows } from './readRows.js';
import type { RawRow, RowSyntax } from './readRows.js';

/** Something wrong with a row: its line, its field, what it is and the mend. */
export interface RowProblem {
  readonly line: number;
  readonly field: string;
  readonly message: string;
  readonly mend: string;
}

/** What an import would do: rows that can be taken, and rows that cannot with the reason. */
export interface ImportPreview {
  readonly kind: Kind;
  readonly syntax: RowSyntax;
  readonly rowsRead: number;
  readonly good: readonly { readonly line: number; readonly entity: Entity; readonly label: string }[];
  readonly problems: readonly RowProblem[];
  /** The change that takes the good rows. */
  readonly operations: readonly Operation[];
}

/** Kinds that can be imported as rows. */
export const importableKinds = ['pools', 'inUse', 'clusters', 'networks', 'sites'] as const satisfies readonly Kind[];

/** Reads rows of one kind. Headings are field names or labels, in any case; references are given by name; empty cells take the usual value. */
export function importRows(plan: Plan, kind: Kind, text: string, syntax?: RowSyntax): ImportPreview {
  const read = readRows(text, syntax);
  if (read.problem !== undefined) {
    return {
      kind,
      syntax: read.syntax,
      rowsRead: 0,
      good: [],
      problems: [{ field: '', ...read.problem }],
      operations: [],
    };
  }
  const names = new NameBook(plan);
  const taken = new Set(plan[kind].map((entity) => keyOf(kind, entity)));
  const good: { line: number; entity: Entity; label: string }[] = [];
  const problems: RowProblem[] = [];
  for (const row of read.rows) {
    const { entity, wrong } = readRow(kind, row, names);
    const key = entity === undefined ? undefined : keyOf(kind, entity);
    if (entity !== undefined && key !== undefined && taken.has(key)) wrong.push(takenProblem(kind, row.line));
    problems.push(...wrong);
    if (entity === undefined || wrong.length > 0) continue;
    if (key !== undefined) taken.add(key);
    good.push({
      line: row.line,
      entity,
      label: 'name' in entity ? entity.name : 'prefix' in entity ? entity.prefix : '',
    });
  }
  const operations = good.map(({ entity }) => addOperation(kind, entity));
  return { kind, syntax: read.syntax, rowsRead: read.rows.length, good, problems, operations };
}

function keyOf(kind: Kind, entity: Entity): string | undefined {
  if ('owner' in entity) return `${entity.prefix} ${entity.owner.trim().toLowerCase()} ${entity.networkId ?? ''}`;
  return uniqueKeyOf(kind, entity);
}

function takenProblem(kind: Kind, line: number): RowProblem {
  if (kind === 'inUse')
    return {
      line,
      field: 'prefix',
      message: 'This range of that owner is in the plan or in an earlier row.',
      mend: 'Leave the row out.',
    };
  return {
    line,
    field: 'name',
    message: `A ${kindNames[kind]} of that name is in the plan or in an earlier row.`,
    mend: 'Rename it, or leave the row out.',
  };
}

function readRow(kind: Kind, row: RawRow, names: NameBook): { entity: Entity | undefined; wrong: RowProblem[] } {
  const rules = rulesOf(kind);
  const values: Record<string, unknown> = fallbacks(kind);
  const wrong: RowProblem[] = [];
  const report = (field: string, message: string, mend: string) => wrong.push({ line: row.line, field, message, mend });
  const seen = new Set<string>();
  for (const [heading, cell] of Object.entries(row.cells)) {
    const field = fieldNamed(rules, heading);
    if (field === undefined) {
      report(
        heading,
        `There is no field "${heading}".`,
        `The fields are ${Object.values(rules)
          .map((rule) => rule.label)
          .join(', ')}.`,
      );
      continue;
    }
    const rule = rules[field] as FieldRule;
    if (isEmptyCell(cell)) continue;
    seen.add(field);
    const value = readCell(rule, cell, names);
    const problem = value.ok ? checkField(rule, value.value) : value;
    if (problem !== undefined) report(rule.label, problem.message, problem.mend);
    else if (value.ok) values[field] = value.value;
  }
  for (const [field, rule] of Object.entries(rules)) {
    if (!seen.has(field) && !(field in values)) report(rule.label, `${rule.label} is empty.`, rule.help);
  }
  if (wrong.length > 0) return { entity: undefined, wrong };
  const entity = { id: newId(), ...values };
  for (const p of checkEntity(kind, entity)) report(rules[p.field]?.label ?? p.field, p.message, p.mend);
  // Every field was checked against its rule just above.
  return { entity: entity as unknown as Entity, wrong };
}

function isEmptyCell(cell: unknown): boolean {
  return cell === null || cell === undefined || (typeof cell === 'string' && cell.trim() === '');
}

function fieldNamed(rules: Readonly<Record<string, FieldRule>>, heading: string): string | undefined {
  const plain = (text: string) => text.toLowerCase().replace(/[^a-z0-9]/g, '');
  const sought = plain(heading);
  return Object.keys(rules).find(
    (field) =>
      plain(field) === sought ||
      plain(rules[field]?.label ?? '') === sought ||
      plain(field.replace(/Ids?$/, '')) === sought,
  );
}

type Cell = { ok: true; value: unknown } | { ok: false; message: string; mend: string };

function readCell(rule: FieldRule, cell: unknown, names: NameBook): Cell {
  const value = typeof cell === 'string' ? cell.trim() : cell;
  switch (rule.type) {
    case 'text':
      return { ok: true, value: readText(value) };
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
    case 'reference':
      return names.find(rule.to, value);
    case 'references': {
      const found = asList(value).map((item) => names.find(rule.to, item));
      const bad = found.find((each) => !each.ok);
      return bad ?? { ok: true, value: found.map((each) => (each.ok ? each.value : '')) };
    }
    case 'choices':
      return { ok: true, value: asList(value).map((item) => (typeof item === 'string' ? item.toLowerCase() : item)) };
    case 'texts':
      return { ok: true, value: asList(value) };
  }
}

function readText(value: unknown): unknown {
  if (typeof value === 'string') return value.replace(/\r\n?/g, '\n');
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

function asList(value: unknown): unknown[] {
  if (Array.isArray(value)) return value;
  return String(value)
    .split(/[;,|\s]+/)
    .filter((part) => part !== '');
}

/** Finds entities by name, in any case, or by id. */
class NameBook {
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
          'name' in entity ? [[entity.name.toLowerCase(), entity.id] as const] : [],
        ),
      );
      this.ids.set(kind, names);
    }
    const id = names.get(value.toLowerCase());
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
