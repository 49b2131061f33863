import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { DecimalColumn, IdColumn, IdKey, IntegerColumn, NameColumn } from './columns.js';
import { NetworkRow } from './networkRow.js';
import { PlanRow } from './planRow.js';
import { ShapeRow } from './shapeRow.js';
import { SiteRow } from './siteRow.js';
import { TemplateRow } from './templateRow.js';

/** One container cluster and its demand. */
@Entity('cluster')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => SiteRow, ['planId', 'siteId'], ['planId', 'id'])
@ForeignKey(() => NetworkRow, ['planId', 'networkId'], ['planId', 'id'])
@ForeignKey(() => ShapeRow, ['planId', 'shapeId'], ['planId', 'id'])
@ForeignKey(() => ShapeRow, ['planId', 'controlShapeId'], ['planId', 'id'])
@ForeignKey(() => TemplateRow, ['planId', 'templateId'], ['planId', 'id'])
export class ClusterRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @IdColumn({ nullable: true }) templateId: string | null;
  @IdColumn() siteId: string;
  @IdColumn() networkId: string;
  @Column({ type: 'varchar', length: 10 }) podMode: string;
  @Column({ type: 'varchar', length: 16 }) encapsulation: string;
  @Column({ type: 'varchar', length: 16 }) encryption: string;
  @IdColumn({ nullable: true }) shapeId: string | null;
  @Column({ type: 'json' }) podNeeds: string[];
  @Column({ type: 'json' }) podWishes: string[];
  @IntegerColumn() mtuFloor: number;
  @Column({ type: 'varchar', length: 10 }) family: string;
  @Column({ type: 'varchar', length: 10 }) controlPlane: string;
  @IntegerColumn() controlNodes: number;
  @IdColumn({ nullable: true }) controlShapeId: string | null;
  @Column({ type: 'varchar', length: 10 }) apiEndpoint: string;
  @IntegerColumn({ nullable: true }) zoneCount: number | null;
  @IntegerColumn() nodesNow: number;
  @IntegerColumn() nodesHorizon: number;
  @Column({ type: 'varchar', length: 10 }) growth: string;
  @DecimalColumn(1, { nullable: true }) growthPerYear: number | null;
  @Column({ type: 'json' }) growthSteps: string[];
  @IntegerColumn() podsPerNode: number;
  @IntegerColumn() services: number;
  @IntegerColumn() nodePortServices: number;
  @IntegerColumn() balancerServices: number;
  @IntegerColumn() headlessServices: number;
  @Column({ type: 'boolean' }) hasPublicBalancers: boolean;
  @IntegerColumn() natAddresses: number;
  @IntegerColumn() snatPorts: number;
  @DecimalColumn(2) zoneGb: number;
  @DecimalColumn(2) outGb: number;
  @IntegerColumn() surgePercent: number;
  @IntegerColumn() entryAddresses: number;
  @Column({ type: 'boolean' }) hasEntrySubnets: boolean;
  @IntegerColumn({ nullable: true }) perNodeLength: number | null;
  @Column({ type: 'boolean' }) isBuilt: boolean;
}
