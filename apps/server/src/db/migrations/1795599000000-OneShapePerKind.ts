import type { MigrationInterface, QueryRunner } from 'typeorm';

const choices: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  profile: { subnetScope: 10, nativeRule: 10 },
  subnet: { purpose: 10, wayOut: 10 },
  link: { kind: 10, encapsulation: 16 },
  attachment: { learns: 10 },
  cluster: {
    podMode: 10,
    encapsulation: 16,
    encryption: 16,
    family: 10,
    controlPlane: 10,
    apiEndpoint: 10,
    growth: 10,
  },
  node_pool: { kind: 10 },
  allocation: { purpose: 10 },
};

/** Every choice has one width, and the networks of a link are kept in its row, as all other lists are. */
export class OneShapePerKind1795599000000 implements MigrationInterface {
  name = 'OneShapePerKind1795599000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await widen(queryRunner, () => 20);
    await queryRunner.query('ALTER TABLE `link` ADD COLUMN IF NOT EXISTS `networkIds` json NULL');
    if (await queryRunner.hasTable('link_member')) {
      // Long lists must come whole.
      await queryRunner.query('SET SESSION group_concat_max_len = 1048576');
      await queryRunner.query(
        "UPDATE `link` SET `networkIds` = (SELECT CONCAT('[', COALESCE(GROUP_CONCAT(JSON_QUOTE(m.`networkId`) ORDER BY m.`position`), ''), ']') FROM `link_member` m WHERE m.`planId` = `link`.`planId` AND m.`linkId` = `link`.`id`)",
      );
    }
    await queryRunner.query('ALTER TABLE `link` MODIFY `networkIds` json NOT NULL');
    await queryRunner.query('DROP TABLE IF EXISTS `link_member`');
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      'CREATE TABLE `link_member` (`planId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `linkId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `networkId` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, `position` int NOT NULL, PRIMARY KEY (`planId`, `linkId`, `networkId`), CONSTRAINT `link_member_position` CHECK (`position` >= 0), FOREIGN KEY (`planId`, `linkId`) REFERENCES `link`(`planId`,`id`) ON DELETE CASCADE, FOREIGN KEY (`planId`, `networkId`) REFERENCES `network`(`planId`,`id`)) ENGINE=InnoDB',
    );
    await queryRunner.query(
      "INSERT INTO `link_member` SELECT l.`planId`, l.`id`, m.`networkId`, m.`position` - 1 FROM `link` l, JSON_TABLE(l.`networkIds`, '$[*]' COLUMNS (`position` FOR ORDINALITY, `networkId` char(36) PATH '$')) m",
    );
    await queryRunner.query('ALTER TABLE `link` DROP COLUMN `networkIds`');
    await widen(queryRunner, (before) => before);
  }
}

async function widen(queryRunner: QueryRunner, widthOf: (before: number) => number): Promise<void> {
  for (const [table, columns] of Object.entries(choices)) {
    const parts = Object.entries(columns).map(
      ([column, before]) => `MODIFY \`${column}\` varchar(${widthOf(before)}) NOT NULL`,
    );
    await queryRunner.query(`ALTER TABLE \`${table}\` ${parts.join(', ')}`);
  }
}
