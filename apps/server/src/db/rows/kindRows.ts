import { byKind, kinds, referenceFields, rulesOf } from '@wide-lattice/core/plan';
import type { FieldRule, KeyPart, Kind, PlanKind } from '@wide-lattice/core/plan';
import { Entity, ForeignKey, Index, Unique } from 'typeorm';
import { nameClass } from '../../nameClass.js';
import { columnFor } from './columnFor.js';
import { IdKey } from './columns.js';
import { PlanRow } from './planRow.js';
import { rangeIndex } from './rangeColumns.js';

/** Octets up to which the server keeps a key in order; a longer one it keeps by a hash, which no foreign key can use. */
const MAX_KEY = 3072;

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
  if (unique !== undefined && isHashed(kind, unique.by)) Index(['planId', unique.by[0] as string])(Row);
  if (Object.values(fields).some(({ type }) => type === 'prefix')) Index(['planId', ...rangeIndex])(Row);
  for (const { field, rule } of referenceFields(kind)) {
    // Rows of one table come in no order, so what refers within its kind is checked by the core alone; so are lists.
    if (rule.type === 'reference' && rule.to !== kind)
      ForeignKey(() => rowOf[rule.to], ['planId', field], ['planId', 'id'])(Row);
  }
  return Row;
}

/** Whether a unique key is so long; a character takes up to four octets. */
function isHashed(kind: Kind, by: readonly KeyPart[]): boolean {
  const rules: Readonly<Record<string, FieldRule | undefined>> = rulesOf(kind);
  const lengths = by.map((part) => {
    const rule = typeof part === 'string' ? rules[part] : undefined;
    return rule?.type === 'text' ? 4 * rule.max : 0;
  });
  return lengths.reduce((sum, each) => sum + each, 0) > MAX_KEY;
}

/** "nodePool" is kept in the table node_pool. */
function tableOf(code: string): string {
  return code.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
}
