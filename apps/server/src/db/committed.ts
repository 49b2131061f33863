import { ServiceUnavailableException } from '@nestjs/common';
import type { DataSource, EntityManager } from 'typeorm';

/**
 * Runs a short transaction. What fails before it is committed is rolled back; when the answer to the commit itself is lost,
 * nobody here knows whether it was stored, and the error says so. Undefined from `work` rolls back.
 */
export async function committed<T>(
  database: DataSource,
  work: (manager: EntityManager) => Promise<T | undefined>,
): Promise<T | undefined> {
  const runner = database.createQueryRunner();
  try {
    await runner.startTransaction('READ COMMITTED');
    const done = await work(runner.manager);
    if (done === undefined) {
      await runner.rollbackTransaction();
      return undefined;
    }
    try {
      await runner.commitTransaction();
    } catch {
      throw new ServiceUnavailableException({
        message:
          'The database’s answer was lost: whether this was saved is unknown. Send it again with the same changeId.',
        isUnknown: true,
      });
    }
    return done;
  } catch (error) {
    if (runner.isTransactionActive) await runner.rollbackTransaction().catch(() => undefined);
    throw error;
  } finally {
    await runner.release().catch(() => undefined);
  }
}
