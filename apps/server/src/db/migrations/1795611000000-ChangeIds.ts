import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A change may carry an id, under which it is stored once however often it is sent. */
export class ChangeIds1795611000000 implements MigrationInterface {
  name = 'ChangeIds1795611000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      'ALTER TABLE `plan_change` ADD COLUMN IF NOT EXISTS `changeId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL',
    );
    await queryRunner.query(
      'CREATE UNIQUE INDEX IF NOT EXISTS `plan_change_id` ON `plan_change` (`planId`, `changeId`)',
    );
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('DROP INDEX `plan_change_id` ON `plan_change`');
    await queryRunner.query('ALTER TABLE `plan_change` DROP COLUMN `changeId`');
  }
}
