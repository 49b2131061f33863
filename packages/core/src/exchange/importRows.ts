import {
  addOperation,
  applyOperations,
  byId,
  checkEntity,
  fallbacks,
  isSameValue,
  kindNames,
  kindRules,
  labelOf,
  looseKeyOf,
  newId,
  readFieldChecked,
  rulesOf,
  sameRowKeyOf,
  formatField,
  setOperation,
  tellingFieldOf,
} from '../plan/index.js';
import type { Entity, EntityOf, FieldRule, FieldValue, Kind, Operation, Plan } from '../plan/index.js';
import { blockOperations, isRangeColumn, rangeColumnNamed, rangeOperations, readRanges } from './clusterRanges.js';
import type { RangeColumn } from './clusterRanges.js';
import { makeMissing, missingReferences } from './missingReferences.js';
import type { MissingReference } from './missingReferences.js';
import { readRows } from './readRows.js';
import type { RawRow, RowSyntax } from './readRows.js';

/** Something wrong with a row: its line, its field, what it is and the mend. */
export interface RowProblem {
  readonly line: number;
  readonly field: string;
  readonly message: string;
  readonly fix: string;
}

/** A column of the text and the field it is read as. */
export interface ImportColumn {
  readonly heading: string;
  /** Field name, or a column for ranges; empty when the column is left out, undefined when nobody has said what it is. */
  readonly field: string | undefined;
}

/** What a good row would do to the plan. */
export interface ImportedRow {
  readonly line: number;
  readonly what: 'added' | 'changed' | 'unchanged';
  readonly label: string;
  /** The fields that would change, as texts. */
  readonly changes: readonly { readonly field: string; readonly before: string; readonly after: string }[];
  /** What comes along with it, in words: ranges of a cluster, and that it counts as built. */
  readonly along: readonly string[];
}

/** What an import would do: rows that can be taken, rows that cannot with the reason, and what the text does not name. */
export interface ImportPreview {
  readonly kind: Kind;
  readonly syntax: RowSyntax;
  readonly rowsRead: number;
  readonly columns: readonly ImportColumn[];
  readonly rows: readonly ImportedRow[];
  readonly problems: readonly RowProblem[];
  /** Sites and networks that rows name and the plan does not have; they are made in the same change when that is asked for. */
  readonly missing: readonly MissingReference[];
  /** The change that takes the good rows, and makes what they refer to where that was asked for. */
  readonly operations: readonly Operation[];
  /** Entities of the kind that no row names; they stay unless they are removed on purpose. */
  readonly absent: readonly { readonly id: string; readonly label: string }[];
}

/** How a text is read. */
export interface ImportOptions {
  readonly syntax?: RowSyntax;
  /** What to read columns as whose headings are no field: field name by heading, empty to leave the column out. */
  readonly fields?: Readonly<Record<string, string>>;
  /** Whether sites and networks that do not exist are made, and under which profile sites are. */
  readonly make?: {
    /** Other profiles than the guessed ones, by the name of the site in small letters. */
    readonly profileOf?: Readonly<Record<string, string>>;
  };
}

/**
 * Reads rows of one kind as a difference to the plan. Headings are field names or labels, in any case; references are
 * given by name; empty cells take the usual value in a new row and leave the field as it is in one that the plan has. Sites and
 * networks that rows name and nobody has entered are told, and made in the same change when asked for.
 */
