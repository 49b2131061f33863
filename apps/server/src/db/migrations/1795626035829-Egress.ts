import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';
import { makeRouteTables } from './routeTablesOfHistory.js';

const tables = [
  'CREATE TABLE `prefix_set` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `prefixes` json NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_a08ea0fc5a083c6be798d31519` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `route_table` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `networkId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `isMain` tinyint NOT NULL, `zone` varchar(20) COLLATE "utf8mb4_bin" NOT NULL, `note` varchar(500) NOT NULL, `intent` varchar(120) NOT NULL, `proposedAs` varchar(24) NOT NULL, UNIQUE INDEX `IDX_de4089d7c983797fb2f0faf1d4` (`planId`, `networkId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `nat_device` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `subnetId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `publicAddresses` json NOT NULL, `intent` varchar(120) NOT NULL, `proposedAs` varchar(24) NOT NULL, UNIQUE INDEX `IDX_5ca845b6335289b603ff434f8f` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `firewall` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `subnetId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `isStateful` tinyint NOT NULL, `translates` tinyint NOT NULL, `publicAddresses` json NOT NULL, `defaultAction` varchar(20) NOT NULL, `intent` varchar(120) NOT NULL, `proposedAs` varchar(24) NOT NULL, UNIQUE INDEX `IDX_43c5cbffdf4569c20a59e44c70` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `route` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `routeTableId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `prefix` varchar(49) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `family` tinyint NOT NULL, `firstAddress` varbinary(16) NOT NULL, `lastAddress` varbinary(16) NOT NULL, `prefixLength` tinyint UNSIGNED NOT NULL, `nextHop` varchar(20) NOT NULL, `linkId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `natDeviceId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `firewallId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `note` varchar(500) NOT NULL, `intent` varchar(120) NOT NULL, `proposedAs` varchar(24) NOT NULL, INDEX `IDX_ddda9dfd303da7e3ef4c87ef7c` (`planId`, `family`, `firstAddress`, `prefixLength`), UNIQUE INDEX `IDX_11035c8e71382c5a317b9d4d79` (`planId`, `routeTableId`, `prefix`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `bastion` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `subnetId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `address` varchar(45) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `intent` varchar(120) NOT NULL, `proposedAs` varchar(24) NOT NULL, UNIQUE INDEX `IDX_e68791da20766f4f9031da67a0` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `endpoint` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `subnetId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `address` varchar(45) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `serves` varchar(20) NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `intent` varchar(120) NOT NULL, `proposedAs` varchar(24) NOT NULL, UNIQUE INDEX `IDX_1894fc3ab759f5a1d673442598` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `filter` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `mode` varchar(20) NOT NULL, `isStateful` tinyint NOT NULL, `defaultIn` varchar(20) NOT NULL, `defaultOut` varchar(20) NOT NULL, `clusterIds` json NOT NULL, `nodePoolIds` json NOT NULL, `subnetIds` json NOT NULL, `endpointIds` json NOT NULL, `note` varchar(500) NOT NULL, `intent` varchar(120) NOT NULL, `proposedAs` varchar(24) NOT NULL, UNIQUE INDEX `IDX_2f0c0130119a93793b26647a16` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `filter_rule` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `filterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `direction` varchar(20) NOT NULL, `position` int NOT NULL, `action` varchar(20) NOT NULL, `protocol` varchar(20) NOT NULL, `ports` json NOT NULL, `peers` json NOT NULL, `peerSetIds` json NOT NULL, `peerFilterIds` json NOT NULL, `note` varchar(500) NOT NULL, `intent` varchar(120) NOT NULL, `proposedAs` varchar(24) NOT NULL, UNIQUE INDEX `IDX_4448b2fd416e845b645af9a5b0` (`planId`, `filterId`, `direction`, `position`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `firewall_rule` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `firewallId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `position` int NOT NULL, `action` varchar(20) NOT NULL, `protocol` varchar(20) NOT NULL, `ports` json NOT NULL, `sources` json NOT NULL, `sourceSetIds` json NOT NULL, `destinations` json NOT NULL, `destinationSetIds` json NOT NULL, `note` varchar(500) NOT NULL, `intent` varchar(120) NOT NULL, `proposedAs` varchar(24) NOT NULL, UNIQUE INDEX `IDX_bbae844206f83bccacdc31a7c9` (`planId`, `firewallId`, `position`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `need` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `hosts` json NOT NULL, `prefixes` json NOT NULL, `protocol` varchar(20) NOT NULL, `ports` json NOT NULL, `access` varchar(20) NOT NULL, `endpointIds` json NOT NULL, `siteIds` json NOT NULL, `templateIds` json NOT NULL, `clusterIds` json NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_7adc6e5183ca9da453e5e44603` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `expectation` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `from` varchar(200) NOT NULL, `to` varchar(200) NOT NULL, `verdict` varchar(20) NOT NULL, `bytes` int NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_209aea575337e40eaa6d89ab5e` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
];

