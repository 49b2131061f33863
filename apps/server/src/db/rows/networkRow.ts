import { Entity, ForeignKey, Unique } from 'typeorm';
import { IdKey, IntegerColumn, NameColumn, TextColumn } from './columns.js';
import { PlanRow } from './planRow.js';

/** A network: one forwarding place. */
@Entity('network')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
export class NetworkRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @IntegerColumn() mtu: number;
  @TextColumn(500) note: string;
}
