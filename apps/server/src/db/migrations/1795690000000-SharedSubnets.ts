import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

/** A provider says whether several clusters may live in one subnet; those of before may. */
export class SharedSubnets1795690000000 implements MigrationInterface {
  name = 'SharedSubnets1795690000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      'ALTER TABLE `profile` ADD COLUMN IF NOT EXISTS `sharesSubnets` tinyint NOT NULL DEFAULT 1',
    );
    await queryRunner.query('ALTER TABLE `profile` ALTER COLUMN `sharesSubnets` DROP DEFAULT');
    await completeHistory(queryRunner);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('ALTER TABLE `profile` DROP COLUMN `sharesSubnets`');
  }
}
