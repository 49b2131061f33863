import { Column, Entity, ForeignKey } from 'typeorm';
import { ClusterRow } from './clusterRow.js';
import { IdColumn, IdKey, TextColumn } from './columns.js';
import { PlanRow } from './planRow.js';

/** A decision of a built cluster that is taken anew. The day is kept as text, so that no time zone moves it. */
@Entity('rebuild')
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => ClusterRow, ['planId', 'clusterId'], ['planId', 'id'])
export class RebuildRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @IdColumn() clusterId: string;
  @TextColumn(500) what: string;
  @TextColumn(500) reason: string;
  @Column({ type: 'char', length: 10 }) decidedOn: string;
  @TextColumn(80) decidedBy: string;
}
