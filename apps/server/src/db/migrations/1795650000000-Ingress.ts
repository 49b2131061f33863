import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

const made = [
  'CREATE TABLE `balancer` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `subnetId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `layer` varchar(20) NOT NULL, `runBy` varchar(20) NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `side` varchar(20) NOT NULL, `address` varchar(45) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `zones` json NOT NULL, `client` varchar(20) NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_5ac2e64ae3f1a6639b58b2e296` (`planId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `backend` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `balancerId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `protocol` varchar(20) NOT NULL, `members` varchar(20) NOT NULL, `serviceId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `port` int NOT NULL, `addresses` json NOT NULL, `healthPort` int NULL, `healthPath` varchar(200) COLLATE "utf8mb4_bin" NOT NULL, `method` varchar(20) NOT NULL, `sticky` varchar(20) NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_2e9e935aa44f9f2b4c3842d62f` (`planId`, `balancerId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `listener` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `balancerId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `protocol` varchar(20) NOT NULL, `port` int NOT NULL, `certificate` varchar(120) COLLATE "utf8mb4_bin" NOT NULL, `certificateHosts` json NOT NULL, `backendId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_d9382c3f11317b47633bc5b451` (`planId`, `balancerId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `controller` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `classes` json NOT NULL, `tier` varchar(20) NOT NULL, `serviceId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `balancerId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_3962c06620d4ca37a911e1034d` (`planId`, `clusterId`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `gateway` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `namespace` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `className` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `listeners` json NOT NULL, `takesFrom` varchar(20) NOT NULL, `certificate` varchar(120) COLLATE "utf8mb4_bin" NOT NULL, `certificateHosts` json NOT NULL, `kept` varchar(8000) COLLATE "utf8mb4_bin" NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_54b1a9719f728f3f32316eea19` (`planId`, `clusterId`, `namespace`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `ingress_route` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `namespace` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `form` varchar(20) NOT NULL, `rule` int NOT NULL, `className` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `gatewayId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, `listener` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `hosts` json NOT NULL, `pathType` varchar(20) NOT NULL, `path` varchar(1024) COLLATE "utf8mb4_bin" NOT NULL, `method` varchar(20) NOT NULL, `headers` json NOT NULL, `query` json NOT NULL, `backends` json NOT NULL, `rewritePath` varchar(1024) COLLATE "utf8mb4_bin" NOT NULL, `rewriteHost` varchar(253) COLLATE "utf8mb4_bin" NOT NULL, `redirect` varchar(1024) COLLATE "utf8mb4_bin" NOT NULL, `redirectStatus` varchar(20) NOT NULL, `headerChanges` json NOT NULL, `timeoutMs` int NULL, `retries` int NOT NULL, `mirror` varchar(160) COLLATE "utf8mb4_bin" NOT NULL, `perMinute` int NULL, `limitBy` varchar(20) NOT NULL, `allowedSources` json NOT NULL, `age` int NOT NULL, `isOldForm` tinyint NOT NULL, `certificate` varchar(120) COLLATE "utf8mb4_bin" NOT NULL, `certificateHosts` json NOT NULL, `kept` varchar(8000) COLLATE "utf8mb4_bin" NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_bf4160e38b2fbb24a1d47b53c5` (`planId`, `clusterId`, `form`, `namespace`, `name`, `rule`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'CREATE TABLE `network_policy` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `id` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `name` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, `clusterId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `namespace` varchar(63) COLLATE "utf8mb4_bin" NOT NULL, `selector` json NOT NULL, `directions` json NOT NULL, `allowIn` json NOT NULL, `allowOut` json NOT NULL, `kept` varchar(8000) COLLATE "utf8mb4_bin" NOT NULL, `note` varchar(500) NOT NULL, UNIQUE INDEX `IDX_3e469ee8d6957c074d0733accd` (`planId`, `clusterId`, `namespace`, `name`), PRIMARY KEY (`planId`, `id`)) ENGINE=InnoDB',
  'ALTER TABLE `profile` ADD `listenersPerBalancer` int NOT NULL',
  "ALTER TABLE `profile` ADD `balancerPlacement` json NOT NULL DEFAULT '[]'",
  "ALTER TABLE `cluster` ADD `namespaceLabels` json NOT NULL DEFAULT '[]'",
  "ALTER TABLE `filter` ADD `balancerIds` json NOT NULL DEFAULT '[]'",
  'ALTER TABLE `expectation` ADD `answer` varchar(160) COLLATE "utf8mb4_bin" NOT NULL',
  'ALTER TABLE `workload` ADD `cpuLimit` int NULL',
  'ALTER TABLE `workload` ADD `memoryLimit` int NULL',
  'ALTER TABLE `workload` ADD `serviceMs` decimal(12,2) NULL',
  'ALTER TABLE `workload` ADD `concurrency` int NOT NULL',
  'ALTER TABLE `workload` ADD `form` varchar(20) NOT NULL',
  'ALTER TABLE `workload` ADD `kept` varchar(8000) COLLATE "utf8mb4_bin" NOT NULL',
  'ALTER TABLE `service` ADD `kept` varchar(8000) COLLATE "utf8mb4_bin" NOT NULL',
  'ALTER TABLE `expectation` MODIFY `to` varchar(500) NOT NULL',
  'ALTER TABLE `balancer` ADD CONSTRAINT `FK_a8c1534f0242659ece4a02731f7` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `balancer` ADD CONSTRAINT `FK_229ceee67bed244699878a24569` FOREIGN KEY (`planId`, `subnetId`) REFERENCES `subnet`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `balancer` ADD CONSTRAINT `FK_8fab7e334846169c01748d3f05f` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `backend` ADD CONSTRAINT `FK_0858eac095bff29d37b3eb26544` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `backend` ADD CONSTRAINT `FK_aec240ae50dce1bff9031a519c5` FOREIGN KEY (`planId`, `balancerId`) REFERENCES `balancer`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `backend` ADD CONSTRAINT `FK_56b9483c48aca4a65a9a8879aaf` FOREIGN KEY (`planId`, `serviceId`) REFERENCES `service`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `listener` ADD CONSTRAINT `FK_fd1c6dc1bd7cd1c3c3a539d1cf2` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `listener` ADD CONSTRAINT `FK_60b95b7bfca61d0b336b33adfc6` FOREIGN KEY (`planId`, `balancerId`) REFERENCES `balancer`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `listener` ADD CONSTRAINT `FK_d3ae29f9db04c8654f879ba1430` FOREIGN KEY (`planId`, `backendId`) REFERENCES `backend`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `controller` ADD CONSTRAINT `FK_974706483fb265b79222e59db6c` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `controller` ADD CONSTRAINT `FK_4a611639f7b07250e56a89ec5a2` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `controller` ADD CONSTRAINT `FK_027409e02a49b2e64bf387e6c50` FOREIGN KEY (`planId`, `serviceId`) REFERENCES `service`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `controller` ADD CONSTRAINT `FK_2523578ea405617800b47cb5100` FOREIGN KEY (`planId`, `balancerId`) REFERENCES `balancer`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `gateway` ADD CONSTRAINT `FK_19c39e47f4c207cbd7d2360ce68` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `gateway` ADD CONSTRAINT `FK_c5f65749d8c2abce6086dbb97d3` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `ingress_route` ADD CONSTRAINT `FK_e60406524e4aa58889099fe6bd5` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `ingress_route` ADD CONSTRAINT `FK_86d2e8a069cbd21ef0cd12504e0` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `ingress_route` ADD CONSTRAINT `FK_da641412c3822608c1c2d0b91c5` FOREIGN KEY (`planId`, `gatewayId`) REFERENCES `gateway`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
  'ALTER TABLE `network_policy` ADD CONSTRAINT `FK_c660024c789bb8054662bf8241e` FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION',
  'ALTER TABLE `network_policy` ADD CONSTRAINT `FK_f9f83d2717e1e8ec7bb2bf45e7f` FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION',
];

const dropped = [
  'ALTER TABLE `network_policy` DROP FOREIGN KEY `FK_f9f83d2717e1e8ec7bb2bf45e7f`',
  'ALTER TABLE `network_policy` DROP FOREIGN KEY `FK_c660024c789bb8054662bf8241e`',
  'ALTER TABLE `ingress_route` DROP FOREIGN KEY `FK_da641412c3822608c1c2d0b91c5`',
  'ALTER TABLE `ingress_route` DROP FOREIGN KEY `FK_86d2e8a069cbd21ef0cd12504e0`',
  'ALTER TABLE `ingress_route` DROP FOREIGN KEY `FK_e60406524e4aa58889099fe6bd5`',
  'ALTER TABLE `gateway` DROP FOREIGN KEY `FK_c5f65749d8c2abce6086dbb97d3`',
  'ALTER TABLE `gateway` DROP FOREIGN KEY `FK_19c39e47f4c207cbd7d2360ce68`',
  'ALTER TABLE `controller` DROP FOREIGN KEY `FK_2523578ea405617800b47cb5100`',
  'ALTER TABLE `controller` DROP FOREIGN KEY `FK_027409e02a49b2e64bf387e6c50`',
  'ALTER TABLE `controller` DROP FOREIGN KEY `FK_4a611639f7b07250e56a89ec5a2`',
  'ALTER TABLE `controller` DROP FOREIGN KEY `FK_974706483fb265b79222e59db6c`',
  'ALTER TABLE `listener` DROP FOREIGN KEY `FK_d3ae29f9db04c8654f879ba1430`',
  'ALTER TABLE `listener` DROP FOREIGN KEY `FK_60b95b7bfca61d0b336b33adfc6`',
  'ALTER TABLE `listener` DROP FOREIGN KEY `FK_fd1c6dc1bd7cd1c3c3a539d1cf2`',
  'ALTER TABLE `backend` DROP FOREIGN KEY `FK_56b9483c48aca4a65a9a8879aaf`',
  'ALTER TABLE `backend` DROP FOREIGN KEY `FK_aec240ae50dce1bff9031a519c5`',
  'ALTER TABLE `backend` DROP FOREIGN KEY `FK_0858eac095bff29d37b3eb26544`',
  'ALTER TABLE `balancer` DROP FOREIGN KEY `FK_8fab7e334846169c01748d3f05f`',
  'ALTER TABLE `balancer` DROP FOREIGN KEY `FK_229ceee67bed244699878a24569`',
  'ALTER TABLE `balancer` DROP FOREIGN KEY `FK_a8c1534f0242659ece4a02731f7`',
  'ALTER TABLE `expectation` MODIFY `to` varchar(200) NOT NULL',
  'ALTER TABLE `service` DROP COLUMN `kept`',
  'ALTER TABLE `workload` DROP COLUMN `kept`',
  'ALTER TABLE `workload` DROP COLUMN `form`',
  'ALTER TABLE `workload` DROP COLUMN `concurrency`',
  'ALTER TABLE `workload` DROP COLUMN `serviceMs`',
  'ALTER TABLE `workload` DROP COLUMN `memoryLimit`',
  'ALTER TABLE `workload` DROP COLUMN `cpuLimit`',
  'ALTER TABLE `expectation` DROP COLUMN `answer`',
  'ALTER TABLE `filter` DROP COLUMN `balancerIds`',
  'ALTER TABLE `cluster` DROP COLUMN `namespaceLabels`',
  'ALTER TABLE `profile` DROP COLUMN `balancerPlacement`',
  'ALTER TABLE `profile` DROP COLUMN `listenersPerBalancer`',
  'DROP TABLE `network_policy`',
  'DROP TABLE `ingress_route`',
  'DROP TABLE `gateway`',
  'DROP TABLE `controller`',
  'DROP TABLE `listener`',
  'DROP TABLE `backend`',
  'DROP TABLE `balancer`',
];

/** Lists that older rows had no value for; new rows always bring their own. */
const lists = [
  ['profile', 'balancerPlacement'],
  ['cluster', 'namespaceLabels'],
  ['filter', 'balancerIds'],
] as const;

/** The usual values of what older rows do not have. */
const values = {
  profile: { listenersPerBalancer: 50 },
  workload: { concurrency: 1, form: 'Deployment' },
} as const;

/** Load balancers, listeners, backends, controllers, gateways, routes to services and network policies. */
export class Ingress1795650000000 implements MigrationInterface {
  name = 'Ingress1795650000000';

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
