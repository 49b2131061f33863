import { ServiceUnavailableException } from '@nestjs/common';
import type { DataSource, EntityManager } from 'typeorm';
import { Gate } from '../work/gate.js';

/** Transactions that write at once: of the ten connections of the database's driver some are always left for who reads. */
const MAX_WRITERS = 6;
const MAX_WAITING = 200;

const writers = new WeakMap<DataSource, Gate>();

/** Lets a few write at once; the others wait without holding a connection. */
export async function writing<T>(database: DataSource, work: () => Promise<T>): Promise<T> {
  const gate = writers.get(database) ?? new Gate(MAX_WRITERS, MAX_WAITING);
  writers.set(database, gate);
  return gate.run(work);
}

/**
 * Runs a short transaction. What fails before it is committed is rolled back; when the answer to the commit itself is lost,
 * nobody here knows whether it was stored, and the error says so. Undefined from `work` rolls back.
 */
export async function committed<T>(
  database: DataSource,
  work: (manager: EntityManager) => Promise<T | undefined>,
): Promise<T | undefined> {
  return writing(database, () => inTransaction(database, work));
}

async function inTransaction<T>(
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
