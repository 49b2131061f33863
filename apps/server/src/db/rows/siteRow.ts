import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { DecimalColumn, IdColumn, IdKey, NameColumn } from './columns.js';
import { PlanRow } from './planRow.js';
import { ProfileRow } from './profileRow.js';

/** A place where clusters stand. */
@Entity('site')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => ProfileRow, ['planId', 'profileId'], ['planId', 'id'])
export class SiteRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @Column({ type: 'varchar', length: 20 }) kind: string;
  @IdColumn() profileId: string;
  @Column({ type: 'json' }) zones: string[];
  @DecimalColumn(4, { nullable: true }) latitude: number | null;
  @DecimalColumn(4, { nullable: true }) longitude: number | null;
}
