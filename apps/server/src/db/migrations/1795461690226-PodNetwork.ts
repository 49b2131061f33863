import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

// The usual values of the day; what they are in the core may change later, this migration may not.
const values = {
  plan: { weightAddresses: 5, weightReach: 5, weightWire: 3, weightRoutes: 3, weightEffort: 4 },
  network: { mtu: 1500 },
  link: { mtu: 1500, encapsulation: 'none' },
  cluster: { encapsulation: 'vxlan', mtuFloor: 0 },
};

/** What pod networks are compared by: packet sizes, what wraps packets, shapes and requirements of clusters, weights. */
export class PodNetwork1795461690226 implements MigrationInterface {
  name = 'PodNetwork1795461690226';

  public async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE \`plan\` ADD \`weightAddresses\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`plan\` ADD \`weightReach\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`plan\` ADD \`weightWire\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`plan\` ADD \`weightRoutes\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`plan\` ADD \`weightEffort\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`network\` ADD \`mtu\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`encapsulation\` varchar(16) NOT NULL`);
    await queryRunner.query(
      `ALTER TABLE \`cluster\` ADD \`shapeId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL`,
    );
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`podNeeds\` json NOT NULL DEFAULT '[]'`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`mtuFloor\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`link\` ADD \`mtu\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`link\` ADD \`encapsulation\` varchar(16) NOT NULL`);
    await queryRunner.query(
      `ALTER TABLE \`cluster\` ADD CONSTRAINT \`FK_36f7ea0df640af7f43d051a2312\` FOREIGN KEY (\`planId\`, \`shapeId\`) REFERENCES \`shape\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    // A list that older rows had no value for; new rows always bring their own.
    await queryRunner.query(`ALTER TABLE \`cluster\` ALTER COLUMN \`podNeeds\` DROP DEFAULT`);
    for (const [table, fields] of Object.entries(values)) {
      const columns = Object.keys(fields).map((field) => `\`${field}\` = ?`);
      await queryRunner.query(`UPDATE \`${table}\` SET ${columns.join(', ')}`, Object.values(fields));
    }
    await completeHistory(queryRunner);
  }

  public async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP FOREIGN KEY \`FK_36f7ea0df640af7f43d051a2312\``);
    await queryRunner.query(`ALTER TABLE \`link\` DROP COLUMN \`encapsulation\``);
    await queryRunner.query(`ALTER TABLE \`link\` DROP COLUMN \`mtu\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`mtuFloor\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`podNeeds\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`shapeId\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`encapsulation\``);
    await queryRunner.query(`ALTER TABLE \`network\` DROP COLUMN \`mtu\``);
    await queryRunner.query(`ALTER TABLE \`plan\` DROP COLUMN \`weightEffort\``);
    await queryRunner.query(`ALTER TABLE \`plan\` DROP COLUMN \`weightRoutes\``);
    await queryRunner.query(`ALTER TABLE \`plan\` DROP COLUMN \`weightWire\``);
    await queryRunner.query(`ALTER TABLE \`plan\` DROP COLUMN \`weightReach\``);
    await queryRunner.query(`ALTER TABLE \`plan\` DROP COLUMN \`weightAddresses\``);
  }
}
