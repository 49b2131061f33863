import { Injectable, NotFoundException, UnprocessableEntityException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { emptyPlan, kinds, newId } from '@wide-lattice/core/plan';
import type { Kind, Plan, PlanSettings } from '@wide-lattice/core/plan';
import type { Request } from 'express';
import { DataSource, IsNull } from 'typeorm';
import type { EntityManager } from 'typeorm';
import { committed } from '../db/committed.js';
import { PlanRow } from '../db/rows/index.js';
import { readUpload } from '../http/upload.js';
import { Gate } from '../work/gate.js';
import { inTurns } from '../work/inTurns.js';
import type { ReadPlan } from '../work/work.worker.js';
import { WorkPool } from '../work/workPool.js';
import { PlanLog } from './planLog.js';
import { PlanStore } from './planStore.js';
import type { StoredPlan } from './planStore.js';

/** Files that are read and stored at once: each holds a connection to the database. Of the others some wait. */
const MAX_IMPORTS = 2;
const MAX_WAITING = 8;

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
  private readonly imports = new Gate(MAX_IMPORTS, MAX_WAITING);

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly store: PlanStore,
    private readonly workers: WorkPool,
    private readonly log: PlanLog,
  ) {}

  /** A page of plans, the one changed last first. */
  async list(offset: number, limit: number): Promise<PlanSummary[]> {
    const rows = await this.database.manager.find(PlanRow, {
      where: { removedAt: IsNull() },
      order: { changedAt: 'DESC', id: 'ASC' },
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

  /** Starts a plan from a plan file; entities keep their ids. It is read and checked in a worker thread, a few files at once. */
  async importFile(request: Request): Promise<string> {
    return this.imports.run(async () => {
      const read = await this.workers.run('readPlanFile', await readUpload(request));
      if ('bytes' in read) return this.start(await inTurns(planInSteps(read)));
      throw new UnprocessableEntityException({
        message: 'The plan file cannot be used; nothing was saved.',
        problems: read,
      });
    });
  }

  /** Starts a plan that is a copy of another as it is now, under a name of its own; the history stays with the original. */
  async duplicate(planId: string, name: string): Promise<string> {
    const { plan } = await this.read(planId);
    return this.start({ ...plan, settings: { ...plan.settings, name } });
  }

  /** Stores a checked plan as a new one. */
  async start(plan: Plan): Promise<string> {
    const id = newId();
    const store = async (manager: EntityManager) => {
      await manager.insert(PlanRow, {
        id,
        ...plan.settings,
        revision: 0,
        createdAt: new Date(),
        changedAt: new Date(),
        removedAt: null,
      });
      await this.store.writeNew(manager, id, plan);
      await this.log.note(manager, { id, name: plan.settings.name, revision: 0 }, 'created', '');
      return id;
    };
    await committed(this.database, store);
    this.store.keep(id, { revision: 0, plan });
    return id;
  }
}

const decoder = new TextDecoder();

/** A plan of its parts, each parsed by itself. */
function* planInSteps({ settings, parts, bytes }: ReadPlan): Generator<undefined, Plan> {
  const rows = new Map<Kind, unknown[]>(kinds.map((kind) => [kind, []]));
  for (const { kind, from, to } of parts) {
    rows.get(kind)?.push(...(JSON.parse(decoder.decode(bytes.subarray(from, to))) as unknown[]));
    yield;
  }
  // Checked in the thread that read them.
  return { ...emptyPlan(settings), ...(Object.fromEntries(rows) as object) };
}