export function importRows(plan: Plan, kind: Kind, text: string, options: ImportOptions = {}): ImportPreview {
  const read = readRows(text, options.syntax);
  if (read.problem !== undefined) {
    const problems = [{ field: '', ...read.problem }];
    return {
      kind,
      syntax: read.syntax,
      rowsRead: 0,
      columns: [],
      rows: [],
      problems,
      missing: [],
      operations: [],
      absent: [],
    };
  }
  const columns = columnsOf(kind, read.rows, options.fields ?? {});
  const fieldOf = new Map(columns.map(({ heading, field }) => [heading, field]));
  const missing = missingReferences(plan, kind, read.rows, (heading) => fieldOf.get(heading));
  const made = options.make === undefined ? [] : makeMissing(plan, missing, options.make.profileOf);
  const wider = applyOperations(plan, made);
  const reader = new RowReader(wider.ok ? wider.plan : plan, kind, columns);
  reader.takeAll(read.rows);
  return {
    kind,
    syntax: read.syntax,
    rowsRead: read.rows.length,
    columns,
    rows: reader.rows,
    problems: reader.problems,
    missing,
    operations: [...(wider.ok ? made : []), ...reader.operations],
    absent: plan[kind]
      .filter((entity) => !reader.named.has(entity.id))
      .map((entity) => ({ id: entity.id, label: labelOf(plan, kind, entity) })),
  };
}

function columnsOf(kind: Kind, rows: readonly RawRow[], chosen: Readonly<Record<string, string>>): ImportColumn[] {
  const rules = rulesOf(kind);
  const headings = new Set(rows.flatMap((row) => Object.keys(row.cells)));
  const meant = [...headings].map((heading) => ({
    heading,
    field: Object.hasOwn(chosen, heading) ? chosen[heading] : fieldNamed(kind, rules, heading),
  }));
  // Of two headings that mean one field the one that is called so, or was chosen, is it; what the other is, is asked.
  const isSure = ({ heading, field }: ImportColumn) =>
    Object.hasOwn(chosen, heading) ||
    plainText(heading) === plainText(rules[field ?? '']?.label ?? '') ||
    plainText(heading) === plainText(field ?? '');
  return meant.map((column, at) => {
    const { field } = column;
    if (field === undefined || field === '' || isRangeColumn(field)) return column;
    const rivals = meant.filter((each) => each.field === field);
    const first = rivals.find(isSure) ?? rivals[0];
    return rivals.length === 1 || first === meant[at] || Object.hasOwn(chosen, column.heading)
      ? column
      : { ...column, field: undefined };
  });
}

/** A heading as letters and digits alone. */
function plainText(text: string): string {
  return text.toLowerCase().replace(/[^a-z0-9]/g, '');
}

/** The field a heading means: its name or label in any spelling, the kind's own name for what it is called, or a usual word for it. */
function fieldNamed(kind: Kind, rules: Readonly<Record<string, FieldRule>>, heading: string): string | undefined {
  const sought = plainText(heading);
  const found = Object.keys(rules).find(
    (field) =>
      plainText(field) === sought ||
      plainText(rules[field]?.label ?? '') === sought ||
      rules[field]?.formerly?.some((label) => plainText(label) === sought) === true ||
      plainText(field.replace(/Ids?$/, '')) === sought,
  );
  if (found !== undefined) return found;
  if (Object.hasOwn(rules, 'name') && sought === plainText(kindNames[kind])) return 'name';
  return kindRules(kind).headings?.[sought] ?? (kind === 'clusters' ? rangeColumnNamed(sought) : undefined);
}

const noExtra = { operations: [], messages: [] } as const;

/** A row with what its cells say, before it is compared with the plan. */
interface Reading {
  readonly row: RawRow;
  readonly given: Record<string, unknown>;
  readonly entity: Entity;
  readonly ranges: ReadonlyMap<RangeColumn, readonly string[]>;
  readonly wrong: RowProblem[];
}

/** Turns rows into operations, one after the other, since a row can be wrong because of one before it. */
class RowReader {
  readonly rows: ImportedRow[] = [];
  readonly problems: RowProblem[] = [];
  readonly operations: Operation[] = [];
  /** Ids of the plan's entities that a row named, rightly or wrongly. */
  readonly named = new Set<string>();
  private readonly fieldOf: ReadonlyMap<string, string | undefined>;
  private readonly ids = new Map<string, string>();
  /** Ids of the plan's entities that a row names exactly. */
  private readonly exact = new Set<string>();
  private readonly looseIds = new Map<string, string | undefined>();
  private readonly lines = new Map<string, number>();
  /** Blocks that rows before made, by network and prefix. */
  private readonly blocks = new Set<string>();

