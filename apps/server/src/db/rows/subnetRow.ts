import { Column, Entity, ForeignKey, Index, Unique } from 'typeorm';
import { IdColumn, IdKey, NameColumn, TextColumn } from './columns.js';
import { NetworkRow } from './networkRow.js';
import { PlanRow } from './planRow.js';
import { RangeColumns } from './rangeColumns.js';
import { SiteRow } from './siteRow.js';

/** A part of a network set aside for one purpose. */
@Entity('subnet')
@Unique(['planId', 'name'])
@Index(['planId', 'family', 'firstAddress', 'prefixLength'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => NetworkRow, ['planId', 'networkId'], ['planId', 'id'])
@ForeignKey(() => SiteRow, ['planId', 'siteId'], ['planId', 'id'])
export class SubnetRow extends RangeColumns {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @IdColumn() networkId: string;
  @IdColumn() siteId: string;
  @NameColumn(20) zone: string;
  @Column({ type: 'varchar', length: 10 }) purpose: string;
  @TextColumn(60) delegatedTo: string;
  @Column({ type: 'boolean' }) isPublic: boolean;
  @Column({ type: 'varchar', length: 10 }) wayOut: string;
  @TextColumn(60) routeTable: string;
}
