import { byKind, kinds, referenceFields, rulesOf } from '@wide-lattice/core/plan';
import type { Kind, PlanKind } from '@wide-lattice/core/plan';
import { Entity, ForeignKey, Index, Unique } from 'typeorm';
import { nameClass } from '../../nameClass.js';
import { columnFor } from './columnFor.js';
import { IdKey } from './columns.js';
import { PlanRow } from './planRow.js';
import { rangeIndex } from './rangeColumns.js';

/** A row of any kind's table. */
export interface KindRow {
  readonly planId: string;
  readonly id: string;
}

/** The class of each kind's rows, made from its descriptor: its table, columns, unique key and foreign keys. */
export const rowOf: { readonly [K in Kind]: new () => KindRow } = byKind(rowClass);

/** Every kind's row class, each after those it refers to. */
export const kindRows = kinds.map((kind) => rowOf[kind]);

function rowClass({ kind, code, unique, fields }: PlanKind): new () => KindRow {
  class Row {
    declare planId: string;
    declare id: string;
  }
  nameClass(Row, code, 'Row');
  Entity(tableOf(code))(Row);
  ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })(Row);
  IdKey()(Row.prototype, 'planId');
  IdKey()(Row.prototype, 'id');
  for (const [field, rule] of Object.entries(rulesOf(kind))) columnFor(rule)(Row.prototype, field);
  if (unique !== undefined)
    Unique(['planId', ...unique.by.map((part) => (typeof part === 'string' ? part : 'family'))])(Row);
  if (Object.values(fields).some(({ type }) => type === 'prefix')) Index(['planId', ...rangeIndex])(Row);
  for (const { field, rule } of referenceFields(kind)) {
    // Rows of one table come in no order, so what refers within its kind is checked by the core alone; so are lists.
    if (rule.type === 'reference' && rule.to !== kind)
      ForeignKey(() => rowOf[rule.to], ['planId', field], ['planId', 'id'])(Row);
  }
  return Row;
}

/** "nodePool" is kept in the table node_pool. */
function tableOf(code: string): string {
  return code.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
}
