import { isDeepStrictEqual } from 'node:util';
import {
  ConflictException,
  Injectable,
  NotFoundException,
  ServiceUnavailableException,
  UnprocessableEntityException,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { applyInSteps, clashesWith, STEP, touchedBy } from '@wide-lattice/core/plan';
import type { Applied, Clash, Operation, OperationProblem } from '@wide-lattice/core/plan';
import { DataSource, LessThan } from 'typeorm';
import type { EntityManager } from 'typeorm';
import { committed } from '../db/committed.js';
import { forgetJson, jsonValue } from '../db/longJson.js';
import { ChangeRow, PlanRow } from '../db/rows/index.js';
import { bytesInParts } from '../http/bytesInParts.js';
import { inTurns } from '../work/inTurns.js';
import { PlanQueue } from '../work/planQueue.js';
import { listsOf, listTexts, shownColumns, summariesAfter } from './changeLists.js';
import type { ChangeSummary } from './changeLists.js';
import type { ChangeDto } from './dto/changeDto.js';
import { checkOperations } from './dto/checkOperations.js';
import { PlanStore } from './planStore.js';
import type { StoredPlan } from './planStore.js';
import { RevisionFeed } from './revisionFeed.js';
import { standingChanges } from './standingChanges.js';

/** What became of a change. */
export interface ChangeOutcome {
  readonly revision: number;
  /** Whether others had changed the plan since the author looked, and both fit together. */
  readonly isMerged: boolean;
}

const MAX_PAGE = 200;

/** Times a change is computed again because another server stored one first, and from which on the plan is held meanwhile. */
const MAX_ATTEMPTS = 8;
const PATIENCE = 1;

/** Most clashes that are told of one change. */
const MAX_CLASHES = 500;

/** A change as it was computed, or the outcome of the same change sent before. */
type Computed =
  | { readonly earlier: ChangeOutcome }
  | {
      readonly earlier: undefined;
      readonly stored: StoredPlan;
      readonly applied: Applied & { readonly ok: true };
      readonly isMerged: boolean;
    };

/** The one mechanism for every edit: check, apply whole or not at all, remember with inverse, tell open browsers. */
@Injectable()
export class ChangesService {
  private readonly queue = new PlanQueue();

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly store: PlanStore,
    private readonly feed: RevisionFeed,
  ) {}

  /**
   * Applies a change on top of the present revision, or refuses it with both sides. It is computed against a revision while
   * nothing is locked, then stored in a short transaction that checks that revision. Changes of one plan wait for one
   * another in this server, so that only those of other servers make it compute again.
   */
  async apply(planId: string, change: ChangeDto): Promise<ChangeOutcome> {
    const { operations, problems } = await inTurns(checkOperations(change.operations));
    if (problems.length > 0) throw refused(problems);
    return this.queue.run(planId, async () => {
      for (let attempt = 0; attempt < MAX_ATTEMPTS; attempt++) {
        const outcome = await this.applyOnce(planId, change, operations, attempt >= PATIENCE);
        if (outcome !== undefined) return outcome;
      }
      throw new ServiceUnavailableException(
        'Others change this plan faster than this change could be saved. Nothing was saved; send it again.',
      );
    });
  }

  /** Changes after a revision, oldest first, at most 200, as parts of the JSON that answers: their lists go out as they are stored. */
  async after(planId: string, revision: number): Promise<Iterable<string | Buffer>> {
    const { manager } = this.database;
    const changes = await summariesAfter(manager, planId, revision, MAX_PAGE);
    const [first, last] = [changes[0]?.revision, changes.at(-1)?.revision];
    if (first === undefined || last === undefined) return ['[]'];
    return written(changes, {
      operations: await listTexts(manager, planId, first, last, 'operations'),
      inverse: await listTexts(manager, planId, first, last, 'inverse'),
    });
  }

  /** The history, newest first, some before a revision; without the operations, which can be many. */
  async before(planId: string, revision: number, limit: number): Promise<Omit<ChangeSummary, 'changeId'>[]> {
    return this.database.manager.find(ChangeRow, {
      select: shownColumns,
      where: { planId, revision: LessThan(revision) },
      order: { revision: 'DESC' },
      take: limit,
    });
  }

  /**
   * Computes a change and stores it; undefined when somebody else stored one between the two. When that has happened often,
   * the plan is held while it is computed, so that a slower server gets its turn too.
   */
  private async applyOnce(
    planId: string,
    change: ChangeDto,
    operations: readonly Operation[],
    isHolding: boolean,
  ): Promise<ChangeOutcome | undefined> {
    const before = isHolding ? undefined : await this.compute(this.database.manager, planId, change, operations);
    if (before?.earlier !== undefined) return before.earlier;
    const outcome = await committed(this.database, async (manager) => {
      const present = await this.store.lock(manager, planId);
      const computed = before ?? (await this.compute(manager, planId, change, operations));
      if (computed.earlier !== undefined) return computed.earlier;
      const { stored, applied, isMerged } = computed;
      if (present !== stored.revision) return undefined;
      const revision = stored.revision + 1;
      await this.store.write(manager, planId, stored.plan, applied.plan, operations);
      const [done, inverse] = [
        await jsonValue(manager, 'operations', operations),
        await jsonValue(manager, 'inverse', applied.inverse),
      ];
      await manager.insert(ChangeRow, {
        planId,
        revision,
        label: change.label,
        author: change.author,
        clientId: change.clientId,
        changeId: change.changeId ?? null,
        reverts: change.reverts ?? null,
        baseRevision: change.baseRevision,
        operationCount: operations.length,
        operations: done,
        inverse,
        createdAt: new Date(),
      });
      if (typeof done === 'function' || typeof inverse === 'function') await forgetJson(manager);
      await manager.update(PlanRow, { id: planId }, { revision, changedAt: new Date() });
      return { revision, isMerged, plan: applied.plan };
    });
    if (outcome === undefined || !('plan' in outcome)) return outcome;
    const { revision, isMerged, plan } = outcome;
    this.store.keep(planId, { revision, plan });
    this.feed.announce(planId, revision);
    return { revision, isMerged };
  }

  /** What a change comes to at the present revision, or what became of it when it was sent before. */
  private async compute(
    manager: EntityManager,
    planId: string,
    change: ChangeDto,
    operations: readonly Operation[],
  ): Promise<Computed> {
    const stored = await this.store.read(planId, manager);
    if (stored === undefined) throw new NotFoundException('There is no plan with this id.');
    if (change.baseRevision > stored.revision) {
      throw new ConflictException({
        message: `The plan is at revision ${stored.revision}; ${change.baseRevision} does not exist.`,
        currentRevision: stored.revision,
        theirs: [],
        clashes: [],
      });
    }
    const since = await changesSince(manager, planId, change, stored.revision);
    // Sent again because its answer was lost: it is stored already, and once.
    const earlier = since.find(({ changeId }) => changeId !== null && changeId === change.changeId);
    if (earlier !== undefined) {
      const between = since.filter(({ revision }) => revision > change.baseRevision && revision < earlier.revision);
      return { earlier: { revision: earlier.revision, isMerged: hasOthers(between, change) } };
    }
    if (change.reverts !== undefined) await refuseFalseReversal(manager, change.reverts, operations, since);
    const later = since.filter(({ revision }) => revision > change.baseRevision);
    if (later.length > 0) {
      const from = change.baseRevision + 1;
      const done = await listsOf(manager, planId, from, stored.revision, 'operations');
      const inverse = await listsOf(manager, planId, from, stored.revision, 'inverse');
      const whole = later.map((each) => ({
        ...each,
        operations: done.get(each.revision) ?? [],
        inverse: inverse.get(each.revision) ?? [],
      }));
      refuseOvertaken(stored, operations, whole);
    }
    const applied = await inTurns(applyInSteps(stored.plan, operations));
    if (!applied.ok) throw refused(applied.problems);
    return { earlier: undefined, stored, applied, isMerged: hasOthers(later, change) };
  }
}

