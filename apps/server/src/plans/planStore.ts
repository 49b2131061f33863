import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { applyInSteps, byId, emptyPlan, kinds, STEP } from '@wide-lattice/core/plan';
import type { Entity, Kind, Operation, Plan } from '@wide-lattice/core/plan';
import { LRUCache } from 'lru-cache';
import { DataSource, EntityManager, IsNull, MoreThan } from 'typeorm';
import { PlanRow, rowOf } from '../db/rows/index.js';
import type { KindRow } from '../db/rows/index.js';
import { inTurns } from '../work/inTurns.js';
import { listsOf } from './changeLists.js';
import { settingsIn, toEntity, toRow } from './rowMapping.js';

/** A plan and the revision it is at. */
export interface StoredPlan {
  readonly revision: number;
  readonly plan: Plan;
}

const KEPT_PLANS = 20;
const ROWS_PER_STATEMENT = 100;
/** Rows that are read at once. */
const ROWS_AT_ONCE = 250;

/** A plan this many revisions behind is read anew; nearer ones follow the changes. */
const MAX_BEHIND = 200;

/** Reads plans from their tables and writes changes back. Keeps the last read plans, each with the revision it is true for. */
@Injectable()
export class PlanStore {
  private readonly kept = new LRUCache<string, StoredPlan>({ max: KEPT_PLANS });

  constructor(@InjectDataSource() private readonly database: DataSource) {}

  /**
   * The plan at its present revision; undefined when there is none, or it was removed. What others changed meanwhile is followed change by
   * change. Who is in a transaction gives its manager: a second connection could be waited for by all that hold a first.
   */
  async read(planId: string, manager = this.database.manager): Promise<StoredPlan | undefined> {
    const known = this.kept.get(planId);
    if (known !== undefined) {
      const row = await manager.findOne(PlanRow, { select: { revision: true }, where: present(planId) });
      if (row === null) return undefined;
      if (row.revision === known.revision) return known;
      const followed = await this.followed(manager, planId, known, row.revision);
      if (followed !== undefined) return this.keep(planId, followed);
    }
    const stored =
      manager === this.database.manager
        ? await this.database.transaction('REPEATABLE READ', (own) => this.readWhole(own, planId))
        : await this.readWhole(manager, planId);
    return stored === undefined ? undefined : this.keep(planId, stored);
  }

  /** The revision that a plan is at, its row held until the transaction ends; undefined when there is none, or it was removed. */
  async lock(manager: EntityManager, planId: string): Promise<number | undefined> {
    const row = await manager.findOne(PlanRow, {
      select: { revision: true },
      where: present(planId),
      lock: { mode: 'pessimistic_write' },
    });
    return row?.revision;
  }

  /** Remembers a plan that was just stored or read, unless a newer one is known. */
  keep(planId: string, stored: StoredPlan): StoredPlan {
    const known = this.kept.get(planId);
    if (known === undefined || known.revision < stored.revision) this.kept.set(planId, stored);
    return stored;
  }

  /** Lets a plan go, as it was removed. */
  forget(planId: string): void {
    this.kept.delete(planId);
  }

  /**
   * Writes what the operations changed between two plans; the caller's transaction holds the plan row. What is gone or
   * changed is taken out in the reverse order of kinds and what is there afterwards put in, in their order, so that names
   * and places are free when others take them.
   */
  async write(
    manager: EntityManager,
    planId: string,
    before: Plan,
    after: Plan,
    operations: readonly Operation[],
  ): Promise<void> {
    const touched = await inTurns(touchedIds(operations));
    const idsOf = (kind: Kind) => [...(touched.get(kind) ?? [])];
    if (operations.some(({ op }) => op !== 'add'))
      await withoutForeignKeys(manager, async () => {
        for (const kind of [...kinds].reverse())
          for (const ids of batches(idsOf(kind))) await this.remove(manager, planId, kind, ids);
      });
    for (const kind of kinds)
      for (const ids of batches(idsOf(kind)))
        await this.insert(
          manager,
          planId,
          kind,
          ids.flatMap((id) => byId<Entity>(after[kind], id) ?? []),
        );
    if (before.settings !== after.settings) await manager.update(PlanRow, { id: planId }, { ...after.settings });
  }

  private async readWhole(manager: EntityManager, planId: string): Promise<StoredPlan | undefined> {
    const row = await manager.findOne(PlanRow, { where: present(planId) });
    return row === null ? undefined : { revision: row.revision, plan: await this.readEntities(manager, row) };
  }