const foreignKeys = [
  'ALTER TABLE `prefix_set` ADD CONSTRAINT `FK_b9cfbbcc68f06e519ed8dcc1483` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `route_table` ADD CONSTRAINT `FK_14ab21b9f2fd8d31f73c12d40f6` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `route_table` ADD CONSTRAINT `FK_95e2772a26a11e8ce7d163e9c7c` FOREIGN KEY (`planId`, `networkId`) REFERENCES `network`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `subnet` ADD CONSTRAINT `FK_f3e00ab54af4e4751bb5222a371` FOREIGN KEY (`planId`, `routeTableId`) REFERENCES `route_table`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `nat_device` ADD CONSTRAINT `FK_cb4aecadca7ff657b54d01637ba` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `nat_device` ADD CONSTRAINT `FK_3e195e66016257185cd4b5569f3` FOREIGN KEY (`planId`, `subnetId`) REFERENCES `subnet`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `firewall` ADD CONSTRAINT `FK_b363b25a481e10e4b5c9cd1fed1` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `firewall` ADD CONSTRAINT `FK_73f97ac6ad75a7f8424ba4ea882` FOREIGN KEY (`planId`, `subnetId`) REFERENCES `subnet`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `route` ADD CONSTRAINT `FK_37e156fbe41babf03ec9adf52fd` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `route` ADD CONSTRAINT `FK_402cb1cb47af9097a812feadc60` FOREIGN KEY (`planId`, `routeTableId`) REFERENCES `route_table`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `route` ADD CONSTRAINT `FK_cb0a9727396881540907e593f17` FOREIGN KEY (`planId`, `linkId`) REFERENCES `link`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `route` ADD CONSTRAINT `FK_15771bf31e1c921ba359b14c692` FOREIGN KEY (`planId`, `natDeviceId`) REFERENCES `nat_device`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `route` ADD CONSTRAINT `FK_49ef9a83a4fdc9abda3804f9fcf` FOREIGN KEY (`planId`, `firewallId`) REFERENCES `firewall`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `bastion` ADD CONSTRAINT `FK_e523721db9bac81b1b03890f8de` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `bastion` ADD CONSTRAINT `FK_19bbd2d066fb2c939fff48aec02` FOREIGN KEY (`planId`, `subnetId`) REFERENCES `subnet`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `cluster` ADD CONSTRAINT `FK_3de903b4d69adf4416181dc59c6` FOREIGN KEY (`planId`, `bastionId`) REFERENCES `bastion`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `endpoint` ADD CONSTRAINT `FK_1b63da03286d39baed3f2d8ddd3` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `endpoint` ADD CONSTRAINT `FK_3d4066ec62ef29a0f6603349bf8` FOREIGN KEY (`planId`, `subnetId`) REFERENCES `subnet`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `endpoint` ADD CONSTRAINT `FK_8b5efa26379db225e7b86624d50` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `filter` ADD CONSTRAINT `FK_da63a15143a440b8ebdc4904ebc` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `filter_rule` ADD CONSTRAINT `FK_27a63e1c646719500c6ca78254f` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `filter_rule` ADD CONSTRAINT `FK_1a7171ec47e2204d0a42f143923` FOREIGN KEY (`planId`, `filterId`) REFERENCES `filter`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `firewall_rule` ADD CONSTRAINT `FK_bbd21786c86585961f0fff566ff` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `firewall_rule` ADD CONSTRAINT `FK_417b0ff219c5fb9aea9f6bf2e8f` FOREIGN KEY (`planId`, `firewallId`) REFERENCES `firewall`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `need` ADD CONSTRAINT `FK_7eb52e6db047c24b65e03568a11` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `expectation` ADD CONSTRAINT `FK_70bf6488ba3907e8bcd9010412b` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
];

