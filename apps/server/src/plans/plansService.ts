import { Injectable, NotFoundException, UnprocessableEntityException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { addOperation, emptyPlan, kinds, newId } from '@wide-lattice/core/plan';
import type { EntityOf, Kind, Operation, Plan, PlanSettings } from '@wide-lattice/core/plan';
import { DataSource } from 'typeorm';
import { PlanRow } from '../db/rows/index.js';
import { PlanStore } from './planStore.js';
import type { StoredPlan } from './planStore.js';
import { WorkPool } from '../work/workPool.js';

/** A plan in the list of plans. */
export interface PlanSummary {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly changedAt: Date;
}

/** Lists, reads and starts plans. Edits go through ChangesService. */
@Injectable()
export class PlansService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly store: PlanStore,
    private readonly workers: WorkPool,
  ) {}

  /** A page of plans by name. */
  async list(offset: number, limit: number): Promise<PlanSummary[]> {
    const rows = await this.database.manager.find(PlanRow, {
      order: { name: 'ASC', id: 'ASC' },
      skip: offset,
      take: limit,
    });
    return rows.map(({ id, name, revision, changedAt }) => ({ id, name, revision, changedAt }));
  }

  /** The plan at its present revision. */
  async read(planId: string): Promise<StoredPlan> {
    const stored = await this.store.read(planId);
    if (stored === undefined) throw new NotFoundException('There is no plan with this id.');
    return stored;
  }

  /** Starts an empty plan. */
  create(settings: PlanSettings): Promise<string> {
    return this.start(emptyPlan(settings));
  }

  /** Starts a plan from a plan file; entities keep their ids. */
  async importFile(text: string): Promise<string> {
    const read = await this.workers.run('readPlanFile', text);
    if (read.ok) return this.start(read.plan);
    throw new UnprocessableEntityException({
      message: 'The plan file was not taken; nothing was stored.',
      problems: read.problems,
    });
  }

  /** Stores a checked plan as a new one. */
  async start(plan: Plan): Promise<string> {
    const id = newId();
    await this.database.transaction(async (manager) => {
      await manager.insert(PlanRow, {
        id,
        ...plan.settings,
        revision: 0,
        createdAt: new Date(),
        changedAt: new Date(),
      });
      await this.store.write(manager, id, emptyPlan(plan.settings), { ...plan }, everything(plan));
    });
    this.store.keep(id, { revision: 0, plan });
    return id;
  }
}

function everything(plan: Plan): Operation[] {
  return kinds.flatMap((kind) => (plan[kind] as readonly EntityOf[Kind][]).map((entity) => addOperation(kind, entity)));
}
