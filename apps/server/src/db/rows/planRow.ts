import { settingsRules } from '@wide-lattice/core/plan';
import type { PlanSettings } from '@wide-lattice/core/plan';
import { Column, Entity } from 'typeorm';
import { columnFor } from './columnFor.js';
import { IdKey, IntegerColumn } from './columns.js';

/** One plan: its settings, whose columns are made from their rules, and the revision its entities are at. */
@Entity('plan')
export class PlanRow extends (Object as unknown as new () => PlanSettings) {
  @IdKey() id: string;
  @IntegerColumn() revision: number;
  @Column({ type: 'datetime', precision: 3, default: () => 'CURRENT_TIMESTAMP(3)' }) createdAt: Date;
  @Column({ type: 'datetime', precision: 3, default: () => 'CURRENT_TIMESTAMP(3)' }) changedAt: Date;
  /** When it was removed; null while it is there. */
  @Column({ type: 'datetime', precision: 3, nullable: true }) removedAt: Date | null;
}

for (const [field, rule] of Object.entries(settingsRules)) columnFor(rule)(PlanRow.prototype, field);
