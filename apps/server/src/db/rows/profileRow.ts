import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { IdKey, IntegerColumn, NameColumn } from './columns.js';
import { PlanRow } from './planRow.js';

/** A set of provider rules. */
@Entity('profile')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
export class ProfileRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @IntegerColumn() reservedFirst: number;
  @IntegerColumn() reservedLast: number;
  @Column({ type: 'varchar', length: 10 }) subnetScope: string;
  @IntegerColumn() routesPerTable: number;
}
