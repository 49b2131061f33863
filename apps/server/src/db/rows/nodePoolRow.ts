import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { ClusterRow } from './clusterRow.js';
import { IdColumn, IdKey, IntegerColumn, NameColumn } from './columns.js';
import { PlanRow } from './planRow.js';
import { ShapeRow } from './shapeRow.js';

/** Nodes of one cluster that are alike, or pods without nodes. Lists are kept as they are; the core checks what they name. */
@Entity('node_pool')
@Unique(['planId', 'clusterId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => ClusterRow, ['planId', 'clusterId'], ['planId', 'id'])
@ForeignKey(() => ShapeRow, ['planId', 'shapeId'], ['planId', 'id'])
export class NodePoolRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @IdColumn() clusterId: string;
  @NameColumn() name: string;
  @Column({ type: 'varchar', length: 10 }) kind: string;
  @IdColumn({ nullable: true }) shapeId: string | null;
  @Column({ type: 'json' }) zones: string[];
  @IntegerColumn() nodesNow: number;
  @IntegerColumn() nodesMin: number;
  @IntegerColumn() nodesMax: number;
  @IntegerColumn() nodesHorizon: number;
  @IntegerColumn() surgePercent: number;
  @IntegerColumn({ nullable: true }) podsPerNode: number | null;
  @Column({ type: 'boolean' }) isPublic: boolean;
  @Column({ type: 'json' }) labels: string[];
  @Column({ type: 'json' }) taints: string[];
  @Column({ type: 'json' }) attachmentSubnetIds: string[];
}
