import { kindRules, readField, rulesOf, formatField, setOperation, writeField } from '@wide-lattice/core/plan';
import type { EntityOf, FieldRule, FieldValue, Kind, Plan } from '@wide-lattice/core/plan';
import type { CellEdit } from './CellEditor';
import { optionsOf } from './fieldOptions';
import type { SheetColumn } from './sheetColumn';

/** A column that shows and edits one field of an entity by the core's rule for it. */
export function fieldColumn<K extends Kind, R>(
  plan: Plan,
  kind: K,
  field: keyof EntityOf[K] & string,
  entityOf: (row: R) => EntityOf[K],
  shape: Pick<SheetColumn<R>, 'width'> & Partial<SheetColumn<R>>,
): SheetColumn<R> {
  const rule = rulesOf(kind)[field] as FieldRule;
  // Every field of an entity is one of these.
  const valueOf = (row: R) => entityOf(row)[field] as FieldValue;
  return {
    id: field,
    label: rule.label,
    align: isNumeric(rule) ? 'right' : undefined,
    isMono: rule.type === 'prefix' || rule.type === 'prefixes' || rule.type === 'address',
    value: (row) => {
      const value = valueOf(row);
      return typeof value === 'number' ? value : formatField(plan, rule, value);
    },
    render: (row) => <span className="truncate">{formatField(plan, rule, valueOf(row))}</span>,
    edit: (row): CellEdit => {
      const entity = entityOf(row);
      const options = optionsOf(plan, rule);
      return {
        text: writeField(plan, rule, valueOf(row)),
        ...(options === undefined ? {} : { options }),
        title: `${rule.label} of ${kindRules(kind).label(entity, plan)}`,
        change: (text) => {
          const read = readField(plan, rule, text);
          if (!read.ok) return read;
          const fields = { [field]: read.value } as unknown as Partial<Omit<EntityOf[K], 'id'>>;
          return { ok: true, value: setOperation(kind, entity.id, fields) };
        },
      };
    },
    ...shape,
  };
}

function isNumeric({ type }: FieldRule): boolean {
  return type === 'integer' || type === 'optionalInteger' || type === 'decimal';
}
