import { stringify } from 'yaml';
import { byId, rulesOf } from '../plan/index.js';
import type { Entity, FieldRule, Kind, Plan } from '../plan/index.js';
import type { RowSyntax } from './readRows.js';
import { rowsAsCsv } from './rowsAsCsv.js';

/** Writes every entity of a kind as rows that an import reads back: references by name; CSV with labels, else field names. */
export function exportRows(plan: Plan, kind: Kind, syntax: RowSyntax): string {
  const rules = Object.entries(rulesOf(kind));
  const valueOf = (entity: Entity, field: string) => (entity as unknown as Record<string, unknown>)[field];
  if (syntax === 'csv') {
    const columns = rules.map(([, rule]) => rule.label);
    const rows = plan[kind].map((entity) =>
      Object.fromEntries(rules.map(([field, rule]) => [rule.label, sayCell(plan, rule, valueOf(entity, field))])),
    );
    return rowsAsCsv(columns, rows);
  }
  const rows = plan[kind].map((entity) =>
    Object.fromEntries(rules.map(([field, rule]) => [field, named(plan, rule, valueOf(entity, field))])),
  );
  return syntax === 'json' ? `${JSON.stringify(rows, null, 2)}\n` : stringify(rows, { aliasDuplicateObjects: false });
}

/** A field's value as a cell: references by name, lists with semicolons, flags as yes and no. */
export function sayCell(plan: Plan, rule: FieldRule, value: unknown): string | number {
  const shown = named(plan, rule, value);
  if (shown === null || shown === undefined) return '';
  if (Array.isArray(shown)) return shown.join('; ');
  if (typeof shown === 'boolean') return shown ? 'yes' : 'no';
  return typeof shown === 'number' ? shown : typeof shown === 'string' ? shown : JSON.stringify(shown);
}

function named(plan: Plan, rule: FieldRule, value: unknown): unknown {
  if (rule.type !== 'reference' && rule.type !== 'references') return value;
  const nameOf = (id: unknown) => {
    const entity = byId<Entity>(plan[rule.to], String(id));
    if (entity === undefined) return '';
    // A name that holds what sets names apart is given as the id, which an import takes too.
    return 'name' in entity && !/[;|,]/.test(entity.name) ? entity.name : entity.id;
  };
  return Array.isArray(value) ? value.map(nameOf) : value === null ? null : nameOf(value);
}
