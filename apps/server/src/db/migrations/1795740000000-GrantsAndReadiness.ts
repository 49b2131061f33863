import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

const columns: readonly (readonly [table: string, column: string, type: string, before: string])[] = [
  ['cluster', 'keptObjects', 'json', "'[]'"],
  ['workload', 'notReady', 'int', '0'],
  ['service', 'endpoints', 'json', "'[]'"],
  ['service', 'publishNotReady', 'tinyint', '0'],
  ['controller', 'defaultClass', 'varchar(63) COLLATE "utf8mb4_bin"', "''"],
  ['gateway', 'namespaceTerms', 'json', "'[]'"],
  ['ingress_route', 'furtherParents', 'json', "'[]'"],
  ['zone', 'handedOut', 'varchar(16) COLLATE "utf8mb4_bin"', "''"],
];

/** Reference grants, further gateways of a route, default classes, endpoints by hand, pods that are not ready; until now there were none. */
export class GrantsAndReadiness1795740000000 implements MigrationInterface {
  name = 'GrantsAndReadiness1795740000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    for (const [table, column, type, before] of columns) {
      await queryRunner.query(
        `ALTER TABLE \`${table}\` ADD COLUMN IF NOT EXISTS \`${column}\` ${type} NOT NULL DEFAULT ${before}`,
      );
      await queryRunner.query(`ALTER TABLE \`${table}\` ALTER COLUMN \`${column}\` DROP DEFAULT`);
    }
    await queryRunner.query('ALTER TABLE `zone` ADD COLUMN IF NOT EXISTS `serverTtl` int NULL');
    await queryRunner.query(
      'CREATE TABLE IF NOT EXISTS `reference_grant` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `namespace` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `from` json NOT NULL, `to` json NOT NULL, `kept` varchar(8000) COLLATE "utf8mb4_bin" NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_c0a86726e7a1a9aed2109e0409` (`planId`, `clusterId`, `namespace`, `name`), PRIMARY KEY (`planId`, `id`), CONSTRAINT `FK_f83938973574a4aabdc75b1d0bc` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION, CONSTRAINT `FK_04b9a2aa4c0c00d64c7fa29096a` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION) ENGINE=InnoDB',
    );
    await completeHistory(queryRunner);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('DROP TABLE `reference_grant`');
    await queryRunner.query('ALTER TABLE `zone` DROP COLUMN `serverTtl`');
    for (const [table, column] of columns)
      await queryRunner.query(`ALTER TABLE \`${table}\` DROP COLUMN \`${column}\``);
  }
}
