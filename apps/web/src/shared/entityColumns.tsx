import { byId, kindNames, rulesOf, setOperation } from '@wide-lattice/core';
import type { Entity, EntityOf, FieldRule, Kind, Plan } from '@wide-lattice/core';
import type { CellEdit } from './CellEditor';
import type { SheetColumn } from './Sheet';

type Commit = (
  label: string,
  operations: Parameters<typeof import('@wide-lattice/core').applyOperations>[1],
) => Promise<string>;

/** What a field of an entity can hold. */
export type FieldValue = string | number | boolean | readonly string[] | null;

/** A column that shows and edits one field of an entity by the core's rule for it. */
export function fieldColumn<K extends Kind, R>(
  plan: Plan,
  commit: Commit,
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
    align: rule.type === 'integer' || rule.type === 'optionalInteger' ? 'right' : undefined,
    isMono: rule.type === 'prefix',
    value: (row) => {
      const value = valueOf(row);
      return typeof value === 'number' ? value : sayValue(plan, rule, value);
    },
    render: (row) => <span className="truncate">{sayValue(plan, rule, valueOf(row))}</span>,
    edit: (row): CellEdit => {
      const entity = entityOf(row);
      return {
        text: textOf(rule, valueOf(row)),
        ...(optionsOf(plan, rule) ?? {}),
        store: async (text) => {
          const value = readValue(plan, rule, text);
          const fields = { [field]: value } as unknown as Partial<Omit<EntityOf[K], 'id'>>;
          return commit(`${rule.label} of ${nameOf(entity)}: ${text === '' ? 'empty' : text}`, [
            setOperation(kind, entity.id, fields),
          ]);
        },
      };
    },
    ...shape,
  };
}

/** How a person knows an entity in a label. */
export function nameOf(entity: Entity): string {
  return 'name' in entity ? entity.name : entity.prefix;
}

function namesOf(plan: Plan, kind: Kind): Map<string, string> {
  return new Map(plan[kind].map((entity) => [entity.id, nameOf(entity)]));
}

/** A field's value as it is shown. */
export function sayValue(plan: Plan, rule: FieldRule, value: FieldValue): string {
  if (value === null) return rule.type === 'reference' ? 'any' : 'follows';
  if (rule.type === 'reference') {
    const entity = byId<Entity>(plan[rule.to], String(value));
    return entity === undefined ? '' : nameOf(entity);
  }
  if (rule.type === 'references')
    return (value as readonly string[]).map((id) => nameOf(byId<Entity>(plan[rule.to], id) as Entity)).join(', ');
  if (Array.isArray(value)) return value.join(', ');
  if (rule.type === 'flag') return value === true ? 'yes' : 'no';
  if (rule.type === 'optionalInteger') return `/${String(value)}`;
  return typeof value === 'number' ? value.toLocaleString('en-US') : String(value);
}

/** A value as the text an editor starts with. */
export function textOf(rule: FieldRule, value: FieldValue): string {
  if (value === null) return '';
  if (Array.isArray(value)) return value.join(', ');
  return rule.type === 'flag' ? (value === true ? 'yes' : 'no') : String(value);
}

/** The choices of a field whose value is one of a few. */
export function optionsOf(plan: Plan, rule: FieldRule): Pick<CellEdit, 'options'> | undefined {
  if (rule.type === 'choice') return { options: rule.options.map((option) => ({ value: option, label: option })) };
  if (rule.type === 'flag') return { options: ['yes', 'no'].map((option) => ({ value: option, label: option })) };
  if (rule.type !== 'reference') return undefined;
  const known = [...namesOf(plan, rule.to)]
    .map(([value, label]) => ({ value, label }))
    .sort((a, b) => (a.label < b.label ? -1 : 1));
  return { options: rule.isOptional ? [{ value: '', label: 'any' }, ...known] : known };
}

/** Reads a typed text as a field's value; what cannot be read is handed on and refused by the rule. */
export function readValue(plan: Plan, rule: FieldRule, text: string): unknown {
  const trimmed = text.trim();
  const items = trimmed.split(/[;,]/).flatMap((item) => (item.trim() === '' ? [] : [item.trim()]));
  switch (rule.type) {
    case 'integer':
      return /^\d[\d,]*$/.test(trimmed) ? Number(trimmed.replaceAll(',', '')) : trimmed;
    case 'optionalInteger':
      return trimmed === '' ? null : /^\/?\d+$/.test(trimmed) ? Number(trimmed.replace('/', '')) : trimmed;
    case 'flag':
      return trimmed === 'yes' ? true : trimmed === 'no' ? false : trimmed;
    case 'reference':
      return trimmed === '' ? null : trimmed;
    case 'references': {
      const ids = new Map([...namesOf(plan, rule.to)].map(([id, name]) => [name.toLowerCase(), id]));
      return items.map((item) => ids.get(item.toLowerCase()) ?? `no ${kindNames[rule.to]} "${item}"`);
    }
    case 'choices':
    case 'texts':
      return items;
    default:
      return trimmed;
  }
}
