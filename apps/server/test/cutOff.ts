import type { MigrationInterface, QueryRunner } from 'typeorm';
import { migrations } from '../src/db/migrations/index.js';

/** The migrations, cut off after a number of statements as a kill would: the last is done, and nothing after it. */
export function cutOff(after: number): {
  readonly all: (new () => MigrationInterface)[];
  readonly done: () => number;
} {
  let count = 0;
  const counted = (queryRunner: QueryRunner): QueryRunner =>
    new Proxy(queryRunner, {
      get: (target, name) => {
        if (name !== 'query') {
          const value: unknown = Reflect.get(target, name);
          return typeof value === 'function' ? (value.bind(target) as unknown) : value;
        }
        return async (...args: Parameters<QueryRunner['query']>): Promise<unknown> => {
          const answer: unknown = await target.query(...args);
          if (++count === after) throw new Error('killed');
          return answer;
        };
      },
    });
  const all = migrations.map((migration) => {
    const cut = class extends migration {
      override up(queryRunner: QueryRunner): Promise<void> {
        return super.up(counted(queryRunner)) as Promise<void>;
      }
    };
    Object.defineProperty(cut, 'name', { value: migration.name });
    return cut;
  });
  return { all, done: () => count };
}
