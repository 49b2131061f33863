import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

/** Attachments say how much their network prefers what it learns over the link; until now all were alike. */
export class LocalPreference1795720000000 implements MigrationInterface {
  name = 'LocalPreference1795720000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      'ALTER TABLE `attachment` ADD COLUMN IF NOT EXISTS `localPreference` int NOT NULL DEFAULT 100',
    );
    await queryRunner.query('ALTER TABLE `attachment` ALTER COLUMN `localPreference` DROP DEFAULT');
    await completeHistory(queryRunner);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('ALTER TABLE `attachment` DROP COLUMN `localPreference`');
  }
}
