import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A removed plan is kept for a while, and a log of plans outside of them. */
export class Removals1795680000000 implements MigrationInterface {
  name = 'Removals1795680000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('ALTER TABLE `plan` ADD COLUMN IF NOT EXISTS `removedAt` datetime(3) NULL');
    await queryRunner.query(
      'CREATE TABLE IF NOT EXISTS `plan_event` (`id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `planName` varchar(80) NOT NULL, `event` varchar(20) NOT NULL, `revision` int NOT NULL, `author` varchar(80) NOT NULL, `at` datetime(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), PRIMARY KEY (`id`)) ENGINE=InnoDB',
    );
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('DROP TABLE `plan_event`');
    await queryRunner.query('ALTER TABLE `plan` DROP COLUMN `removedAt`');
  }
}
