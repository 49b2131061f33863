import { addOperation, kindOf, withFallbacks } from '@wide-lattice/core/plan';
import type { Operation } from '@wide-lattice/core/plan';
import type { QueryRunner } from 'typeorm';

const CHANGES_AT_ONCE = 50;

interface StoredChange {
  readonly planId: string;
  readonly revision: number;
  readonly operations: Operation[] | string;
  readonly inverse: Operation[] | string;
}

/**
 * A stored change with the usual values where an entity it adds was written before a field came to be. A kind that was
 * renamed since is completed once it has its name.
 */
export function completed(operations: readonly Operation[]): Operation[] {
  return operations.map((operation) =>
    operation.op === 'add' && Object.hasOwn(kindOf, operation.kind)
      ? addOperation(operation.kind, withFallbacks(operation.kind, operation.entity))
      : operation,
  );
}

/** Completes every change of every plan's history, so that older ones can still be taken back. */
export async function completeHistory(queryRunner: QueryRunner): Promise<void> {
  await rewriteHistory(queryRunner, completed);
}

/** Writes every change of every plan's history another way; what is done twice must come out the same. */
export async function rewriteHistory(
  queryRunner: QueryRunner,
  rewrite: (operations: readonly Operation[]) => readonly Operation[],
): Promise<void> {
  const rewritten = (stored: Operation[] | string) =>
    JSON.stringify(rewrite(typeof stored === 'string' ? (JSON.parse(stored) as Operation[]) : stored));
  for (let from = 0; ; from += CHANGES_AT_ONCE) {
    const changes = (await queryRunner.query(
      `SELECT planId, revision, operations, inverse FROM plan_change ORDER BY planId, revision LIMIT ${CHANGES_AT_ONCE} OFFSET ${from}`,
    )) as StoredChange[];
    if (changes.length === 0) return;
    for (const { planId, revision, operations, inverse } of changes) {
      await queryRunner.query('UPDATE plan_change SET operations = ?, inverse = ? WHERE planId = ? AND revision = ?', [
        rewritten(operations),
        rewritten(inverse),
        planId,
        revision,
      ]);
    }
  }
}
