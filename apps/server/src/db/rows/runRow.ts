import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { ClusterRow } from './clusterRow.js';
import { IdColumn, IdKey, IntegerColumn, NameColumn, TextColumn } from './columns.js';
import { PlanRow } from './planRow.js';

/** Addresses in a row that are kept for a cluster. */
@Entity('run')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => ClusterRow, ['planId', 'clusterId'], ['planId', 'id'])
export class RunRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @IdColumn() clusterId: string;
  @Column({ type: 'varchar', length: 45, charset: 'ascii', collation: 'ascii_bin' }) first: string;
  @IntegerColumn() count: number;
  @TextColumn(500) note: string;
}
