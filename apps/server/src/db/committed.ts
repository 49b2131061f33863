import { ServiceUnavailableException } from '@nestjs/common';
import { QueryFailedError } from 'typeorm';
import type { DataSource, EntityManager } from 'typeorm';
import { Gate } from '../work/gate.js';

/** Transactions that write at once: of the ten connections of the database's driver some are always left for who reads. */
const MAX_WRITERS = 6;
const MAX_WAITING = 200;

const writers = new WeakMap<DataSource, Gate>();

/** Times that a transaction is run which the database broke off because it and another one waited for each other. */
const MAX_ATTEMPTS = 5;
/** What MariaDB calls that: ER_LOCK_DEADLOCK. */
const DEADLOCK = 1213;

/**
 * Runs a short transaction: the one road by which anything is stored. A few write at once; the others wait without holding a
 * connection. What fails before it is committed is rolled back; of two that wait for each other the database breaks one
 * off, and it is run again. When the answer to the commit itself is lost, it is unknown whether it was stored, and the
 * error says so. Undefined from `work` rolls back.
 */
export async function committed<T>(database: DataSource, work: (manager: EntityManager) => Promise<T>): Promise<T> {
  const gate = writers.get(database) ?? new Gate(MAX_WRITERS, MAX_WAITING);
  writers.set(database, gate);
  return gate.run(async () => {
    for (let attempt = 1; ; attempt++)
      try {
        return await inTransaction(database, work);
      } catch (error) {
        if (!isDeadlock(error)) throw error;
        if (attempt === MAX_ATTEMPTS)
          throw new ServiceUnavailableException(
            'Others are storing the same at this moment. Nothing was saved; send it again.',
          );
      }
  });
}

function isDeadlock(error: unknown): boolean {
  return error instanceof QueryFailedError && (error.driverError as { errno?: unknown }).errno === DEADLOCK;
}

async function inTransaction<T>(database: DataSource, work: (manager: EntityManager) => Promise<T>): Promise<T> {
  const runner = database.createQueryRunner();
  try {
    await runner.startTransaction('READ COMMITTED');
    const done = await work(runner.manager);
    if (done === undefined) {
      await runner.rollbackTransaction();
      return done;
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
