import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

const tables: readonly string[] = [
  'CREATE TABLE IF NOT EXISTS `build_time` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `step` varchar(20) NOT NULL, `profileId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `seconds` int NOT NULL, `atOnce` int NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_49179bb0016e5faeb931cf2135` (`planId`, `step`, `profileId`), PRIMARY KEY (`planId`, `id`), CONSTRAINT `FK_e998eb22e0de01fefc33d4610d3` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION, CONSTRAINT `FK_14dc48ac791215db9c2a1095a95` FOREIGN KEY (`planId`, `profileId`) REFERENCES `profile`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION) ENGINE=InnoDB',
  'CREATE TABLE IF NOT EXISTS `confirmation` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `siteId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `what` varchar(20) NOT NULL, `confirmedBy` varchar(80) NOT NULL, `confirmedOn` char(10) NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_42e36600fe0010311dcc700fc8` (`planId`, `siteId`, `what`), PRIMARY KEY (`planId`, `id`), CONSTRAINT `FK_dddd81bebdaa0571947c903c306` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION, CONSTRAINT `FK_6413d437dfb7a15480ea862be19` FOREIGN KEY (`planId`, `siteId`) REFERENCES `site`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION) ENGINE=InnoDB',
];

/** Build times of steps, prerequisites confirmed by hand, and what is lost while an expectation is asked. */
export class Rehearsal1796200000000 implements MigrationInterface {
  name = 'Rehearsal1796200000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    for (const table of tables) await queryRunner.query(table);
    await queryRunner.query(
      'ALTER TABLE `expectation` ADD COLUMN IF NOT EXISTS `during` varchar(300) COLLATE "utf8mb4_bin" NOT NULL DEFAULT \'\'',
    );
    await queryRunner.query('ALTER TABLE `expectation` ALTER COLUMN `during` DROP DEFAULT');
    await completeHistory(queryRunner);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('ALTER TABLE `expectation` DROP COLUMN `during`');
    await queryRunner.query('DROP TABLE `confirmation`');
    await queryRunner.query('DROP TABLE `build_time`');
  }
}
