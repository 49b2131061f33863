import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

/** One network's attachment to a link can be planned, though the link stands. */
export class PlannedAttachments1795610000000 implements MigrationInterface {
  name = 'PlannedAttachments1795610000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('ALTER TABLE `attachment` ADD COLUMN IF NOT EXISTS `isPlanned` tinyint NOT NULL DEFAULT 0');
    await queryRunner.query('ALTER TABLE `attachment` ALTER COLUMN `isPlanned` DROP DEFAULT');
    await completeHistory(queryRunner);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('ALTER TABLE `attachment` DROP COLUMN `isPlanned`');
  }
}
