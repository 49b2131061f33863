import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { DecimalColumn, IdKey, IntegerColumn, NameColumn } from './columns.js';
import { PlanRow } from './planRow.js';

/** A set of provider rules. */
@Entity('profile')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
export class ProfileRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @IntegerColumn() reservedFirst: number;
  @IntegerColumn() reservedLast: number;
  @Column({ type: 'varchar', length: 10 }) subnetScope: string;
  @IntegerColumn() routesPerTable: number;
  @IntegerColumn() smallestSubnet: number;
  @IntegerColumn() largestSubnet: number;
  @IntegerColumn() smallestBlock: number;
  @IntegerColumn() largestBlock: number;
  @IntegerColumn() blocksPerNetwork: number;
  @IntegerColumn() clustersPerSite: number;
  @IntegerColumn() nodesPerCluster: number;
  @IntegerColumn() peeringsPerNetwork: number;
  @IntegerColumn() leastSurge: number;
  @Column({ type: 'varchar', length: 10 }) nativeRule: string;
  @IntegerColumn() warmSpare: number;
  @IntegerColumn() membersPerBalancer: number;
  @IntegerColumn() publicAddresses: number;
  @DecimalColumn(4, { nullable: true }) priceControlPlane: number | null;
  @DecimalColumn(4, { nullable: true }) priceBalancer: number | null;
  @DecimalColumn(4, { nullable: true }) priceNat: number | null;
  @DecimalColumn(4, { nullable: true }) priceNatGb: number | null;
  @DecimalColumn(4, { nullable: true }) priceAddress: number | null;
  @DecimalColumn(4, { nullable: true }) priceZoneGb: number | null;
  @DecimalColumn(4, { nullable: true }) priceOutGb: number | null;
}
