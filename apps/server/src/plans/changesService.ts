import { ConflictException, Injectable, NotFoundException, UnprocessableEntityException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { applyOperations, touchedBy } from '@wide-lattice/core/plan';
import type { Operation, OperationProblem } from '@wide-lattice/core/plan';
import { DataSource, EntityManager, LessThan, MoreThan } from 'typeorm';
import { ChangeRow, PlanRow } from '../db/rows/index.js';
import type { ChangeDto } from './dto/changeDto.js';
import { checkOperations } from './dto/checkOperations.js';
import { PlanStore } from './planStore.js';
import type { StoredPlan } from './planStore.js';
import { RevisionFeed } from './revisionFeed.js';
import { standingChanges } from './standingChanges.js';

/** What became of a change. */
export interface ChangeOutcome {
  readonly revision: number;
  /** Whether others had changed the plan meanwhile and both fit together. */
  readonly isMerged: boolean;
}

const MAX_PAGE = 200;

/** The one mechanism for every edit: check, apply whole or not at all, remember with inverse, tell open browsers. */
@Injectable()
export class ChangesService {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly store: PlanStore,
    private readonly feed: RevisionFeed,
  ) {}

  /** Applies a change on top of the present revision, or refuses it with both sides. */
  async apply(planId: string, change: ChangeDto): Promise<ChangeOutcome> {
    const { operations, problems } = checkOperations(change.operations);
    if (problems.length > 0) throw refused(problems);
    const { outcome, stored } = await this.database.transaction('READ COMMITTED', (manager) =>
      this.applyWithin(manager, planId, change, operations),
    );
    this.store.keep(planId, stored);
    this.feed.announce(planId, outcome.revision);
    return outcome;
  }

  /** Changes after a revision, oldest first, at most 200. */
  async after(planId: string, revision: number): Promise<ChangeRow[]> {
    return this.database.manager.find(ChangeRow, {
      where: { planId, revision: MoreThan(revision) },
      order: { revision: 'ASC' },
      take: MAX_PAGE,
    });
  }

  /** The history, newest first, a page before a revision; without the operations, which can be many. */
  async before(planId: string, revision: number, limit: number): Promise<Omit<ChangeRow, 'operations' | 'inverse'>[]> {
    return this.database.manager.find(ChangeRow, {
      select: {
        planId: true,
        revision: true,
        label: true,
        author: true,
        clientId: true,
        reverts: true,
        baseRevision: true,
        operationCount: true,
        createdAt: true,
      },
      where: { planId, revision: LessThan(revision) },
      order: { revision: 'DESC' },
      take: Math.min(limit, MAX_PAGE),
    });
  }

  private async applyWithin(manager: EntityManager, planId: string, change: ChangeDto, operations: Operation[]) {
    const stored = await this.store.read(manager, planId, true);
    if (stored === undefined) throw new NotFoundException('There is no plan with this id.');
    if (change.baseRevision > stored.revision) {
      throw new ConflictException({
        message: `The plan is at revision ${stored.revision}; ${change.baseRevision} does not exist.`,
        currentRevision: stored.revision,
        theirs: [],
      });
    }
    await this.refuseIfOvertaken(manager, planId, change, operations, stored);
    const applied = applyOperations(stored.plan, operations);
    if (!applied.ok) throw refused(applied.problems);
    const revision = stored.revision + 1;
    await this.store.write(manager, planId, stored.plan, applied.plan, operations);
    await manager.insert(ChangeRow, {
      planId,
      revision,
      label: change.label,
      author: change.author,
      clientId: change.clientId,
      reverts: change.reverts ?? null,
      baseRevision: change.baseRevision,
      operationCount: operations.length,
      operations,
      inverse: [...applied.inverse],
      createdAt: new Date(),
    });
    await manager.update(PlanRow, { id: planId }, { revision, changedAt: new Date() });
    return {
      outcome: { revision, isMerged: change.baseRevision < stored.revision },
      stored: { revision, plan: applied.plan },
    };
  }

  /** Refuses when another change that still stands touched the same entities since the author looked. */
  private async refuseIfOvertaken(
    manager: EntityManager,
    planId: string,
    change: ChangeDto,
    operations: readonly Operation[],
    stored: StoredPlan,
  ): Promise<void> {
    if (change.baseRevision === stored.revision) return;
    const since = await manager.find(ChangeRow, {
      where: { planId, revision: MoreThan(change.baseRevision) },
      order: { revision: 'ASC' },
    });
    const mine = new Set(operations.map(touchedBy));
    const theirs = standingChanges(since).flatMap(({ revision, author, label, operations: done }) => {
      const shared = done.filter((operation) => mine.has(touchedBy(operation)));
      return shared.length === 0 ? [] : [{ revision, author, label, operations: shared }];
    });
    if (theirs.length === 0) return;
    throw new ConflictException({
      message: `${theirs.map((each) => each.author).join(', ')} changed the same since you looked. Nothing of yours was stored.`,
      currentRevision: stored.revision,
      theirs,
    });
  }
}

function refused(problems: readonly OperationProblem[]): UnprocessableEntityException {
  return new UnprocessableEntityException({
    message: 'The change was not applied; nothing was stored.',
    problems: problems.slice(0, 500),
  });
}
