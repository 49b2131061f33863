import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { IdColumn, IdKey, IntegerColumn, NameColumn } from './columns.js';
import { NetworkRow } from './networkRow.js';
import { PlanRow } from './planRow.js';
import { ShapeRow } from './shapeRow.js';
import { SiteRow } from './siteRow.js';

/** One container cluster and its demand. */
@Entity('cluster')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => SiteRow, ['planId', 'siteId'], ['planId', 'id'])
@ForeignKey(() => NetworkRow, ['planId', 'networkId'], ['planId', 'id'])
@ForeignKey(() => ShapeRow, ['planId', 'shapeId'], ['planId', 'id'])
export class ClusterRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @IdColumn() siteId: string;
  @IdColumn() networkId: string;
  @Column({ type: 'varchar', length: 10 }) podMode: string;
  @Column({ type: 'varchar', length: 16 }) encapsulation: string;
  @IdColumn({ nullable: true }) shapeId: string | null;
  @Column({ type: 'json' }) podNeeds: string[];
  @IntegerColumn() mtuFloor: number;
  @Column({ type: 'varchar', length: 10 }) family: string;
  @IntegerColumn() nodesNow: number;
  @IntegerColumn() nodesHorizon: number;
  @IntegerColumn() podsPerNode: number;
  @IntegerColumn() services: number;
  @IntegerColumn() surgePercent: number;
  @IntegerColumn() entryAddresses: number;
  @Column({ type: 'boolean' }) hasEntrySubnets: boolean;
  @IntegerColumn({ nullable: true }) perNodeLength: number | null;
  @Column({ type: 'boolean' }) isBuilt: boolean;
}
