import { byId, kindNames, rulesOf, setOperation } from '@wide-lattice/core';
import type { Entity, EntityOf, FieldRule, Kind, Plan } from '@wide-lattice/core';
import type { CellEdit } from './CellEditor';
import type { SheetColumn } from './Sheet';

/** What a field of an entity can hold. */
export type FieldValue = string | number | boolean | readonly string[] | null;

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
      return typeof value === 'number' ? value : sayValue(plan, rule, value);
    },
    render: (row) => <span className="truncate">{sayValue(plan, rule, valueOf(row))}</span>,
    edit: (row): CellEdit => {
      const entity = entityOf(row);
      return {
        text: textOf(plan, rule, valueOf(row)),
        ...(optionsOf(plan, rule) ?? {}),
        title: `${rule.label} of ${nameOf(plan, entity)}`,
        operation: (text) => {
          // Read by the field's own rule; what cannot be read is refused by it.
          const fields = { [field]: readValue(plan, rule, text) } as unknown as Partial<Omit<EntityOf[K], 'id'>>;
          return setOperation(kind, entity.id, fields);
        },
      };
    },
    ...shape,
  };
}

function isNumeric({ type }: FieldRule): boolean {
  return type === 'integer' || type === 'optionalInteger' || type === 'decimal';
}

/** How a person knows an entity in a label. */
export function nameOf(plan: Plan, entity: Entity): string {
  if ('name' in entity) return entity.name;
  if ('prefix' in entity) return entity.prefix;
  if ('what' in entity) return `${byId(plan.clusters, entity.clusterId)?.name ?? ''}: ${entity.what}`;
  return `${byId(plan.networks, entity.networkId)?.name ?? ''} on ${byId(plan.links, entity.linkId)?.name ?? ''}`;
}

function namesOf(plan: Plan, kind: Kind): Map<string, string> {
  return new Map(plan[kind].map((entity) => [entity.id, nameOf(plan, entity)]));
}

/** A field's value as it is shown. */
export function sayValue(plan: Plan, rule: FieldRule, value: FieldValue): string {
  if (value === null) return rule.empty ?? '';
  if (rule.type === 'reference') {
    const entity = byId<Entity>(plan[rule.to], String(value));
    return entity === undefined ? '' : nameOf(plan, entity);
  }
  if (Array.isArray(value)) return textOf(plan, rule, value);
  if (rule.type === 'flag') return value === true ? 'yes' : 'no';
  if ('unit' in rule && rule.unit === 'bits') return `/${String(value)}`;
  return typeof value === 'number' ? value.toLocaleString('en-US') : String(value);
}

/** A value as the text an editor starts with. */
export function textOf(plan: Plan, rule: FieldRule, value: FieldValue): string {
  if (value === null) return '';
  if (rule.type === 'references') {
    const ids = value as readonly string[];
    return ids.flatMap((id) => byId<Entity>(plan[rule.to], id) ?? []).map((each) => nameOf(plan, each)).join(', '); // prettier-ignore
  }
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
  return { options: rule.isOptional ? [{ value: '', label: rule.empty ?? 'none' }, ...known] : known };
}

/** Reads a typed text as a field's value; what cannot be read is handed on and refused by the rule. */
export function readValue(plan: Plan, rule: FieldRule, text: string): unknown {
  const trimmed = text.trim();
  const items = trimmed.split(/[;,]/).flatMap((item) => (item.trim() === '' ? [] : [item.trim()]));
  switch (rule.type) {
    case 'integer':
      return /^[-/]?\d[\d,]*$/.test(trimmed) ? Number(trimmed.replace(/[/,]/g, '')) : trimmed;
    case 'optionalInteger':
      return trimmed === '' ? null : /^\/?\d+$/.test(trimmed) ? Number(trimmed.replace('/', '')) : trimmed;
    case 'decimal':
      if (trimmed === '' && rule.isOptional) return null;
      return /^-?\d[\d,]*(\.\d+)?$/.test(trimmed) ? Number(trimmed.replaceAll(',', '')) : trimmed;
    case 'flag':
      return trimmed === 'yes' ? true : trimmed === 'no' ? false : trimmed;
    case 'reference':
      return trimmed === '' ? null : idNamed(plan, rule.to, trimmed);
    case 'references': {
      return items.map((item) => idNamed(plan, rule.to, item, `no ${kindNames[rule.to]} "${item}"`));
    }
    case 'choices':
    case 'texts':
    case 'prefixes':
      return items;
    case 'text':
    case 'date':
    case 'choice':
    case 'prefix':
    case 'address':
      return trimmed;
  }
}

/** The id of the entity with that name, in any case, or with that id; what names none is handed on. */
function idNamed(plan: Plan, kind: Kind, text: string, otherwise = text): string {
  if (byId<Entity>(plan[kind], text) !== undefined) return text;
  const sought = text.toLowerCase();
  for (const [id, name] of namesOf(plan, kind)) if (name.toLowerCase() === sought) return id;
  return otherwise;
}