// The usual values of the day; what they are in the core may change later, this migration may not.
const columns: readonly [table: string, column: string, type: string, value: string][] = [
  ['profile', 'routePreference', 'json', '["peering","hub","circuit","tunnel"]'],
  ['network', 'egress', 'varchar(20)', 'undecided'],
  ['network', 'nameServers', 'json', '[]'],
  ['network', 'timeServers', 'json', '[]'],
  ['cluster', 'untranslated', 'json', '[]'],
];
const optional = [
  'ALTER TABLE `subnet` ADD `routeTableId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL',
  'ALTER TABLE `subnet` ADD `gateway` varchar(45) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL',
  'ALTER TABLE `cluster` ADD `apiPort` int NULL',
  'ALTER TABLE `cluster` ADD `bastionId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL',
];

/** Route tables, NAT devices, firewalls, filters, endpoints, bastions, needs and expectations; the names of route tables become tables. */
export class Egress1795626035829 implements MigrationInterface {
  name = 'Egress1795626035829';

  async up(queryRunner: QueryRunner): Promise<void> {
    for (const statement of [...tables, ...optional]) await queryRunner.query(statement);
    for (const [table, column, type, value] of columns) {
      await queryRunner.query(`ALTER TABLE \`${table}\` ADD COLUMN IF NOT EXISTS \`${column}\` ${type} NULL`);
      await queryRunner.query(`UPDATE \`${table}\` SET \`${column}\` = ? WHERE \`${column}\` IS NULL`, [value]);
      await queryRunner.query(`ALTER TABLE \`${table}\` MODIFY \`${column}\` ${type} NOT NULL`);
    }
    if (await queryRunner.hasColumn('subnet', 'routeTable')) await makeRouteTables(queryRunner);
    await completeHistory(queryRunner);
    await queryRunner.query('ALTER TABLE `subnet` DROP COLUMN IF EXISTS `routeTable`');
    for (const statement of foreignKeys) await queryRunner.query(statement);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query("ALTER TABLE `subnet` ADD `routeTable` varchar(60) NOT NULL DEFAULT ''");
    await queryRunner.query(
      'UPDATE `subnet` s JOIN `route_table` t ON t.`planId` = s.`planId` AND t.`id` = s.`routeTableId` SET s.`routeTable` = LEFT(t.`name`, 60)',
    );
    await queryRunner.query('ALTER TABLE `subnet` ALTER COLUMN `routeTable` DROP DEFAULT');
    for (const statement of dropped) await queryRunner.query(statement);
  }
}

