import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

/** A cluster may have several subnets in a zone, each with its turn; those of before are the first. */
export class FurtherSubnets1795700000000 implements MigrationInterface {
  name = 'FurtherSubnets1795700000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('ALTER TABLE `allocation` ADD COLUMN IF NOT EXISTS `turn` int NOT NULL DEFAULT 1');
    await queryRunner.query('ALTER TABLE `allocation` ALTER COLUMN `turn` DROP DEFAULT');
    await queryRunner.query(
      'CREATE UNIQUE INDEX `IDX_bbc3a158ca2a93a803f563e212` ON `allocation` (`planId`, `clusterId`, `purpose`, `zone`, `family`, `turn`)',
    );
    await queryRunner.query('DROP INDEX `IDX_64f25d8eb3c07b498f3ddd22d3` ON `allocation`');
    await completeHistory(queryRunner);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('DELETE FROM `allocation` WHERE `turn` > 1');
    await queryRunner.query(
      'CREATE UNIQUE INDEX `IDX_64f25d8eb3c07b498f3ddd22d3` ON `allocation` (`planId`, `clusterId`, `purpose`, `zone`, `family`)',
    );
    await queryRunner.query('DROP INDEX `IDX_bbc3a158ca2a93a803f563e212` ON `allocation`');
    await queryRunner.query('ALTER TABLE `allocation` DROP COLUMN `turn`');
  }
}