function* written(
  changes: readonly ChangeSummary[],
  lists: Readonly<Record<'operations' | 'inverse', ReadonlyMap<number, string>>>,
): Generator<string | Buffer, void> {
  yield '[';
  for (const [at, change] of changes.entries()) {
    yield `${at === 0 ? '' : ','}${JSON.stringify(change).slice(0, -1)}`;
    for (const list of ['operations', 'inverse'] as const) {
      yield `,"${list}":`;
      yield* bytesInParts(Buffer.from(lists[list].get(change.revision) ?? '[]'));
    }
    yield '}';
  }
  yield ']';
}

/** The changes since the author looked, and from the one on that this one takes back. */
async function changesSince(
  manager: EntityManager,
  planId: string,
  { baseRevision, reverts }: ChangeDto,
  present: number,
): Promise<ChangeSummary[]> {
  const after = Math.min(baseRevision, reverts === undefined ? baseRevision : reverts - 1);
  if (after >= present) return [];
  return summariesAfter(manager, planId, after);
}

/** Only what takes a change back that stands is its reversal: anything else under that name would undo what others rely on. */
async function refuseFalseReversal(
  manager: EntityManager,
  reverts: number,
  operations: readonly Operation[],
  since: readonly ChangeSummary[],
): Promise<void> {
  const reverted = since.find(({ revision }) => revision === reverts);
  const misses = (message: string) =>
    new UnprocessableEntityException({
      message: `${message} Nothing was saved.`,
      problems: [
        { operation: 0, field: 'reverts', code: 'reverts', message, fix: 'Reload the history and look again.' },
      ],
    });
  if (reverted === undefined) throw misses(`There is no change ${reverts} to undo.`);
  if (!standingChanges(since).includes(reverted)) throw misses(`Change ${reverts} was undone already.`);
  const inverse = (await listsOf(manager, reverted.planId, reverts, reverts, 'inverse')).get(reverts) ?? [];
  if (!(await inTurns(areSame(operations, inverse))))
    throw misses(`These operations are not what undoes change ${reverts}.`);
}

