import type { MigrationInterface, QueryRunner } from 'typeorm';

const made = [
  'CREATE TABLE `workload` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `namespace` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `labels` json NOT NULL, `replicasNow` int NOT NULL, `replicasHorizon` int NOT NULL, `ports` json NOT NULL, `nodePoolId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `nodeLabels` json NOT NULL, `spread` varchar(20) NOT NULL, `cpuMillis` int NOT NULL, `memoryMib` int NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_d48c036c63b3ec8884908eb4c0` (`planId`, `clusterId`, `namespace`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `service` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `namespace` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `type` varchar(20) NOT NULL, `selector` json NOT NULL, `ports` json NOT NULL, `address` varchar(45) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `internalPolicy` varchar(20) NOT NULL, `externalPolicy` varchar(20) NOT NULL, `affinity` varchar(20) NOT NULL, `externalName` varchar(253) NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_ccb894172d34c808c563c04801` (`planId`, `clusterId`, `namespace`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'ALTER TABLE `workload` ADD CONSTRAINT `FK_1bc20fdbd3ff40a07495f56fd96` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `workload` ADD CONSTRAINT `FK_b19072ac6f5ed08815fe31d5139` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `workload` ADD CONSTRAINT `FK_f1fec1b0824c6c684472a44a5df` FOREIGN KEY (`planId`, `nodePoolId`) REFERENCES `node_pool`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `service` ADD CONSTRAINT `FK_46240ff82558089d99ec69c6076` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `service` ADD CONSTRAINT `FK_a8feb212d350e8d259801751e08` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
];

const dropped = [
  'ALTER TABLE `workload` DROP FOREIGN KEY `FK_1bc20fdbd3ff40a07495f56fd96`',
  'ALTER TABLE `workload` DROP FOREIGN KEY `FK_b19072ac6f5ed08815fe31d5139`',
  'ALTER TABLE `workload` DROP FOREIGN KEY `FK_f1fec1b0824c6c684472a44a5df`',
  'ALTER TABLE `service` DROP FOREIGN KEY `FK_46240ff82558089d99ec69c6076`',
  'ALTER TABLE `service` DROP FOREIGN KEY `FK_a8feb212d350e8d259801751e08`',
  'DROP TABLE `service`',
  'DROP TABLE `workload`',
];

/** Workloads and services. */
export class Workloads1795640000000 implements MigrationInterface {
  name = 'Workloads1795640000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    for (const statement of made) await queryRunner.query(statement);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    for (const statement of dropped) await queryRunner.query(statement);
  }
}
