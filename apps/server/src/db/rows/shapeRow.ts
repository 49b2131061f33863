import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { DecimalColumn, IdColumn, IdKey, IntegerColumn, NameColumn } from './columns.js';
import { PlanRow } from './planRow.js';
import { ProfileRow } from './profileRow.js';

/** A kind of machine that a provider offers. */
@Entity('shape')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => ProfileRow, ['planId', 'profileId'], ['planId', 'id'])
export class ShapeRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @IdColumn() profileId: string;
  @IntegerColumn() vcpus: number;
  @IntegerColumn() memoryGib: number;
  @IntegerColumn() interfaces: number;
  @IntegerColumn() slotsPerInterface: number;
  @IntegerColumn() podCap: number;
  @Column({ type: 'json' }) encapsulations: string[];
  @DecimalColumn(2) price: number;
}
