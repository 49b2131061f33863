import { Column, Entity } from 'typeorm';
import { IdColumn, IdKey, IntegerColumn, TextColumn } from './columns.js';

/** What can happen to a plan as a whole. */
export type PlanEvent = 'created' | 'removed' | 'restored' | 'purged';

/** One line of the log of plans. It refers to no row, so that it stays when a plan and its history are gone. */
@Entity('plan_event')
export class PlanEventRow {
  @IdKey() id: string;
  @IdColumn() planId: string;
  @TextColumn(80) planName: string;
  @Column({ type: 'varchar', length: 20 }) event: PlanEvent;
  /** The revision that the plan was at. */
  @IntegerColumn() revision: number;
  /** Empty where nobody said a name. */
  @TextColumn(80) author: string;
  @Column({ type: 'datetime', precision: 3, default: () => 'CURRENT_TIMESTAMP(3)' }) at: Date;
}