function* areSame(sent: readonly Operation[], stored: readonly Operation[]): Generator<undefined, boolean> {
  if (sent.length !== stored.length) return false;
  for (let at = 0; at < sent.length; at += STEP) {
    const [one, other] = [sent, stored].map((all) => asJson(all.slice(at, at + STEP)));
    if (!isDeepStrictEqual(one, other)) return false;
    yield;
  }
  return true;
}

function asJson(operations: readonly Operation[]): unknown {
  return JSON.parse(JSON.stringify(operations));
}

function hasOthers(later: readonly ChangeSummary[], { clientId }: ChangeDto): boolean {
  return standingChanges(later).some((each) => each.clientId !== clientId);
}

/** A change since the author looked, with its lists. */
type Later = ChangeSummary & { readonly operations: readonly Operation[]; readonly inverse: readonly Operation[] };

/** Refuses what would overwrite a value that its author has not seen: each such field is told with what it was, is now and would become. */
function refuseOvertaken(stored: StoredPlan, operations: readonly Operation[], later: readonly Later[]): void {
  const clashes = clashesWith(stored.plan, operations, later);
  if (clashes.length === 0) return;
  const theirs = changesBehind(clashes, later);
  const authors = [...new Set(theirs.map(({ author }) => author))];
  throw new ConflictException({
    message: `${authors.join(', ')} changed the same since you looked. Nothing of yours was saved.`,
    currentRevision: stored.revision,
    theirs,
    clashes: clashes.slice(0, MAX_CLASHES),
  });
}

/** The changes that made what clashes, each with those of its operations. */
function changesBehind(clashes: readonly Clash[], later: readonly Later[]) {
  const fields = new Map<string, Set<string | null>>();
  for (const { kind, id, field } of clashes) {
    const key = id === null ? kind : `${kind}:${id}`;
    fields.set(key, (fields.get(key) ?? new Set()).add(field));
  }
  const isBehind = (operation: Operation) => {
    const clashing = fields.get(touchedBy(operation));
    if (clashing === undefined || operation.op !== 'set') return clashing !== undefined;
    return clashing.has(null) || Object.keys(operation.fields).some((field) => clashing.has(field));
  };
  return standingChanges(later).flatMap(({ revision, author, clientId, label, operations: done }) => {
    const shared = done.filter(isBehind);
    return shared.length === 0 ? [] : [{ revision, author, clientId, label, operations: shared }];
  });
}

function refused(problems: readonly OperationProblem[]): UnprocessableEntityException {
  return new UnprocessableEntityException({
    message: 'The change was not applied; nothing was saved.',
    problems,
  });
}
