import { Entity, ForeignKey, Index } from 'typeorm';
import { IdColumn, IdKey, TextColumn } from './columns.js';
import { NetworkRow } from './networkRow.js';
import { PlanRow } from './planRow.js';
import { RangeColumns } from './rangeColumns.js';

/** A range somebody else already uses. */
@Entity('in_use')
@Index(['planId', 'family', 'firstAddress', 'prefixLength'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => NetworkRow, ['planId', 'networkId'], ['planId', 'id'])
export class InUseRow extends RangeColumns {
  @IdKey() planId: string;
  @IdKey() id: string;
  @TextColumn(120) owner: string;
  @IdColumn({ nullable: true }) networkId: string | null;
  @TextColumn(500) note: string;
}
