import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

const made = [
  'CREATE TABLE `connection` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `way` varchar(20) NOT NULL, `shape` varchar(20) NOT NULL, `tunnel` varchar(20) NOT NULL, `port` int NULL, `mostLinks` int NOT NULL, `rendezvous` varchar(253) COLLATE "utf8mb4_bin" NOT NULL, `rendezvousPort` int NOT NULL, `keyReference` varchar(200) COLLATE "utf8mb4_bin" NOT NULL, `domain` varchar(253) COLLATE "utf8mb4_bin" NOT NULL, `dnsTtl` int NOT NULL, `probeSeconds` int NOT NULL, `probesLost` int NOT NULL, `takeoverSeconds` int NOT NULL, `keepsSeconds` int NULL, `isPlanned` tinyint NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_1a1e9891b36edfa374dbaf4dc7` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `member` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `connectionId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `memberId` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `dnsSuffix` varchar(253) COLLATE "utf8mb4_bin" NOT NULL, `translated` json NOT NULL, `gateways` int NOT NULL, `gatewayZones` json NOT NULL, `gatewayAddresses` json NOT NULL, `dials` varchar(20) NOT NULL, `isHub` tinyint NOT NULL, `gatewayMbps` decimal(12,1) NULL, `plannedMbps` decimal(12,1) NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_295db9af770acfde8dba1e2820` (`planId`, `connectionId`, `clusterId`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `service_export` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `memberId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `namespace` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `name` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `weight` int NOT NULL, `rank` int NOT NULL, `usedByIds` json NOT NULL, `mirrorsPods` tinyint NOT NULL, `mostMs` decimal(12,1) NULL, `createdOn` char(10) NOT NULL, `kept` varchar(8000) COLLATE "utf8mb4_bin" NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_769447dadd452d160fd7018414` (`planId`, `memberId`, `namespace`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'ALTER TABLE `plan` ADD `weightJoinRanges` int NOT NULL',
  'ALTER TABLE `plan` ADD `weightJoinReach` int NOT NULL',
  'ALTER TABLE `plan` ADD `weightJoinWire` int NOT NULL',
  'ALTER TABLE `plan` ADD `weightJoinSurvival` int NOT NULL',
  'ALTER TABLE `plan` ADD `weightJoinEffort` int NOT NULL',
  'ALTER TABLE `plan` ADD `weightJoinCost` int NOT NULL',
  'ALTER TABLE `connection` ADD CONSTRAINT `FK_c707d27e5e643c4506069dd6f9e` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `member` ADD CONSTRAINT `FK_3bf78860a2bea7cb52c60078b89` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `member` ADD CONSTRAINT `FK_b6355b95579da12cb90f842299a` FOREIGN KEY (`planId`, `connectionId`) REFERENCES `connection`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `member` ADD CONSTRAINT `FK_5be24434ff1c67a683aec335ce2` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `service_export` ADD CONSTRAINT `FK_a3591f3cb4ba3a533e2128eafdc` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `service_export` ADD CONSTRAINT `FK_ec93fc05ef2b04acd53ff9bdf0f` FOREIGN KEY (`planId`, `memberId`) REFERENCES `member`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
];

const dropped = [
  'ALTER TABLE `service_export` DROP FOREIGN KEY `FK_ec93fc05ef2b04acd53ff9bdf0f`',
  'ALTER TABLE `service_export` DROP FOREIGN KEY `FK_a3591f3cb4ba3a533e2128eafdc`',
  'ALTER TABLE `member` DROP FOREIGN KEY `FK_5be24434ff1c67a683aec335ce2`',
  'ALTER TABLE `member` DROP FOREIGN KEY `FK_b6355b95579da12cb90f842299a`',
  'ALTER TABLE `member` DROP FOREIGN KEY `FK_3bf78860a2bea7cb52c60078b89`',
  'ALTER TABLE `connection` DROP FOREIGN KEY `FK_c707d27e5e643c4506069dd6f9e`',
  'ALTER TABLE `plan` DROP COLUMN `weightJoinCost`',
  'ALTER TABLE `plan` DROP COLUMN `weightJoinEffort`',
  'ALTER TABLE `plan` DROP COLUMN `weightJoinSurvival`',
  'ALTER TABLE `plan` DROP COLUMN `weightJoinWire`',
  'ALTER TABLE `plan` DROP COLUMN `weightJoinReach`',
  'ALTER TABLE `plan` DROP COLUMN `weightJoinRanges`',
  'DROP INDEX `IDX_769447dadd452d160fd7018414` ON `service_export`',
  'DROP TABLE `service_export`',
  'DROP INDEX `IDX_295db9af770acfde8dba1e2820` ON `member`',
  'DROP TABLE `member`',
  'DROP INDEX `IDX_1a1e9891b36edfa374dbaf4dc7` ON `connection`',
  'DROP TABLE `connection`',
];

/** What plans of before have in the new columns. */
const values: Readonly<Record<string, number>> = {
  weightJoinRanges: 5,
  weightJoinReach: 5,
  weightJoinWire: 3,
  weightJoinSurvival: 5,
  weightJoinEffort: 4,
  weightJoinCost: 3,
};

/** Connections of clusters, their members and exported services, and what weighs when kinds of connections are compared. */
export class Joins1795670000000 implements MigrationInterface {
  name = 'Joins1795670000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    for (const statement of made) await queryRunner.query(statement);
    const columns = Object.keys(values).map((field) => `\`${field}\` = ?`);
    await queryRunner.query(`UPDATE \`plan\` SET ${columns.join(', ')}`, Object.values(values));
    await completeHistory(queryRunner);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    for (const statement of dropped) await queryRunner.query(statement);
  }
}