  constructor(
    private readonly plan: Plan,
    private readonly kind: Kind,
    columns: readonly ImportColumn[],
  ) {
    this.fieldOf = new Map(columns.map(({ heading, field }) => [heading, field]));
    for (const entity of plan[kind]) {
      const key = sameRowKeyOf(kind, entity) ?? '';
      if (!this.ids.has(key)) this.ids.set(key, entity.id);
      const loose = looseKeyOf(kind, entity);
      // A key that two entities share says nothing about either.
      if (loose !== undefined) this.looseIds.set(loose, this.looseIds.has(loose) ? undefined : entity.id);
    }
  }

  /** Rows that name an entity exactly come first, so that none of the others is taken for a change of it. */
  takeAll(rows: readonly RawRow[]): void {
    const readings = rows.map((row) => this.read(row));
    for (const { entity } of readings) {
      const id = this.ids.get(sameRowKeyOf(this.kind, entity) ?? '');
      if (id !== undefined) this.exact.add(id);
    }
    for (const reading of readings) this.take(reading);
  }

  private read(row: RawRow): Reading {
    const wrong: RowProblem[] = [];
    const report = (field: string, message: string, fix: string) => wrong.push({ line: row.line, field, message, fix });
    const given = this.readCells(row, report);
    const ranges = this.readRanges(row, report);
    // Whether it is an entity of its kind is checked below.
    const followed = Object.entries(kindRules(this.kind).follows ?? {}).flatMap(([field, from]) =>
      given[from] === undefined ? [] : [[field, given[from]]],
    );
    const entity = {
      id: newId(),
      ...fallbacks(this.kind),
      ...Object.fromEntries(followed),
      ...given,
    } as unknown as Entity;
    return { row, given, entity, ranges, wrong };
  }

  private take({ row, given, entity, ranges, wrong }: Reading): void {
    const report = (field: string, message: string, fix: string) => wrong.push({ line: row.line, field, message, fix });
    const known = this.knownAs(entity);
    if (known !== undefined) this.named.add(known.id);
    if (wrong.length === 0) {
      if (known === undefined) this.checkNew(entity, report);
      else this.checkChanged(known, given, report);
    }
    const key = sameRowKeyOf(this.kind, { ...known, ...entity }) ?? '';
    const earlier = this.lines.get(key);
    if (wrong.length === 0 && earlier !== undefined)
      report(
        tellingFieldOf(this.kind)?.label ?? '',
        `Line ${earlier} names the same ${kindNames[this.kind]}.`,
        'Leave one of the two out, or rename it.',
      );
    // A cluster that has addresses stands already, unless the list says otherwise.
    const isStanding =
      known === undefined &&
      this.kind === 'clusters' &&
      given['isBuilt'] === undefined &&
      [...ranges.keys()].some((column) => column !== '+block');
    const whole = (
      known === undefined ? { ...entity, ...(isStanding ? { isBuilt: true } : {}) } : { ...known, ...given }
    ) as Entity;
    const extra =
      wrong.length > 0 || ranges.size === 0 ? noExtra : this.rangesOf(whole as EntityOf['clusters'], ranges, report);
    this.problems.push(...wrong);
    if (wrong.length > 0) return;
    this.lines.set(key, row.line);
    const along = isStanding ? ['counts as built', ...extra.messages] : extra.messages;
    if (known === undefined) this.add(row.line, whole, along);
    else this.change(row.line, known, given, along);
    this.operations.push(...extra.operations);
  }

  private readRanges(row: RawRow, report: (field: string, message: string, fix: string) => void) {
    const ranges = new Map<RangeColumn, readonly string[]>();
    for (const [heading, cell] of Object.entries(row.cells)) {
      const column = this.fieldOf.get(heading) ?? '';
      if (!isRangeColumn(column) || isEmptyCell(cell)) continue;
      ranges.set(column, [...(ranges.get(column) ?? []), ...readRanges(this.plan, column, cell, report)]);
    }
    return ranges;
  }

