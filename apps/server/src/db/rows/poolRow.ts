import { Column, Entity, ForeignKey, Index, Unique } from 'typeorm';
import { IdColumn, IdKey, NameColumn } from './columns.js';
import { PlanRow } from './planRow.js';
import { RangeColumns } from './rangeColumns.js';
import { SiteRow } from './siteRow.js';

/** Address space that ranges are allocated from. */
@Entity('pool')
@Unique(['planId', 'name'])
@Index(['planId', 'family', 'firstAddress', 'prefixLength'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => SiteRow, ['planId', 'siteId'], ['planId', 'id'])
export class PoolRow extends RangeColumns {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @Column({ type: 'json' }) purposes: string[];
  @IdColumn({ nullable: true }) siteId: string | null;
  @Column({ type: 'boolean' }) isShared: boolean;
}
