import { Column, Entity } from 'typeorm';
import { IdKey, IntegerColumn, NameColumn, TextColumn } from './columns.js';

/** One plan: its settings and the revision its entities are at. */
@Entity('plan')
export class PlanRow {
  @IdKey() id: string;
  @NameColumn() name: string;
  @TextColumn(500) note: string;
  @IntegerColumn() horizonMonths: number;
  @Column({ type: 'boolean' }) expectsJoins: boolean;
  @IntegerColumn() weightAddresses: number;
  @IntegerColumn() weightReach: number;
  @IntegerColumn() weightWire: number;
  @IntegerColumn() weightRoutes: number;
  @IntegerColumn() weightEffort: number;
  @IntegerColumn() weightWishes: number;
  @TextColumn(12) currency: string;
  @IntegerColumn() revision: number;
  @Column({ type: 'datetime', precision: 3, default: () => 'CURRENT_TIMESTAMP(3)' }) createdAt: Date;
  @Column({ type: 'datetime', precision: 3, default: () => 'CURRENT_TIMESTAMP(3)' }) changedAt: Date;
}
