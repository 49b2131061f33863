import { Column, Entity, ForeignKey, PrimaryColumn, Unique } from 'typeorm';
import type { Operation } from '@wide-lattice/core/plan';
import { IdColumn, IdKey, IntegerColumn, TextColumn } from './columns.js';
import { PlanRow } from './planRow.js';

/** One applied change with the change that takes it back. */
@Entity('plan_change')
@Unique('plan_change_id', ['planId', 'changeId'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
export class ChangeRow {
  @IdKey() planId: string;
  /** The revision the change made. */
  @PrimaryColumn({ type: 'int' }) revision: number;
  @TextColumn(120) label: string;
  @TextColumn(80) author: string;
  /** The browser it came from; undo and redo go by it. */
  @IdColumn() clientId: string;
  /** The name it was sent under, so that it is stored once; null for those that gave none. */
  @IdColumn({ nullable: true }) changeId: string | null;
  /** The revision this change takes back; null for an ordinary edit. */
  @IntegerColumn({ nullable: true }) reverts: number | null;
  /** The revision the author had seen. */
  @IntegerColumn() baseRevision: number;
  @IntegerColumn() operationCount: number;
  @Column({ type: 'json' }) operations: Operation[];
  @Column({ type: 'json' }) inverse: Operation[];
  @Column({ type: 'datetime', precision: 3, default: () => 'CURRENT_TIMESTAMP(3)' }) createdAt: Date;
}
