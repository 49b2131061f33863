import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Every table, key and index of the first version. */
export class Initial1795445711594 implements MigrationInterface {
  name = 'Initial1795445711594';

  public async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      `CREATE TABLE \`plan\` (\`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`note\` varchar(500) NOT NULL, \`horizonMonths\` int NOT NULL, \`expectsJoins\` tinyint NOT NULL, \`revision\` int NOT NULL, \`createdAt\` datetime(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), \`changedAt\` datetime(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), PRIMARY KEY (\`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`network\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`note\` varchar(500) NOT NULL, UNIQUE INDEX \`IDX_766b00b7afff97e4996806c2f8\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`profile\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`reservedFirst\` int NOT NULL, \`reservedLast\` int NOT NULL, \`subnetScope\` varchar(10) NOT NULL, \`routesPerTable\` int NOT NULL, UNIQUE INDEX \`IDX_0c422bedafa16a8d5bc9d97a27\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`site\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`kind\` varchar(20) NOT NULL, \`profileId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`zones\` json NOT NULL, UNIQUE INDEX \`IDX_abf862d694d22180134711f671\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`cluster\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`siteId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`networkId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`podMode\` varchar(10) NOT NULL, \`family\` varchar(10) NOT NULL, \`nodesNow\` int NOT NULL, \`nodesHorizon\` int NOT NULL, \`podsPerNode\` int NOT NULL, \`services\` int NOT NULL, \`surgePercent\` int NOT NULL, \`entryAddresses\` int NOT NULL, \`perNodeLength\` int NULL, \`isBuilt\` tinyint NOT NULL, UNIQUE INDEX \`IDX_ce1a5c38d795f098649c139090\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`allocation\` (\`prefix\` varchar(49) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`family\` tinyint NOT NULL, \`firstAddress\` varbinary(16) NOT NULL, \`lastAddress\` varbinary(16) NOT NULL, \`prefixLength\` tinyint UNSIGNED NOT NULL, \`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`clusterId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`purpose\` varchar(10) NOT NULL, \`zone\` varchar(20) COLLATE "utf8mb4_bin" NOT NULL, \`isFixed\` tinyint NOT NULL, INDEX \`IDX_c13ba332c88caf381a6c220bda\` (\`planId\`, \`family\`, \`firstAddress\`, \`prefixLength\`), UNIQUE INDEX \`IDX_64f25d8eb3c07b498f3ddd22d3\` (\`planId\`, \`clusterId\`, \`purpose\`, \`zone\`, \`family\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`plan_change\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`revision\` int NOT NULL, \`label\` varchar(120) NOT NULL, \`author\` varchar(80) NOT NULL, \`clientId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`reverts\` int NULL, \`baseRevision\` int NOT NULL, \`operationCount\` int NOT NULL, \`operations\` json NOT NULL, \`inverse\` json NOT NULL, \`createdAt\` datetime(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), PRIMARY KEY (\`planId\`, \`revision\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`in_use\` (\`prefix\` varchar(49) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`family\` tinyint NOT NULL, \`firstAddress\` varbinary(16) NOT NULL, \`lastAddress\` varbinary(16) NOT NULL, \`prefixLength\` tinyint UNSIGNED NOT NULL, \`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`owner\` varchar(120) NOT NULL, \`networkId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, \`note\` varchar(500) NOT NULL, INDEX \`IDX_78dfb09e0af1798037943074f9\` (\`planId\`, \`family\`, \`firstAddress\`, \`prefixLength\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`link\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`kind\` varchar(10) NOT NULL, \`isPlanned\` tinyint NOT NULL, UNIQUE INDEX \`IDX_396d66af46ab4c237074b8c070\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`link_member\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`linkId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`networkId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`position\` int NOT NULL, PRIMARY KEY (\`planId\`, \`linkId\`, \`networkId\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`pool\` (\`prefix\` varchar(49) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`family\` tinyint NOT NULL, \`firstAddress\` varbinary(16) NOT NULL, \`lastAddress\` varbinary(16) NOT NULL, \`prefixLength\` tinyint UNSIGNED NOT NULL, \`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`purposes\` json NOT NULL, \`siteId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, \`isShared\` tinyint NOT NULL, INDEX \`IDX_d18ece33329e21f10177103e42\` (\`planId\`, \`family\`, \`firstAddress\`, \`prefixLength\`), UNIQUE INDEX \`IDX_b448f39593b9eba23a87f6c146\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `ALTER TABLE \`network\` ADD CONSTRAINT \`FK_dc623b3be61a7b9d70e554e378c\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`profile\` ADD CONSTRAINT \`FK_462c0e003611faa57383625fd78\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`site\` ADD CONSTRAINT \`FK_dfe9a2fa973fb18c7816dbb8e55\` FOREIGN KEY (\`planId\`, \`profileId\`) REFERENCES \`profile\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`site\` ADD CONSTRAINT \`FK_a1b4f0625fc4541f03d2a032ee9\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`cluster\` ADD CONSTRAINT \`FK_3608282fb3ebbdcb5144827bbba\` FOREIGN KEY (\`planId\`, \`networkId\`) REFERENCES \`network\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`cluster\` ADD CONSTRAINT \`FK_5117be495a976f4386b4f354f13\` FOREIGN KEY (\`planId\`, \`siteId\`) REFERENCES \`site\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`cluster\` ADD CONSTRAINT \`FK_f194c7e60a5269500bc815efa46\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`allocation\` ADD CONSTRAINT \`FK_bee51185873a398bc0d4f157603\` FOREIGN KEY (\`planId\`, \`clusterId\`) REFERENCES \`cluster\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`allocation\` ADD CONSTRAINT \`FK_984f756fa19b5f0e925dfc4c0ce\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`plan_change\` ADD CONSTRAINT \`FK_a90bd29108a419579c23a611b08\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`in_use\` ADD CONSTRAINT \`FK_5a4fc29a1683356122d72ac391f\` FOREIGN KEY (\`planId\`, \`networkId\`) REFERENCES \`network\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`in_use\` ADD CONSTRAINT \`FK_f11e97914506b406bcc84e316d6\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`link\` ADD CONSTRAINT \`FK_9c04d3a21fff37daa38366752a9\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`link_member\` ADD CONSTRAINT \`FK_e3c89a3ea925ee9465e2f5b245c\` FOREIGN KEY (\`planId\`, \`networkId\`) REFERENCES \`network\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`link_member\` ADD CONSTRAINT \`FK_10e2bf253a9f7e00f80cbd3b054\` FOREIGN KEY (\`planId\`, \`linkId\`) REFERENCES \`link\`(\`planId\`,\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`pool\` ADD CONSTRAINT \`FK_dbf797a7fb43d4127f92ad731fd\` FOREIGN KEY (\`planId\`, \`siteId\`) REFERENCES \`site\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`pool\` ADD CONSTRAINT \`FK_aba53716ac203d5063a51942eed\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
  }

  public async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE \`pool\` DROP FOREIGN KEY \`FK_aba53716ac203d5063a51942eed\``);
    await queryRunner.query(`ALTER TABLE \`pool\` DROP FOREIGN KEY \`FK_dbf797a7fb43d4127f92ad731fd\``);
    await queryRunner.query(`ALTER TABLE \`link_member\` DROP FOREIGN KEY \`FK_10e2bf253a9f7e00f80cbd3b054\``);
    await queryRunner.query(`ALTER TABLE \`link_member\` DROP FOREIGN KEY \`FK_e3c89a3ea925ee9465e2f5b245c\``);
    await queryRunner.query(`ALTER TABLE \`link\` DROP FOREIGN KEY \`FK_9c04d3a21fff37daa38366752a9\``);
    await queryRunner.query(`ALTER TABLE \`in_use\` DROP FOREIGN KEY \`FK_f11e97914506b406bcc84e316d6\``);
    await queryRunner.query(`ALTER TABLE \`in_use\` DROP FOREIGN KEY \`FK_5a4fc29a1683356122d72ac391f\``);
    await queryRunner.query(`ALTER TABLE \`plan_change\` DROP FOREIGN KEY \`FK_a90bd29108a419579c23a611b08\``);
    await queryRunner.query(`ALTER TABLE \`allocation\` DROP FOREIGN KEY \`FK_984f756fa19b5f0e925dfc4c0ce\``);
    await queryRunner.query(`ALTER TABLE \`allocation\` DROP FOREIGN KEY \`FK_bee51185873a398bc0d4f157603\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP FOREIGN KEY \`FK_f194c7e60a5269500bc815efa46\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP FOREIGN KEY \`FK_5117be495a976f4386b4f354f13\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP FOREIGN KEY \`FK_3608282fb3ebbdcb5144827bbba\``);
    await queryRunner.query(`ALTER TABLE \`site\` DROP FOREIGN KEY \`FK_a1b4f0625fc4541f03d2a032ee9\``);
    await queryRunner.query(`ALTER TABLE \`site\` DROP FOREIGN KEY \`FK_dfe9a2fa973fb18c7816dbb8e55\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP FOREIGN KEY \`FK_462c0e003611faa57383625fd78\``);
    await queryRunner.query(`ALTER TABLE \`network\` DROP FOREIGN KEY \`FK_dc623b3be61a7b9d70e554e378c\``);
    await queryRunner.query(`DROP INDEX \`IDX_b448f39593b9eba23a87f6c146\` ON \`pool\``);
    await queryRunner.query(`DROP INDEX \`IDX_d18ece33329e21f10177103e42\` ON \`pool\``);
    await queryRunner.query(`DROP TABLE \`pool\``);
    await queryRunner.query(`DROP TABLE \`link_member\``);
    await queryRunner.query(`DROP INDEX \`IDX_396d66af46ab4c237074b8c070\` ON \`link\``);
    await queryRunner.query(`DROP TABLE \`link\``);
    await queryRunner.query(`DROP INDEX \`IDX_78dfb09e0af1798037943074f9\` ON \`in_use\``);
    await queryRunner.query(`DROP TABLE \`in_use\``);
    await queryRunner.query(`DROP TABLE \`plan_change\``);
    await queryRunner.query(`DROP INDEX \`IDX_64f25d8eb3c07b498f3ddd22d3\` ON \`allocation\``);
    await queryRunner.query(`DROP INDEX \`IDX_c13ba332c88caf381a6c220bda\` ON \`allocation\``);
    await queryRunner.query(`DROP TABLE \`allocation\``);
    await queryRunner.query(`DROP INDEX \`IDX_ce1a5c38d795f098649c139090\` ON \`cluster\``);
    await queryRunner.query(`DROP TABLE \`cluster\``);
    await queryRunner.query(`DROP INDEX \`IDX_abf862d694d22180134711f671\` ON \`site\``);
    await queryRunner.query(`DROP TABLE \`site\``);
    await queryRunner.query(`DROP INDEX \`IDX_0c422bedafa16a8d5bc9d97a27\` ON \`profile\``);
    await queryRunner.query(`DROP TABLE \`profile\``);
    await queryRunner.query(`DROP INDEX \`IDX_766b00b7afff97e4996806c2f8\` ON \`network\``);
    await queryRunner.query(`DROP TABLE \`network\``);
    await queryRunner.query(`DROP TABLE \`plan\``);
  }
}
