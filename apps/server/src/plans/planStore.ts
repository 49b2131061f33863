import { Injectable } from '@nestjs/common';
import { byId, emptyPlan, kinds, rulesOf, touchedBy } from '@wide-lattice/core';
import type { Entity, Kind, Operation, Plan, PlanSettings } from '@wide-lattice/core';
import { EntityManager } from 'typeorm';
import { LinkMemberRow, PlanRow } from '../db/rows/index.js';
import { rowClassOf, toEntity, toRow } from './rowMapping.js';

/** A plan and the revision it is at. */
export interface StoredPlan {
  readonly revision: number;
  readonly plan: Plan;
}

const KEPT_PLANS = 20;
const ROWS_A_STATEMENT = 500;

// Nothing refers to these, or only what is removed before them: they go first, so that their names are free.
const removedFirst: readonly Kind[] = [
  'rebuilds',
  'runs',
  'allocations',
  'nodePools',
  'clusters',
  'templates',
  'attachments',
  'links',
  'subnets',
  'blocks',
  'inUse',
  'pools',
];
const removedLast: readonly Kind[] = ['networks', 'sites', 'shapes', 'profiles'];

/** Reads plans from their tables and writes changes back. Keeps the last read plans, each with the revision it is true for. */
@Injectable()
export class PlanStore {
  private readonly kept = new Map<string, StoredPlan>();

  /** The plan at its present revision; undefined when there is none. `lock` holds the plan row until the transaction ends. */
  async read(manager: EntityManager, planId: string, lock = false): Promise<StoredPlan | undefined> {
    const row = await manager.findOne(PlanRow, {
      where: { id: planId },
      ...(lock ? { lock: { mode: 'pessimistic_write' as const } } : {}),
    });
    if (row === null) return undefined;
    const known = this.kept.get(planId);
    if (known?.revision === row.revision) return known;
    const stored = { revision: row.revision, plan: await this.readEntities(manager, row) };
    this.keep(planId, stored);
    return stored;
  }

  /** Remembers a plan that was just stored or read. */
  keep(planId: string, stored: StoredPlan): void {
    this.kept.delete(planId);
    this.kept.set(planId, stored);
    const oldest = this.kept.keys().next().value;
    if (this.kept.size > KEPT_PLANS && oldest !== undefined) this.kept.delete(oldest);
  }

  /** Writes what the operations changed between two plans; the caller's transaction holds the plan row. */
  async write(
    manager: EntityManager,
    planId: string,
    before: Plan,
    after: Plan,
    operations: readonly Operation[],
  ): Promise<void> {
    const touched = touchedIds(operations);
    for (const kind of removedFirst) await this.remove(manager, planId, kind, gone(kind, touched, before, after));
    for (const kind of kinds) await this.insert(manager, planId, kind, fresh(kind, touched, before, after));
    for (const kind of kinds) await this.update(manager, planId, kind, changed(kind, touched, before, after));
    for (const kind of removedLast) await this.remove(manager, planId, kind, gone(kind, touched, before, after));
    if (before.settings !== after.settings) await manager.update(PlanRow, { id: planId }, { ...after.settings });
  }

  private async readEntities(manager: EntityManager, row: PlanRow): Promise<Plan> {
    const members = await manager.find(LinkMemberRow, {
      where: { planId: row.id },
      order: { linkId: 'ASC', position: 'ASC' },
    });
    const networksOf = new Map<string, string[]>();
    for (const { linkId, networkId } of members) networksOf.set(linkId, [...(networksOf.get(linkId) ?? []), networkId]);
    const collections: Record<string, Entity[]> = {};
    for (const kind of kinds) {
      const rows = await manager.find(rowClassOf[kind], { where: { planId: row.id }, order: { id: 'ASC' } });
      collections[kind] = rows.map((each) => toEntity(kind, each, networksOf.get(each.id)));
    }
    return { ...emptyPlan(settingsOf(row)), ...collections };
  }

  private async remove(manager: EntityManager, planId: string, kind: Kind, entities: readonly Entity[]): Promise<void> {
    for (const batch of batches(entities)) {
      await manager
        .createQueryBuilder()
        .delete()
        .from(rowClassOf[kind])
        .where('planId = :planId AND id IN (:...ids)', { planId, ids: batch.map((entity) => entity.id) })
        .execute();
    }
  }

  private async insert(manager: EntityManager, planId: string, kind: Kind, entities: readonly Entity[]): Promise<void> {
    for (const batch of batches(entities)) {
      await manager
        .createQueryBuilder()
        .insert()
        .into(rowClassOf[kind])
        .values(batch.map((entity) => toRow(planId, entity)))
        .updateEntity(false)
        .execute();
    }
    for (const entity of entities) await this.writeMembers(manager, planId, entity);
  }

  private async update(manager: EntityManager, planId: string, kind: Kind, entities: readonly Entity[]): Promise<void> {
    for (const entity of entities) {
      await manager.update(rowClassOf[kind], { planId, id: entity.id }, toRow(planId, entity));
      if (kind === 'links') await manager.delete(LinkMemberRow, { planId, linkId: entity.id });
      await this.writeMembers(manager, planId, entity);
    }
  }

  private async writeMembers(manager: EntityManager, planId: string, entity: Entity): Promise<void> {
    if (!('networkIds' in entity)) return;
    const rows = entity.networkIds.map((networkId, position) => ({ planId, linkId: entity.id, networkId, position }));
    await manager.insert(LinkMemberRow, rows);
  }
}

/** The plan's own fields in its row: those that have a rule. */
function settingsOf(row: PlanRow): Partial<PlanSettings> {
  const known = rulesOf('settings');
  return Object.fromEntries(Object.entries(row).filter(([field]) => Object.hasOwn(known, field)));
}

function touchedIds(operations: readonly Operation[]): ReadonlyMap<Kind, ReadonlySet<string>> {
  const found = new Map<Kind, Set<string>>();
  for (const key of new Set(operations.map(touchedBy))) {
    const [kind, id] = key.split(':') as [Kind, string | undefined];
    if (id === undefined) continue;
    found.set(kind, (found.get(kind) ?? new Set()).add(id));
  }
  return found;
}

type Touched = ReadonlyMap<Kind, ReadonlySet<string>>;

const of = (plan: Plan, kind: Kind, id: string): Entity | undefined => byId<Entity>(plan[kind], id);

function gone(kind: Kind, touched: Touched, before: Plan, after: Plan): Entity[] {
  return [...(touched.get(kind) ?? [])].flatMap((id) =>
    of(after, kind, id) === undefined ? (of(before, kind, id) ?? []) : [],
  );
}

function fresh(kind: Kind, touched: Touched, before: Plan, after: Plan): Entity[] {
  return [...(touched.get(kind) ?? [])].flatMap((id) =>
    of(before, kind, id) === undefined ? (of(after, kind, id) ?? []) : [],
  );
}

function changed(kind: Kind, touched: Touched, before: Plan, after: Plan): Entity[] {
  return [...(touched.get(kind) ?? [])].flatMap((id) =>
    of(before, kind, id) === undefined ? [] : (of(after, kind, id) ?? []),
  );
}

function batches<T>(items: readonly T[]): T[][] {
  const found: T[][] = [];
  for (let at = 0; at < items.length; at += ROWS_A_STATEMENT) found.push(items.slice(at, at + ROWS_A_STATEMENT));
  return found;
}
