import { Injectable, Logger, NotFoundException } from '@nestjs/common';
import type { OnApplicationBootstrap, OnModuleDestroy } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { kinds } from '@wide-lattice/core/plan';
import { DataSource, IsNull, LessThan, Not } from 'typeorm';
import { PlanRow, rowOf } from '../db/rows/index.js';
import { committed } from '../db/committed.js';
import { PlanLog } from './planLog.js';
import { PlanStore } from './planStore.js';

/** Days that a removed plan is kept with its history and versions. */
export const DAYS_KEPT = 30;

const DAY_MS = 86_400_000;

/** A removed plan, and until when it can be restored. */
export interface RemovedPlan {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly removedAt: Date;
  readonly keptUntil: Date;
}

/** Takes plans out of the list, puts them back, and lets them go for good once their time is over. */
@Injectable()
export class RemovedPlans implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly logger = new Logger('RemovedPlans');
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly store: PlanStore,
    private readonly log: PlanLog,
  ) {}

  onApplicationBootstrap(): void {
    const sweep = () => void this.purge().catch((error: unknown) => this.logger.error(error));
    sweep();
    this.timer = setInterval(sweep, DAY_MS / 24);
    this.timer.unref();
  }

  onModuleDestroy(): void {
    clearInterval(this.timer);
  }

  /** A page of removed plans, the one removed last first. */
  async list(offset: number, limit: number): Promise<RemovedPlan[]> {
    const rows = await this.database.manager.find(PlanRow, {
      where: { removedAt: Not(IsNull()) },
      order: { removedAt: 'DESC', id: 'ASC' },
      skip: offset,
      take: limit,
    });
    return rows.flatMap(({ id, name, revision, removedAt }) =>
      removedAt === null
        ? []
        : [{ id, name, revision, removedAt, keptUntil: new Date(removedAt.getTime() + DAYS_KEPT * DAY_MS) }],
    );
  }

  /** Takes a plan out of the list; it is kept with its history and versions for DAYS_KEPT days. */
  remove(planId: string, author: string): Promise<void> {
    return this.mark(planId, author, new Date());
  }

  /** Puts a removed plan back as it was. */
  restore(planId: string, author: string): Promise<void> {
    return this.mark(planId, author, null);
  }

  /** Lets go for good what was removed longer ago than DAYS_KEPT days; the log stays. Returns how many. */
  async purge(now = new Date()): Promise<number> {
    const before = new Date(now.getTime() - DAYS_KEPT * DAY_MS);
    const over = await this.database.manager.find(PlanRow, { where: { removedAt: LessThan(before) } });
    for (const plan of over)
      await committed(this.database, async (manager) => {
        // What refers goes before what it refers to; the history and the versions go with the plan.
        for (const kind of [...kinds].reverse()) await manager.delete(rowOf[kind], { planId: plan.id });
        await manager.delete(PlanRow, { id: plan.id });
        await this.log.note(manager, plan, 'purged', '');
        return plan.id;
      });
    return over.length;
  }

  private async mark(planId: string, author: string, removedAt: Date | null): Promise<void> {
    await committed(this.database, async (manager) => {
      const where = { id: planId, removedAt: removedAt === null ? Not(IsNull()) : IsNull() };
      const row = await manager.findOne(PlanRow, { where, lock: { mode: 'pessimistic_write' } });
      if (row === null)
        throw new NotFoundException(
          removedAt === null ? 'There is no removed plan with this id.' : 'There is no plan with this id.',
        );
      await manager.update(PlanRow, { id: planId }, { removedAt });
      await this.log.note(manager, row, removedAt === null ? 'restored' : 'removed', author);
      return planId;
    });
    this.store.forget(planId);
  }
}
