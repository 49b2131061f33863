import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { IdKey, IntegerColumn, NameColumn, TextColumn } from './columns.js';
import { PlanRow } from './planRow.js';

/** A name for one revision of a plan. */
@Entity('plan_version')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
export class VersionRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @IntegerColumn() revision: number;
  @TextColumn(80) author: string;
  @Column({ type: 'datetime', precision: 3, default: () => 'CURRENT_TIMESTAMP(3)' }) createdAt: Date;
}