  private rangesOf(
    cluster: EntityOf['clusters'],
    ranges: Reading['ranges'],
    report: (field: string, message: string, fix: string) => void,
  ) {
    const { operations, messages } = rangeOperations(this.plan, cluster, ranges, report);
    return {
      operations: [...blockOperations(this.plan, cluster.networkId, ranges, this.blocks), ...operations],
      messages,
    };
  }

  private readCells(row: RawRow, report: (field: string, message: string, fix: string) => void) {
    const rules = rulesOf(this.kind);
    const given: Record<string, unknown> = {};
    for (const [heading, cell] of Object.entries(row.cells)) {
      const field = this.fieldOf.get(heading);
      if (field === '' || isEmptyCell(cell) || isRangeColumn(field ?? '')) continue;
      const rule = field === undefined ? undefined : rules[field];
      if (field === undefined || rule === undefined) {
        report(heading, `There is no field "${heading}".`, 'Say which field it is, or leave the column out.');
        continue;
      }
      const value = readFieldChecked(this.plan, rule, cell);
      if (value.ok) given[field] = value.value;
      else report(rule.label, value.problem.message, value.problem.fix);
    }
    return given;
  }

  private knownAs(entity: Entity): Entity | undefined {
    const loose = looseKeyOf(this.kind, entity);
    const similar = loose === undefined ? undefined : this.looseIds.get(loose);
    const id =
      this.ids.get(sameRowKeyOf(this.kind, entity) ?? '') ??
      (similar === undefined || this.exact.has(similar) ? undefined : similar);
    return id === undefined ? undefined : byId<Entity>(this.plan[this.kind], id);
  }

  private checkNew(entity: Entity, report: (field: string, message: string, fix: string) => void): void {
    const rules = rulesOf(this.kind);
    const missing = Object.entries(rules).filter(([field]) => !Object.hasOwn(entity, field));
    for (const [, rule] of missing) report(rule.label, `${rule.label} is empty.`, rule.help);
    if (missing.length > 0) return;
    for (const p of checkEntity(this.kind, { ...entity })) report(rules[p.field]?.label ?? p.field, p.message, p.fix);
    for (const p of kindRules(this.kind).mistypes?.(this.plan, entity) ?? [])
      report(rules[p.field]?.label ?? p.field, p.message, p.fix);
  }

  private checkChanged(
    known: Entity,
    given: Record<string, unknown>,
    report: (field: string, message: string, fix: string) => void,
  ): void {
    const rules = rulesOf(this.kind);
    for (const p of checkEntity(this.kind, { ...known, ...given }))
      report(rules[p.field]?.label ?? p.field, p.message, p.fix);
  }

  private add(line: number, entity: Entity, along: readonly string[]): void {
    // Checked whole just before.
    this.operations.push(addOperation(this.kind, entity));
    this.rows.push({ line, what: 'added', label: kindRules(this.kind).label(entity, this.plan), changes: [], along });
  }

  private change(line: number, known: Entity, given: Record<string, unknown>, along: readonly string[]): void {
    const old = known as unknown as Record<string, unknown>;
    const differing = Object.entries(given).filter(([field, value]) => !isSameValue(old[field], value));
    const say = (field: string, value: unknown) =>
      formatField(this.plan, rulesOf(this.kind)[field] as FieldRule, value as FieldValue);
    const changes = differing.map(([field, value]) => ({
      field: rulesOf(this.kind)[field]?.label ?? field,
      before: say(field, old[field]),
      after: say(field, value),
    }));
    if (changes.length > 0)
      this.operations.push(setOperation(this.kind, known.id, Object.fromEntries(differing) as Partial<EntityOf[Kind]>));
    const what = changes.length + along.length > 0 ? 'changed' : 'unchanged';
    this.rows.push({ line, what, label: kindRules(this.kind).label(known, this.plan), changes, along });
  }
}

function isEmptyCell(cell: unknown): boolean {
  return cell === null || cell === undefined || (typeof cell === 'string' && cell.trim() === '');
}
