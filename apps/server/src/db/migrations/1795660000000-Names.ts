import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

const made = [
  'CREATE TABLE `zone` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `apex` varchar(253) COLLATE "utf8mb4_bin" NOT NULL, `side` varchar(20) NOT NULL, `networkIds` json NOT NULL, `nameServers` json NOT NULL, `isDelegated` tinyint NOT NULL, `ttl` int NOT NULL, `primary` varchar(253) COLLATE "utf8mb4_bin" NOT NULL, `mailbox` varchar(253) COLLATE "utf8mb4_bin" NOT NULL, `serial` int NOT NULL, `refresh` int NOT NULL, `retry` int NOT NULL, `expire` int NOT NULL, `cutOverAim` int NULL, `minimum` int NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_674f1b010d3ffde9f148001f9a` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `dns_record` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `zoneId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(200) COLLATE "utf8mb4_bin" NOT NULL, `type` varchar(20) NOT NULL, `value` varchar(480) COLLATE "utf8mb4_bin" NOT NULL, `ttl` int NULL, `target` varchar(20) NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_01dfa9c0a3023044dbd9445301` (`planId`, `zoneId`, `name`, `type`, `value`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `keeper` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `ownerMark` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `zoneIds` json NOT NULL, `types` json NOT NULL, `sources` json NOT NULL, `policy` varchar(20) NOT NULL, `ttl` int NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_caf70e490b26766c1ecc5e18b2` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `resolver` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `networkId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `addresses` json NOT NULL, `role` varchar(20) NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_3bcc86d35854c10bf233e9765f` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `forward` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `domain` varchar(253) COLLATE "utf8mb4_bin" NOT NULL, `networkIds` json NOT NULL, `targets` json NOT NULL, `throughId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_ff803e1be74ac1c00b89cb5f3c` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `certificate` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `namespace` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `names` json NOT NULL, `issuerKind` varchar(20) NOT NULL, `issuerDomain` varchar(253) COLLATE "utf8mb4_bin" NOT NULL, `validFrom` char(10) NOT NULL, `validDays` int NOT NULL, `renewDays` int NOT NULL, `renewsItself` tinyint NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_7da11e5b66882929ace49a9caa` (`planId`, `clusterId`, `namespace`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'ALTER TABLE `profile` ADD `balancerDomain` varchar(253) COLLATE "utf8mb4_bin" NOT NULL',
  'ALTER TABLE `cluster` ADD `dnsDomain` varchar(253) COLLATE "utf8mb4_bin" NOT NULL',
  'ALTER TABLE `cluster` ADD `dnsReplicas` int NULL',
  'ALTER TABLE `cluster` ADD `ndots` int NOT NULL',
  "ALTER TABLE `cluster` ADD `searchList` json NOT NULL DEFAULT '[]'",
  "ALTER TABLE `cluster` ADD `stubZones` json NOT NULL DEFAULT '[]'",
  "ALTER TABLE `cluster` ADD `dnsUpstream` json NOT NULL DEFAULT '[]'",
  'ALTER TABLE `cluster` ADD `hasNodeCache` tinyint NOT NULL',
  'ALTER TABLE `cluster` ADD `baseDomain` varchar(253) COLLATE "utf8mb4_bin" NOT NULL',
  'ALTER TABLE `balancer` ADD `providerName` varchar(253) COLLATE "utf8mb4_bin" NOT NULL',
  "ALTER TABLE `workload` ADD `callsTo` json NOT NULL DEFAULT '[]'",
  'ALTER TABLE `workload` ADD `lookUps` decimal(12,2) NOT NULL',
  'ALTER TABLE `workload` ADD `dnsCache` varchar(20) NOT NULL',
  "ALTER TABLE `service` ADD `hosts` json NOT NULL DEFAULT '[]'",
  'ALTER TABLE `zone` ADD CONSTRAINT `FK_d88fc999a0f7853f990d5361dc5` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `dns_record` ADD CONSTRAINT `FK_fff179f3315080a5a0b45ea649e` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `dns_record` ADD CONSTRAINT `FK_0b955091d0727b7047afeca16e9` FOREIGN KEY (`planId`, `zoneId`) REFERENCES `zone`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `keeper` ADD CONSTRAINT `FK_f05ab91d40d66b08cd24d323832` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `keeper` ADD CONSTRAINT `FK_64d14f107f4e54a1a53b82d8cda` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `resolver` ADD CONSTRAINT `FK_aaa8c3d0cc17e0b1d69a4c3346d` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `resolver` ADD CONSTRAINT `FK_874988cca31a6f0ab8659080ce1` FOREIGN KEY (`planId`, `networkId`) REFERENCES `network`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `forward` ADD CONSTRAINT `FK_3c5da6757b83995250560720b26` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `forward` ADD CONSTRAINT `FK_fab138d5d40a4e0920489cff91c` FOREIGN KEY (`planId`, `throughId`) REFERENCES `resolver`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `certificate` ADD CONSTRAINT `FK_632fe7889a0b1fbfd6f39b0fb02` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `certificate` ADD CONSTRAINT `FK_24652146af98aaa56f84f50c5f5` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
];

