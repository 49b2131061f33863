import type { Operation } from '@wide-lattice/core/plan';
import { Between, MoreThan } from 'typeorm';
import type { EntityManager } from 'typeorm';
import { ChangeRow } from '../db/rows/index.js';
import { jsonInSteps } from '../http/jsonInSteps.js';
import { inTurns } from '../work/inTurns.js';

/** Which of the two lists of a change: what it did, or what takes it back. */
type ListName = 'operations' | 'inverse';

/** A change without its lists, which may be as long as a plan. */
export type ChangeSummary = Omit<ChangeRow, 'operations' | 'inverse'>;

/** What the history shows of a change. */
export const shownColumns = {
  planId: true,
  revision: true,
  label: true,
  author: true,
  clientId: true,
  reverts: true,
  baseRevision: true,
  operationCount: true,
  createdAt: true,
} as const satisfies Readonly<Record<Exclude<keyof ChangeSummary, 'changeId'>, true>>;

/** The changes after a revision, oldest first, without their lists. */
export function summariesAfter(
  manager: EntityManager,
  planId: string,
  revision: number,
  most?: number,
): Promise<ChangeSummary[]> {
  return manager.find(ChangeRow, {
    select: { ...shownColumns, changeId: true },
    where: { planId, revision: MoreThan(revision) },
    order: { revision: 'ASC' },
    ...(most === undefined ? {} : { take: most }),
  });
}

/** A list of each change of a plan from one revision to another, as the stored text, for those who only pass it on. */
export async function listTexts(
  manager: EntityManager,
  planId: string,
  from: number,
  to: number,
  list: ListName,
): Promise<ReadonlyMap<number, string>> {
  const rows = await manager
    .createQueryBuilder(ChangeRow, 'change')
    .select('change.revision', 'revision')
    // Of a column of JSON the driver would parse the whole at once.
    .addSelect(`CONCAT(change.${list}, '')`, 'text')
    .where({ planId, revision: Between(from, to) })
    .orderBy('change.revision')
    .getRawMany<{ revision: number; text: string }>();
  return new Map(rows.map(({ revision, text }) => [revision, text]));
}

/** The same, parsed in steps between other requests. */
export async function listsOf(
  manager: EntityManager,
  planId: string,
  from: number,
  to: number,
  list: ListName,
): Promise<ReadonlyMap<number, readonly Operation[]>> {
  const found = new Map<number, readonly Operation[]>();
  for (const [revision, text] of await listTexts(manager, planId, from, to, list))
    found.set(revision, await inTurns(readInSteps(text)));
  return found;
}

function* readInSteps(text: string): Generator<undefined, readonly Operation[]> {
  // It was written by the server, from operations.
  const { list } = (yield* jsonInSteps(Buffer.from(`{"list":${text}}`))) as { readonly list: Operation[] };
  return list;
}