const dropped = [
  'ALTER TABLE `expectation` DROP FOREIGN KEY `FK_70bf6488ba3907e8bcd9010412b`',
  'ALTER TABLE `need` DROP FOREIGN KEY `FK_7eb52e6db047c24b65e03568a11`',
  'ALTER TABLE `firewall_rule` DROP FOREIGN KEY `FK_417b0ff219c5fb9aea9f6bf2e8f`',
  'ALTER TABLE `firewall_rule` DROP FOREIGN KEY `FK_bbd21786c86585961f0fff566ff`',
  'ALTER TABLE `filter_rule` DROP FOREIGN KEY `FK_1a7171ec47e2204d0a42f143923`',
  'ALTER TABLE `filter_rule` DROP FOREIGN KEY `FK_27a63e1c646719500c6ca78254f`',
  'ALTER TABLE `filter` DROP FOREIGN KEY `FK_da63a15143a440b8ebdc4904ebc`',
  'ALTER TABLE `endpoint` DROP FOREIGN KEY `FK_8b5efa26379db225e7b86624d50`',
  'ALTER TABLE `endpoint` DROP FOREIGN KEY `FK_3d4066ec62ef29a0f6603349bf8`',
  'ALTER TABLE `endpoint` DROP FOREIGN KEY `FK_1b63da03286d39baed3f2d8ddd3`',
  'ALTER TABLE `cluster` DROP FOREIGN KEY `FK_3de903b4d69adf4416181dc59c6`',
  'ALTER TABLE `bastion` DROP FOREIGN KEY `FK_19bbd2d066fb2c939fff48aec02`',
  'ALTER TABLE `bastion` DROP FOREIGN KEY `FK_e523721db9bac81b1b03890f8de`',
  'ALTER TABLE `route` DROP FOREIGN KEY `FK_49ef9a83a4fdc9abda3804f9fcf`',
  'ALTER TABLE `route` DROP FOREIGN KEY `FK_15771bf31e1c921ba359b14c692`',
  'ALTER TABLE `route` DROP FOREIGN KEY `FK_cb0a9727396881540907e593f17`',
  'ALTER TABLE `route` DROP FOREIGN KEY `FK_402cb1cb47af9097a812feadc60`',
  'ALTER TABLE `route` DROP FOREIGN KEY `FK_37e156fbe41babf03ec9adf52fd`',
  'ALTER TABLE `firewall` DROP FOREIGN KEY `FK_73f97ac6ad75a7f8424ba4ea882`',
  'ALTER TABLE `firewall` DROP FOREIGN KEY `FK_b363b25a481e10e4b5c9cd1fed1`',
  'ALTER TABLE `nat_device` DROP FOREIGN KEY `FK_3e195e66016257185cd4b5569f3`',
  'ALTER TABLE `nat_device` DROP FOREIGN KEY `FK_cb4aecadca7ff657b54d01637ba`',
  'ALTER TABLE `subnet` DROP FOREIGN KEY `FK_f3e00ab54af4e4751bb5222a371`',
  'ALTER TABLE `route_table` DROP FOREIGN KEY `FK_95e2772a26a11e8ce7d163e9c7c`',
  'ALTER TABLE `route_table` DROP FOREIGN KEY `FK_14ab21b9f2fd8d31f73c12d40f6`',
  'ALTER TABLE `prefix_set` DROP FOREIGN KEY `FK_b9cfbbcc68f06e519ed8dcc1483`',
  'ALTER TABLE `cluster` DROP COLUMN `untranslated`',
  'ALTER TABLE `cluster` DROP COLUMN `bastionId`',
  'ALTER TABLE `cluster` DROP COLUMN `apiPort`',
  'ALTER TABLE `subnet` DROP COLUMN `gateway`',
  'ALTER TABLE `subnet` DROP COLUMN `routeTableId`',
  'ALTER TABLE `network` DROP COLUMN `timeServers`',
  'ALTER TABLE `network` DROP COLUMN `nameServers`',
  'ALTER TABLE `network` DROP COLUMN `egress`',
  'ALTER TABLE `profile` DROP COLUMN `routePreference`',
  'DROP INDEX `IDX_209aea575337e40eaa6d89ab5e` ON `expectation`',
  'DROP TABLE `expectation`',
  'DROP INDEX `IDX_7adc6e5183ca9da453e5e44603` ON `need`',
  'DROP TABLE `need`',
  'DROP INDEX `IDX_bbae844206f83bccacdc31a7c9` ON `firewall_rule`',
  'DROP TABLE `firewall_rule`',
  'DROP INDEX `IDX_4448b2fd416e845b645af9a5b0` ON `filter_rule`',
  'DROP TABLE `filter_rule`',
  'DROP INDEX `IDX_2f0c0130119a93793b26647a16` ON `filter`',
  'DROP TABLE `filter`',
  'DROP INDEX `IDX_1894fc3ab759f5a1d673442598` ON `endpoint`',
  'DROP TABLE `endpoint`',
  'DROP INDEX `IDX_e68791da20766f4f9031da67a0` ON `bastion`',
  'DROP TABLE `bastion`',
  'DROP INDEX `IDX_11035c8e71382c5a317b9d4d79` ON `route`',
  'DROP INDEX `IDX_ddda9dfd303da7e3ef4c87ef7c` ON `route`',
  'DROP TABLE `route`',
  'DROP INDEX `IDX_43c5cbffdf4569c20a59e44c70` ON `firewall`',
  'DROP TABLE `firewall`',
  'DROP INDEX `IDX_5ca845b6335289b603ff434f8f` ON `nat_device`',
  'DROP TABLE `nat_device`',
  'DROP INDEX `IDX_de4089d7c983797fb2f0faf1d4` ON `route_table`',
  'DROP TABLE `route_table`',
  'DROP INDEX `IDX_a08ea0fc5a083c6be798d31519` ON `prefix_set`',
  'DROP TABLE `prefix_set`',
];
