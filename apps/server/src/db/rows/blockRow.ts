import { Entity, ForeignKey, Index } from 'typeorm';
import { IdColumn, IdKey, TextColumn } from './columns.js';
import { NetworkRow } from './networkRow.js';
import { PlanRow } from './planRow.js';
import { RangeColumns } from './rangeColumns.js';

/** An address block of a network. */
@Entity('block')
@Index(['planId', 'family', 'firstAddress', 'prefixLength'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => NetworkRow, ['planId', 'networkId'], ['planId', 'id'])
export class BlockRow extends RangeColumns {
  @IdKey() planId: string;
  @IdKey() id: string;
  @IdColumn() networkId: string;
  @TextColumn(500) note: string;
}
