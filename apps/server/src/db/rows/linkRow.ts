import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { IdKey, IntegerColumn, NameColumn } from './columns.js';
import { NetworkRow } from './networkRow.js';
import { PlanRow } from './planRow.js';

/** A peering or a transit hub. */
@Entity('link')
@Unique(['planId', 'name'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
export class LinkRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @NameColumn() name: string;
  @Column({ type: 'varchar', length: 10 }) kind: string;
  @IntegerColumn() mtu: number;
  @Column({ type: 'varchar', length: 16 }) encapsulation: string;
  @Column({ type: 'boolean' }) isPlanned: boolean;
}

/** A network that a link joins. */
@Entity('link_member')
@ForeignKey(() => LinkRow, ['planId', 'linkId'], ['planId', 'id'], { onDelete: 'CASCADE' })
@ForeignKey(() => NetworkRow, ['planId', 'networkId'], ['planId', 'id'])
export class LinkMemberRow {
  @IdKey() planId: string;
  @IdKey() linkId: string;
  @IdKey() networkId: string;
  /** Place in the link's own order. */
  @IntegerColumn() position: number;
}