const dropped = [
  'ALTER TABLE `certificate` DROP FOREIGN KEY `FK_24652146af98aaa56f84f50c5f5`',
  'ALTER TABLE `certificate` DROP FOREIGN KEY `FK_632fe7889a0b1fbfd6f39b0fb02`',
  'ALTER TABLE `forward` DROP FOREIGN KEY `FK_fab138d5d40a4e0920489cff91c`',
  'ALTER TABLE `forward` DROP FOREIGN KEY `FK_3c5da6757b83995250560720b26`',
  'ALTER TABLE `resolver` DROP FOREIGN KEY `FK_874988cca31a6f0ab8659080ce1`',
  'ALTER TABLE `resolver` DROP FOREIGN KEY `FK_aaa8c3d0cc17e0b1d69a4c3346d`',
  'ALTER TABLE `keeper` DROP FOREIGN KEY `FK_64d14f107f4e54a1a53b82d8cda`',
  'ALTER TABLE `keeper` DROP FOREIGN KEY `FK_f05ab91d40d66b08cd24d323832`',
  'ALTER TABLE `dns_record` DROP FOREIGN KEY `FK_0b955091d0727b7047afeca16e9`',
  'ALTER TABLE `dns_record` DROP FOREIGN KEY `FK_fff179f3315080a5a0b45ea649e`',
  'ALTER TABLE `zone` DROP FOREIGN KEY `FK_d88fc999a0f7853f990d5361dc5`',
  'ALTER TABLE `service` DROP COLUMN `hosts`',
  'ALTER TABLE `workload` DROP COLUMN `dnsCache`',
  'ALTER TABLE `workload` DROP COLUMN `lookUps`',
  'ALTER TABLE `workload` DROP COLUMN `callsTo`',
  'ALTER TABLE `balancer` DROP COLUMN `providerName`',
  'ALTER TABLE `cluster` DROP COLUMN `baseDomain`',
  'ALTER TABLE `cluster` DROP COLUMN `hasNodeCache`',
  'ALTER TABLE `cluster` DROP COLUMN `dnsUpstream`',
  'ALTER TABLE `cluster` DROP COLUMN `stubZones`',
  'ALTER TABLE `cluster` DROP COLUMN `searchList`',
  'ALTER TABLE `cluster` DROP COLUMN `ndots`',
  'ALTER TABLE `cluster` DROP COLUMN `dnsReplicas`',
  'ALTER TABLE `cluster` DROP COLUMN `dnsDomain`',
  'ALTER TABLE `profile` DROP COLUMN `balancerDomain`',
  'DROP INDEX `IDX_7da11e5b66882929ace49a9caa` ON `certificate`',
  'DROP TABLE `certificate`',
  'DROP INDEX `IDX_ff803e1be74ac1c00b89cb5f3c` ON `forward`',
  'DROP TABLE `forward`',
  'DROP INDEX `IDX_3bcc86d35854c10bf233e9765f` ON `resolver`',
  'DROP TABLE `resolver`',
  'DROP INDEX `IDX_caf70e490b26766c1ecc5e18b2` ON `keeper`',
  'DROP TABLE `keeper`',
  'DROP INDEX `IDX_01dfa9c0a3023044dbd9445301` ON `dns_record`',
  'DROP TABLE `dns_record`',
  'DROP INDEX `IDX_674f1b010d3ffde9f148001f9a` ON `zone`',
  'DROP TABLE `zone`',
];

/** Lists that rows had nothing in before. */
const lists = [
  ['cluster', 'searchList'],
  ['cluster', 'stubZones'],
  ['cluster', 'dnsUpstream'],
  ['workload', 'callsTo'],
  ['service', 'hosts'],
] as const;

/** What rows of before have in the new columns, where it is not nothing. */
const values: Readonly<Record<string, Readonly<Record<string, unknown>>>> = {
  cluster: { ndots: 5 },
  workload: { dnsCache: 'none' },
};

/** Zones, records, record keepers, resolvers, forwarding rules and certificates. */
export class Names1795660000000 implements MigrationInterface {
  name = 'Names1795660000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    for (const statement of made) await queryRunner.query(statement);
    for (const [table, field] of lists)
      await queryRunner.query(`ALTER TABLE \`${table}\` ALTER COLUMN \`${field}\` DROP DEFAULT`);
    for (const [table, fields] of Object.entries(values)) {
      const columns = Object.keys(fields).map((field) => `\`${field}\` = ?`);
      await queryRunner.query(`UPDATE \`${table}\` SET ${columns.join(', ')}`, Object.values(fields));
    }
    await completeHistory(queryRunner);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    for (const statement of dropped) await queryRunner.query(statement);
  }
}
