import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { IdColumn, IdKey, NameColumn, TextColumn } from './columns.js';
import { NetworkRow } from './networkRow.js';
import { PlanRow } from './planRow.js';
import { ShapeRow } from './shapeRow.js';

/** What clusters that are alike have in common. The core checks what it is based on and its pools: rows of one table come in no order. */
@Entity('template')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => NetworkRow, ['planId', 'networkId'], ['planId', 'id'])
@ForeignKey(() => ShapeRow, ['planId', 'shapeId'], ['planId', 'id'])
export class TemplateRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @IdColumn({ nullable: true }) basedOnId: string | null;
  @TextColumn(60) namePattern: string;
  @IdColumn({ nullable: true }) networkId: string | null;
  @IdColumn({ nullable: true }) shapeId: string | null;
  @Column({ type: 'json' }) fixes: string[];
  @Column({ type: 'json' }) poolIds: string[];
}
