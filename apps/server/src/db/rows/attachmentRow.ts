import { Column, Entity, ForeignKey, Unique } from 'typeorm';
import { IdColumn, IdKey } from './columns.js';
import { LinkRow } from './linkRow.js';
import { NetworkRow } from './networkRow.js';
import { PlanRow } from './planRow.js';

/** What one network tells and takes over one link. Lists are kept as they are; the core checks that each network is on the link. */
@Entity('attachment')
@Unique(['planId', 'linkId', 'networkId'])
@ForeignKey(() => PlanRow, ['planId'], ['id'], { onDelete: 'CASCADE' })
@ForeignKey(() => LinkRow, ['planId', 'linkId'], ['planId', 'id'])
@ForeignKey(() => NetworkRow, ['planId', 'networkId'], ['planId', 'id'])
export class AttachmentRow {
  @IdKey() planId: string;
  @IdKey() id: string;
  @IdColumn() linkId: string;
  @IdColumn() networkId: string;
  @Column({ type: 'json' }) advertises: string[];
  @Column({ type: 'varchar', length: 10 }) learns: string;
  @Column({ type: 'json' }) learnsFromIds: string[];
}
