import { stringify } from 'yaml';
import { shownRules, writeField } from '../plan/index.js';
import type { Entity, FieldRule, FieldValue, Kind, Plan } from '../plan/index.js';
import type { RowSyntax } from './readRows.js';
import { rowsAsCsv } from './rowsAsCsv.js';

/** Writes entities of a kind, all where none are given, as rows that an import reads back: references by name; CSV with labels, else field names. */
export function exportRows(
  plan: Plan,
  kind: Kind,
  syntax: RowSyntax,
  entities: readonly Entity[] = plan[kind],
): string {
  const rules = shownRules(kind);
  // Every field of an entity is one of these.
  const valueOf = (entity: Entity, field: string) => (entity as unknown as Record<string, FieldValue>)[field] ?? null;
  if (syntax === 'csv') {
    const columns = rules.map(([, rule]) => rule.label);
    const rows = entities.map((entity) =>
      Object.fromEntries(rules.map(([field, rule]) => [rule.label, cellOf(plan, rule, valueOf(entity, field))])),
    );
    return rowsAsCsv(columns, rows);
  }
  const rows = entities.map((entity) =>
    Object.fromEntries(rules.map(([field, rule]) => [field, named(plan, rule, valueOf(entity, field))])),
  );
  return syntax === 'json' ? `${JSON.stringify(rows, null, 2)}\n` : stringify(rows, { aliasDuplicateObjects: false });
}

function cellOf(plan: Plan, rule: FieldRule, value: FieldValue): string | number {
  return typeof value === 'number' ? value : writeField(plan, rule, value);
}

/** A value as JSON and YAML hold it: references by name, all else as it is. */
function named(plan: Plan, rule: FieldRule, value: FieldValue): FieldValue {
  if (value === null) return null;
  if (rule.type === 'reference') return writeField(plan, rule, value);
  if (rule.type !== 'references') return value;
  return (value as readonly string[]).map((id) => writeField(plan, rule, [id]));
}
