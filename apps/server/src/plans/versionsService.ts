import { ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { applyInSteps, newId } from '@wide-lattice/core/plan';
import { DataSource } from 'typeorm';
import { committed } from '../db/committed.js';
import { VersionRow } from '../db/rows/index.js';
import { inTurns } from '../work/inTurns.js';
import { listsOf } from './changeLists.js';
import { PlansService } from './plansService.js';
import { PlanStore } from './planStore.js';
import type { StoredPlan } from './planStore.js';

const MAX_VERSIONS = 500;

/** Changes that are read at once when a plan is taken back. */
const CHANGES_AT_ONCE = 50;

/** Names revisions and reads the plan as it was at any of them. */
@Injectable()
export class VersionsService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly plans: PlansService,
    private readonly store: PlanStore,
  ) {}

  /** The named versions, newest first. */
  list(planId: string, manager = this.database.manager): Promise<VersionRow[]> {
    return manager.find(VersionRow, { where: { planId }, order: { revision: 'DESC', id: 'DESC' } });
  }

  /** Names the present revision. */
  async name(planId: string, name: string, author: string): Promise<VersionRow> {
    return committed(this.database, async (manager) => {
      // The plan is held, so that of two that give the same name at once the second sees the first.
      const revision = await this.store.lock(manager, planId);
      if (revision === undefined) throw new NotFoundException('There is no plan with this id.');
      const known = await this.list(planId, manager);
      if (known.length >= MAX_VERSIONS)
        throw new ConflictException(`A plan has at most ${MAX_VERSIONS} named versions.`);
      if (known.some((version) => version.name.toLowerCase() === name.trim().toLowerCase())) {
        throw new ConflictException(`There is a version called "${name.trim()}". Choose another name.`);
      }
      const row = { planId, id: newId(), name: name.trim(), revision, author, createdAt: new Date() };
      await manager.insert(VersionRow, row);
      return row;
    });
  }

  /** The plan as it was at a revision: the present one with every later change taken back. */
  async at(planId: string, revision: number): Promise<StoredPlan> {
    const present = await this.plans.read(planId);
    if (revision > present.revision)
      throw new NotFoundException(`There is no revision ${revision}; the plan is at ${present.revision}.`);
    let { plan } = present;
    // Some at a time: thousands of changes are read and taken back between other requests.
    for (let from = present.revision; from > revision; from -= CHANGES_AT_ONCE) {
      const first = Math.max(revision + 1, from - CHANGES_AT_ONCE + 1);
      const changes = await listsOf(this.database.manager, planId, first, from, 'inverse');
      for (const [number, inverse] of [...changes].reverse()) {
        const applied = await inTurns(applyInSteps(plan, inverse));
        if (!applied.ok) throw new Error(`revision ${number} cannot be taken back`);
        plan = applied.plan;
      }
    }
    return { revision, plan };
  }
}
