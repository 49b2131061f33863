import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Machine shapes, address blocks, subnets, attachments, address runs, and the wider provider profile. */
export class GroundInFull1795456449808 implements MigrationInterface {
  name = 'GroundInFull1795456449808';

  public async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      `CREATE TABLE \`attachment\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`linkId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`networkId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`advertises\` json NOT NULL, \`learns\` varchar(10) NOT NULL, \`learnsFromIds\` json NOT NULL, UNIQUE INDEX \`IDX_c9fcb483966bb4a5623e3e2f14\` (\`planId\`, \`linkId\`, \`networkId\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`block\` (\`prefix\` varchar(49) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`family\` tinyint NOT NULL, \`firstAddress\` varbinary(16) NOT NULL, \`lastAddress\` varbinary(16) NOT NULL, \`prefixLength\` tinyint UNSIGNED NOT NULL, \`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`networkId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`note\` varchar(500) NOT NULL, INDEX \`IDX_298890dcb2f66f8ee858812d66\` (\`planId\`, \`family\`, \`firstAddress\`, \`prefixLength\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`run\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`clusterId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`first\` varchar(45) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`count\` int NOT NULL, \`note\` varchar(500) NOT NULL, UNIQUE INDEX \`IDX_87ef7e1ad21f670532233a08de\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`shape\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`profileId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`vcpus\` int NOT NULL, \`memoryGib\` int NOT NULL, \`interfaces\` int NOT NULL, \`slotsPerInterface\` int NOT NULL, \`podCap\` int NOT NULL, \`price\` decimal(12,2) NOT NULL, UNIQUE INDEX \`IDX_2498ab07fd2018e0cd6ca00c9f\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`subnet\` (\`prefix\` varchar(49) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`family\` tinyint NOT NULL, \`firstAddress\` varbinary(16) NOT NULL, \`lastAddress\` varbinary(16) NOT NULL, \`prefixLength\` tinyint UNSIGNED NOT NULL, \`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`networkId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`siteId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`zone\` varchar(20) COLLATE "utf8mb4_bin" NOT NULL, \`purpose\` varchar(10) NOT NULL, \`delegatedTo\` varchar(60) NOT NULL, \`isPublic\` tinyint NOT NULL, \`wayOut\` varchar(10) NOT NULL, \`routeTable\` varchar(60) NOT NULL, INDEX \`IDX_a8c267bb219cef651aee299d87\` (\`planId\`, \`family\`, \`firstAddress\`, \`prefixLength\`), UNIQUE INDEX \`IDX_ef77ecea0b70d64e1d53a68ad9\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`smallestSubnet\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`largestSubnet\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`smallestBlock\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`largestBlock\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`blocksPerNetwork\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`clustersPerSite\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`nodesPerCluster\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`peeringsPerNetwork\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`leastSurge\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`nativeRule\` varchar(10) NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`site\` ADD \`latitude\` decimal(12,4) NULL`);
    await queryRunner.query(`ALTER TABLE \`site\` ADD \`longitude\` decimal(12,4) NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`hasEntrySubnets\` tinyint NOT NULL`);
    await queryRunner.query(
      `ALTER TABLE \`attachment\` ADD CONSTRAINT \`FK_c768b8c0e2d9ab65d4419a44d2e\` FOREIGN KEY (\`planId\`, \`networkId\`) REFERENCES \`network\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`attachment\` ADD CONSTRAINT \`FK_dd39da04d8275befcb9cdde2864\` FOREIGN KEY (\`planId\`, \`linkId\`) REFERENCES \`link\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`attachment\` ADD CONSTRAINT \`FK_7a7a00d2fa2c251d3b74bc17136\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`block\` ADD CONSTRAINT \`FK_6db23a4cec8eb7aafec00ba01b8\` FOREIGN KEY (\`planId\`, \`networkId\`) REFERENCES \`network\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`block\` ADD CONSTRAINT \`FK_3d8a38e0fedcd17f04d251ccfd9\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`run\` ADD CONSTRAINT \`FK_6b738f78e916b0336efa83e7eef\` FOREIGN KEY (\`planId\`, \`clusterId\`) REFERENCES \`cluster\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`run\` ADD CONSTRAINT \`FK_7b87211562b04d5c432dab4ef8b\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`shape\` ADD CONSTRAINT \`FK_6b64991760ce13f11d6904183a5\` FOREIGN KEY (\`planId\`, \`profileId\`) REFERENCES \`profile\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`shape\` ADD CONSTRAINT \`FK_985f1fd1d7abf424f7c9a729548\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`subnet\` ADD CONSTRAINT \`FK_80a581f12289773b828bb496457\` FOREIGN KEY (\`planId\`, \`siteId\`) REFERENCES \`site\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`subnet\` ADD CONSTRAINT \`FK_133c7a09abc2015438021e95b52\` FOREIGN KEY (\`planId\`, \`networkId\`) REFERENCES \`network\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`subnet\` ADD CONSTRAINT \`FK_7d5a51118c2972909a18163f0f0\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
  }

  public async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE \`subnet\` DROP FOREIGN KEY \`FK_7d5a51118c2972909a18163f0f0\``);
    await queryRunner.query(`ALTER TABLE \`subnet\` DROP FOREIGN KEY \`FK_133c7a09abc2015438021e95b52\``);
    await queryRunner.query(`ALTER TABLE \`subnet\` DROP FOREIGN KEY \`FK_80a581f12289773b828bb496457\``);
    await queryRunner.query(`ALTER TABLE \`shape\` DROP FOREIGN KEY \`FK_985f1fd1d7abf424f7c9a729548\``);
    await queryRunner.query(`ALTER TABLE \`shape\` DROP FOREIGN KEY \`FK_6b64991760ce13f11d6904183a5\``);
    await queryRunner.query(`ALTER TABLE \`run\` DROP FOREIGN KEY \`FK_7b87211562b04d5c432dab4ef8b\``);
    await queryRunner.query(`ALTER TABLE \`run\` DROP FOREIGN KEY \`FK_6b738f78e916b0336efa83e7eef\``);
    await queryRunner.query(`ALTER TABLE \`block\` DROP FOREIGN KEY \`FK_3d8a38e0fedcd17f04d251ccfd9\``);
    await queryRunner.query(`ALTER TABLE \`block\` DROP FOREIGN KEY \`FK_6db23a4cec8eb7aafec00ba01b8\``);
    await queryRunner.query(`ALTER TABLE \`attachment\` DROP FOREIGN KEY \`FK_7a7a00d2fa2c251d3b74bc17136\``);
    await queryRunner.query(`ALTER TABLE \`attachment\` DROP FOREIGN KEY \`FK_dd39da04d8275befcb9cdde2864\``);
    await queryRunner.query(`ALTER TABLE \`attachment\` DROP FOREIGN KEY \`FK_c768b8c0e2d9ab65d4419a44d2e\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`hasEntrySubnets\``);
    await queryRunner.query(`ALTER TABLE \`site\` DROP COLUMN \`longitude\``);
    await queryRunner.query(`ALTER TABLE \`site\` DROP COLUMN \`latitude\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`nativeRule\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`leastSurge\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`peeringsPerNetwork\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`nodesPerCluster\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`clustersPerSite\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`blocksPerNetwork\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`largestBlock\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`smallestBlock\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`largestSubnet\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`smallestSubnet\``);
    await queryRunner.query(`DROP INDEX \`IDX_ef77ecea0b70d64e1d53a68ad9\` ON \`subnet\``);
    await queryRunner.query(`DROP INDEX \`IDX_a8c267bb219cef651aee299d87\` ON \`subnet\``);
    await queryRunner.query(`DROP TABLE \`subnet\``);
    await queryRunner.query(`DROP INDEX \`IDX_2498ab07fd2018e0cd6ca00c9f\` ON \`shape\``);
    await queryRunner.query(`DROP TABLE \`shape\``);
    await queryRunner.query(`DROP INDEX \`IDX_87ef7e1ad21f670532233a08de\` ON \`run\``);
    await queryRunner.query(`DROP TABLE \`run\``);
    await queryRunner.query(`DROP INDEX \`IDX_298890dcb2f66f8ee858812d66\` ON \`block\``);
    await queryRunner.query(`DROP TABLE \`block\``);
    await queryRunner.query(`DROP INDEX \`IDX_c9fcb483966bb4a5623e3e2f14\` ON \`attachment\``);
    await queryRunner.query(`DROP TABLE \`attachment\``);
  }
}
