import { rulesOf } from '@wide-lattice/core/plan';
import type { Entity, EntityOf, Kind, PlanSettings } from '@wide-lattice/core/plan';
import { rangeValues } from '../db/rows/index.js';
import type { KindRow, PlanRow } from '../db/rows/index.js';

/** An entity as a row of its kind's table. */
export function toRow(planId: string, kind: Kind, entity: Entity): KindRow & Record<string, unknown> {
  const values = entity as unknown as Readonly<Record<string, unknown>>;
  const range = Object.entries(rulesOf(kind)).find(([, { type }]) => type === 'prefix');
  return { planId, ...entity, ...(range === undefined ? {} : rangeValues(String(values[range[0]]))) };
}

/** A row as the entity it was made from: its id and the fields of its kind. */
export function toEntity<K extends Kind>(kind: K, row: KindRow): EntityOf[K] {
  // The row was written by toRow from an entity of this kind.
  return { id: row.id, ...fieldsIn(kind, row) } as unknown as EntityOf[K];
}

/** The plan's own fields in its row. */
export function settingsIn(row: PlanRow): PlanSettings {
  return fieldsIn('settings', row) as unknown as PlanSettings;
}

function fieldsIn(kind: Kind | 'settings', row: object): Record<string, unknown> {
  const values = row as Readonly<Record<string, unknown>>;
  return Object.fromEntries(Object.keys(rulesOf(kind)).map((field) => [field, values[field]]));
}