  private async followed(
    manager: EntityManager,
    planId: string,
    known: StoredPlan,
    revision: number,
  ): Promise<StoredPlan | undefined> {
    if (revision < known.revision || revision - known.revision > MAX_BEHIND) return undefined;
    const changes = await listsOf(manager, planId, known.revision + 1, revision, 'operations');
    if (changes.size !== revision - known.revision) return undefined;
    let { plan } = known;
    for (const operations of changes.values()) {
      const applied = await inTurns(applyInSteps(plan, operations));
      if (!applied.ok) return undefined;
      plan = applied.plan;
    }
    return { revision, plan };
  }

  private async readEntities(manager: EntityManager, row: PlanRow): Promise<Plan> {
    const collections: Record<string, Entity[]> = {};
    for (const kind of kinds) {
      const entities: Entity[] = [];
      // Page by page, by id: the rows of one query become objects in one go, which would delay other requests.
      for (let last = ''; ;) {
        const rows: KindRow[] = await manager.find(rowOf[kind], {
          where: { planId: row.id, id: MoreThan(last) },
          order: { id: 'ASC' },
          take: ROWS_AT_ONCE,
        });
        for (const each of rows) entities.push(toEntity(kind, each));
        if (rows.length < ROWS_AT_ONCE) break;
        last = rows.at(-1)?.id ?? '';
      }
      collections[kind] = entities;
    }
    return { ...emptyPlan(settingsIn(row)), ...collections };
  }

  /** Writes the rows of a plan that is not stored yet, kind by kind. */
  async writeNew(manager: EntityManager, planId: string, plan: Plan): Promise<void> {
    for (const kind of kinds)
      for (const batch of batches<Entity>(plan[kind])) await this.insert(manager, planId, kind, batch);
  }

  private async remove(manager: EntityManager, planId: string, kind: Kind, ids: readonly string[]): Promise<void> {
    await manager
      .createQueryBuilder()
      .delete()
      .from(rowOf[kind])
      .where('planId = :planId AND id IN (:...ids)', { planId, ids })
      .execute();
  }

  private async insert(manager: EntityManager, planId: string, kind: Kind, entities: readonly Entity[]): Promise<void> {
    if (entities.length === 0) return;
    // Without the query builder, which computes three times as long over as many values and so delays other requests.
    const { driver } = manager.dataSource;
    const { tablePath, columns } = manager.dataSource.getMetadata(rowOf[kind]);
    const values = entities.flatMap((entity) => {
      const row = toRow(planId, kind, entity);
      return columns.map((column) => driver.preparePersistentValue(row[column.propertyName], column) as unknown);
    });
    const row = `(${columns.map(() => '?').join()})`;
    await manager.query(
      `INSERT INTO ${driver.escape(tablePath)} (${columns.map(({ databaseName }) => driver.escape(databaseName)).join()}) VALUES ${entities.map(() => row).join()}`,
      values,
    );
  }
}

const present = (id: string) => ({ id, removedAt: IsNull() });

/**
 * Lets rows be taken out that others refer to until those, or the same rows changed, are put in. The core has checked
 * that nothing is left hanging, and every row put in afterwards is checked by the database as ever.
 */
async function withoutForeignKeys(manager: EntityManager, work: () => Promise<void>): Promise<void> {
  await manager.query('SET SESSION foreign_key_checks = 0');
  try {
    await work();
  } finally {
    // The connection goes back to the pool.
    await manager.query('SET SESSION foreign_key_checks = 1');
  }
}

/** The entities that operations name, kind by kind. */
function* touchedIds(operations: readonly Operation[]): Generator<undefined, ReadonlyMap<Kind, ReadonlySet<string>>> {
  const found = new Map<Kind, Set<string>>();
  for (const [at, operation] of operations.entries()) {
    if (at % STEP === STEP - 1) yield;
    if (operation.kind === 'settings') continue;
    const ids = found.get(operation.kind) ?? new Set<string>();
    found.set(operation.kind, ids.add(operation.op === 'add' ? operation.entity.id : operation.id));
  }
  return found;
}

function batches<T>(items: readonly T[]): T[][] {
  const found: T[][] = [];
  for (let at = 0; at < items.length; at += ROWS_PER_STATEMENT) found.push(items.slice(at, at + ROWS_PER_STATEMENT));
  return found;
}
