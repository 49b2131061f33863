import { Column, Entity, ForeignKey, Index, Unique } from 'typeorm';
import { ClusterRow } from './clusterRow.js';
import { IdColumn, IdKey, NameColumn } from './columns.js';
import { PlanRow } from './planRow.js';
import { RangeColumns } from './rangeColumns.js';

/** A range given to one cluster for one purpose. */
@Entity('allocation')
@Unique(['planId', 'clusterId', 'purpose', 'zone', 'family'])
@Index(['planId', 'family', 'firstAddress', 'prefixLength'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => ClusterRow, ['planId', 'clusterId'], ['planId', 'id'])
export class AllocationRow extends RangeColumns {
  @IdKey() planId: string;
  @IdKey() id: string;
  @IdColumn() clusterId: string;
  @Column({ type: 'varchar', length: 10 }) purpose: string;
  @NameColumn(20) zone: string;
  @Column({ type: 'boolean' }) isFixed: boolean;
}
